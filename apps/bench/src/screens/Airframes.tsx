import type { AirframeRow, AirframeSort, Overall } from '@taraf/contract'
import { useRouter } from 'expo-router'
import { useCallback, useMemo, useRef, useState, type ReactNode } from 'react'
import { FlatList, ScrollView, type TextInput, type ViewToken } from 'react-native'
import { useMedia, View } from '@tamagui/core'
import { checkById } from '@taraf/core'
import { Act } from '../parts/Act'
import { timeWords } from '../parts/dates'
import { Field } from '../parts/Field'
import { Loading, Notice, ProblemNotice } from '../parts/Notice'
import { ScanTag } from '../parts/ScanTag'
import { Screen } from '../parts/Screen'
import { OverallMark, OverallShape, overallWord, StandingShape, standingWord } from '../parts/StandingMark'
import { Column, Reading, Row, Words } from '../parts/type'
import { useKeys } from '../parts/useKeys'
import { problemOf } from '../store/api'
import { useAirframeWindow } from './useAirframeWindow'

/** Of a row: two lines on a phone, one on a wide screen. */
const heights = { phone: 72, wide: 46 } as const
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
  const { wide } = useMedia()
  const rowHeight = wide ? heights.wide : heights.phone
  const renderItem = useCallback(({ index }: { index: number }) => <AirframeLine row={rowAt(index)} wide={wide} />, [rowAt, wide])
  const chooseSort = (next: AirframeSort) => (next === sort ? setDown(!down) : (setSort(next), setDown(false)))
  return (
    <Screen scrolls={false}>
      <Column paddingHorizontal="$4" paddingVertical="$2" gap="$1">
        <Row>
          <Words kind="title" flex={1}>
            Airframes
          </Words>
          <Reading size="small" color="$faint" aria-live="polite">
            {total === null ? '' : `${total} found`}
          </Reading>
          <Act label="Register" named="Register airframes" onPress={() => router.push('/register')} />
        </Row>
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
        {!wide && (
          <Choice
            label="Sort by"
            choices={sortOrder.map((s) => [s, `${sorts[s]}${s === sort ? (down ? ' ↓' : ' ↑') : ''}`])}
            chosen={sort}
            choose={(s) => chooseSort(s as AirframeSort)}
          />
        )}
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
        <>
          {wide && <Heads sort={sort} down={down} choose={chooseSort} />}
          <FlatList
            key={wide ? 'wide' : 'phone'}
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
        </>
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

/** The columns of the wide table, each as wide as what stands in it needs. */
const columns: readonly {
  readonly head: string
  readonly sort?: AirframeSort
  readonly width?: number
  readonly flex?: number
}[] = [
  { head: 'tag', sort: 'tag', width: 104 },
  { head: 'type', sort: 'type', flex: 1.2 },
  { head: 'sheet', width: 76 },
  { head: 'board', width: 92 },
  { head: 'standing', sort: 'standing', flex: 1 },
  { head: 'route', width: 120 },
  { head: 'open items', width: 88 },
  { head: 'next', flex: 1 },
  { head: 'last touched', sort: 'touched', width: 150 },
]

const Heads = ({ sort, down, choose }: { sort: AirframeSort; down: boolean; choose: (sort: AirframeSort) => void }) => (
  <Row role="row" gap="$3" paddingHorizontal="$4" minHeight={44} borderBottomWidth={1} borderColor="$mark">
    {columns.map(({ head, sort: by, width, flex }) => (
      <View key={head} role="columnheader" {...(width === undefined ? { flex } : { width })} minWidth={0} alignItems="flex-start">
        {by === undefined ? (
          <Words kind="small">{head}</Words>
        ) : (
          <View marginLeft={-8}>
            <Act
              kind="quiet"
              label={`${head}${by === sort ? (down ? ' ↓' : ' ↑') : ''}`}
              selected={by === sort}
              onPress={() => choose(by)}
            />
          </View>
        )}
      </View>
    ))}
  </Row>
)

const AirframeLine = ({ row, wide }: { row: AirframeRow | null; wide: boolean }) => {
  const router = useRouter()
  const pressed = useRef<string | undefined>(undefined)
  const open = () => row !== null && router.push({ pathname: '/airframes/[tag]', params: { tag: row.tag } })
  return (
    <View
      role="listitem"
      height={wide ? heights.wide : heights.phone}
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
      {row === null ? <Words kind="faint">…</Words> : wide ? <WideCells row={row} /> : <PhoneCells row={row} />}
    </View>
  )
}

const PhoneCells = ({ row }: { row: AirframeRow }) => (
  <>
    <Column gap="$0" flex={1} minWidth={0}>
      <Reading size="large" fontFamily="ReadingsBold">
        {row.tag}
      </Reading>
      <Words kind="small" numberOfLines={1}>
        {row.parked !== null && `parked: ${row.parked}; `}
        {row.title}, board {row.board}
      </Words>
    </Column>
    <OverallMark overall={row.overall} />
  </>
)

const WideCells = ({ row }: { row: AirframeRow }) => {
  const cells: readonly ReactNode[] = [
    <Reading fontFamily="ReadingsBold">{row.tag}</Reading>,
    <Words numberOfLines={1}>{row.title}</Words>,
    <Words>
      {row.type} v{row.version}
    </Words>,
    <Reading>{row.board}</Reading>,
    <Row gap="$1">
      <OverallShape overall={row.overall} />
      <Words numberOfLines={1} flexShrink={1}>
        {row.bench !== null ? `on ${row.bench}` : row.parked !== null ? `parked: ${row.parked}` : overallWord(row.overall)}
      </Words>
    </Row>,
    <Row gap={2} role="img" aria-label={`stations: ${row.route.map(standingWord).join(', ')}`}>
      {row.route.map((state, i) => (
        <StandingShape key={i} state={state} size={14} />
      ))}
    </Row>,
    <Reading>{row.openItems === 0 ? '' : row.openItems}</Reading>,
    <Words numberOfLines={1}>{row.next === null ? '' : (checkById(row.next)?.title ?? row.next)}</Words>,
    <Words kind="small" numberOfLines={1}>
      {timeWords(row.touchedAt)}
      {row.touchedBy !== null && `, ${row.touchedBy.split(' ')[0]}`}
    </Words>,
  ]
  return columns.map(({ head, width, flex }, i) => (
    <View key={head} {...(width === undefined ? { flex } : { width })} minWidth={0}>
      {cells[i]}
    </View>
  ))
}
