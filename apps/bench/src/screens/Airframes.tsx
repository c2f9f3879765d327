import type { AirframeRow, AirframeSort, Overall } from '@taraf/contract'
import { useRouter } from 'expo-router'
import { useCallback, useMemo, useRef, useState } from 'react'
import { FlatList, ScrollView, type TextInput, type ViewToken } from 'react-native'
import { View } from '@tamagui/core'
import { Act } from '../parts/Act'
import { Field } from '../parts/Field'
import { Loading, Notice, ProblemNotice } from '../parts/Notice'
import { ScanTag } from '../parts/ScanTag'
import { Screen } from '../parts/Screen'
import { OverallMark, overallWord } from '../parts/StandingMark'
import { Column, Reading, Row, Words } from '../parts/type'
import { useKeys } from '../parts/useKeys'
import { problemOf } from '../store/api'
import { useAirframeWindow } from './useAirframeWindow'

const rowHeight = 72
const standings: readonly (Overall | undefined)[] = [undefined, 'open', 'fail', 'stale', 'ready', 'passed', 'failed', 'none']
const sorts: Readonly<Record<AirframeSort, string>> = { tag: 'tag', type: 'type', standing: 'standing', touched: 'last touched' }
const sortOrder: readonly AirframeSort[] = ['tag', 'type', 'standing', 'touched']

/** All airframes: search, filter by standing, sort. Only the rows that are seen are read and drawn. */
export const Airframes = () => {
  const router = useRouter()
  const [search, setSearch] = useState('')
  const [standing, setStanding] = useState<Overall | undefined>(undefined)
  const [sort, setSort] = useState<AirframeSort>('tag')
  const [down, setDown] = useState(false)
  const field = useRef<TextInput>(null)
  useKeys({ '/': () => field.current?.focus() })
  const { total, rowAt, see, error, refetch } = useAirframeWindow({ search, standing, sort, down })
  const rows = useMemo(() => indices(total ?? 0), [total])
  const seen = useCallback(
    ({ viewableItems }: { viewableItems: ViewToken[] }) => {
      const rows = viewableItems.map((item) => item.index ?? 0)
      if (rows.length > 0) see(Math.min(...rows), Math.max(...rows))
    },
    [see],
  )
  const renderItem = useCallback(({ index }: { index: number }) => <AirframeLine row={rowAt(index)} />, [rowAt])
  const chooseSort = (next: AirframeSort) => (next === sort ? setDown(!down) : (setSort(next), setDown(false)))
  return (
    <Screen scrolls={false}>
      <Column paddingHorizontal="$4" paddingVertical="$2" gap="$1">
        <Row alignItems="flex-end" flexWrap="wrap">
          <Words kind="title" flex={1}>
            Airframes
          </Words>
          <Reading size="small" color="$faint" aria-live="polite">
            {total === null ? '' : `${total} found`}
          </Reading>
        </Row>
        <ScrollView
          horizontal
          showsHorizontalScrollIndicator={false}
          role="navigation"
          aria-label="The shop"
          // The words stand under the title, whatever room a touch wants around them.
          style={{ flexGrow: 0, marginLeft: -8 }}
        >
          <Act kind="quiet" label="Sheets" named="Build sheets" onPress={() => router.push('/sheets')} />
          <Act kind="quiet" label="Register" onPress={() => router.push('/register')} />
          <Act kind="quiet" label="Batch notes" onPress={() => router.push('/batch-notes')} />
          <Act kind="quiet" label="Fault finder" onPress={() => router.push('/faults')} />
        </ScrollView>
        <Row alignItems="flex-end">
          <Field narrow ref={field} label="Search by tag, type or board" value={search} onChange={setSearch} />
          <ScanTag found={(tag) => router.push({ pathname: '/airframes/[tag]', params: { tag } })} />
        </Row>
        <Choice
          label="Standing"
          choices={standings.map((s) => [s ?? 'all', s === undefined ? 'all' : overallWord(s)])}
          chosen={standing ?? 'all'}
          choose={(s) => setStanding(s === 'all' ? undefined : (s as Overall))}
        />
        <Choice
          label="Sort by"
          choices={sortOrder.map((s) => [s, `${sorts[s]}${s === sort ? (down ? ' ↓' : ' ↑') : ''}`])}
          chosen={sort}
          choose={(s) => chooseSort(s as AirframeSort)}
        />
      </Column>
      {error !== null ? (
        <Column padding="$4">
          <ProblemNotice problem={problemOf(error)} act={{ label: 'Try again', onPress: refetch }} />
        </Column>
      ) : total === null ? (
        <Loading what="the airframes" />
      ) : total === 0 ? (
        <Column padding="$4">
          <Notice
            title="No airframe matches"
            todo="Change the search or the standing."
            act={{ label: 'Show all', onPress: () => (setSearch(''), setStanding(undefined)) }}
          />
        </Column>
      ) : (
        <FlatList
          role="list"
          aria-label="Airframes"
          data={rows}
          keyExtractor={(index) => String(index)}
          renderItem={renderItem}
          getItemLayout={(_data, index) => ({ length: rowHeight, offset: rowHeight * index, index })}
          onViewableItemsChanged={seen}
          initialNumToRender={14}
          windowSize={5}
          maxToRenderPerBatch={20}
        />
      )}
    </Screen>
  )
}

/** Rows are told by their number alone; what stands in one is looked up when it is drawn. */
const indices = (total: number): number[] => Array.from({ length: total }, (_, i) => i)

interface ChoiceProps {
  readonly label: string
  readonly choices: readonly (readonly [string, string])[]
  readonly chosen: string
  readonly choose: (value: string) => void
}

/** One of several, on one line that scrolls sideways where it is too long. */
const Choice = ({ label, choices, chosen, choose }: ChoiceProps) => (
  <Row role="group" aria-label={label} gap="$1">
    <Words kind="small" width={60}>
      {label}
    </Words>
    <ScrollView horizontal showsHorizontalScrollIndicator={false}>
      {choices.map(([value, word]) => (
        <Act key={value} kind="quiet" label={word} selected={value === chosen} onPress={() => choose(value)} />
      ))}
    </ScrollView>
  </Row>
)

const AirframeLine = ({ row }: { row: AirframeRow | null }) => {
  const router = useRouter()
  const pressed = useRef<string | undefined>(undefined)
  const open = () => row !== null && router.push({ pathname: '/airframes/[tag]', params: { tag: row.tag } })
  return (
    <View
      role="listitem"
      height={rowHeight}
      paddingHorizontal="$4"
      borderTopWidth={1}
      borderColor="$line"
      flexDirection="row"
      alignItems="center"
      gap="$3"
      cursor="pointer"
      hoverStyle={{ backgroundColor: '$sheet' }}
      focusVisibleStyle={{ backgroundColor: '$sheet', outlineWidth: 3, outlineStyle: 'solid', outlineColor: '$tide' }}
      tabIndex={0}
      onPressIn={() => (pressed.current = row?.tag)}
      // A search that ends while a finger is down puts another airframe under it: that one was not meant.
      onPress={() => pressed.current === row?.tag && open()}
      onKeyDown={(event: { key: string }) => event.key === 'Enter' && open()}
    >
      {row === null ? (
        <Words kind="faint">…</Words>
      ) : (
        <>
          <Column gap="$0" flex={1} minWidth={0}>
            <Reading size="large">{row.tag}</Reading>
            <Words kind="small" numberOfLines={1}>
              {row.parked !== null && `parked: ${row.parked}; `}
              {row.title}, board {row.board}
            </Words>
          </Column>
          <OverallMark overall={row.overall} />
        </>
      )}
    </View>
  )
}
