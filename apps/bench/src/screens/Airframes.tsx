import type { AirframeRow, AirframeSort, Overall } from '@taraf/contract'
import { useRouter } from 'expo-router'
import { lazy, memo, Suspense, useRef, useState, type ReactNode } from 'react'
import { ScrollView, type TextInput } from 'react-native'
import { useMedia, View } from '@tamagui/core'
import { Act } from '../parts/Act'
import { Field } from '../parts/Field'
import { LongList } from '../parts/LongList'
import { Loading, Notice, ProblemNotice } from '../parts/Notice'
import { ScanTag } from '../parts/ScanTag'
import { Screen } from '../parts/Screen'
import { OverallMark, overallWord } from '../parts/StandingMark'
import { Column, Reading, Row, Words } from '../parts/type'
import { useKeys } from '../parts/useKeys'
import { problemOf } from '../store/api'
import { useAirframeWindow } from './useAirframeWindow'
import type { Sorting } from './tables'

/** What draws tables is fetched where there is one. */
const AirframeTable = lazy(async () => ({ default: (await import('./tables')).AirframeTable }))

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
  const [sorting, setSorting] = useState<Sorting>([{ id: 'tag', desc: false }])
  const { id: sort, desc: down } = (sorting[0] ?? { id: 'tag', desc: false }) as { id: AirframeSort; desc: boolean }
  const field = useRef<TextInput>(null)
  useKeys({ '/': () => field.current?.focus() })
  const { total, rowAt, see, error, refetch } = useAirframeWindow({ search, standing, sort, down })
  const { wide } = useMedia()
  const chooseSort = (next: AirframeSort) => setSorting([{ id: next, desc: next === sort && !down }])
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
        <View flex={1} minHeight={0}>
          {wide ? (
            <Suspense fallback={<Loading what="the airframes" />}>
              <AirframeTable
                total={total}
                rowAt={rowAt}
                see={see}
                sorting={sorting}
                sort={setSorting}
                line={(row, cells) => (
                  <AirframeLine row={row} wide>
                    {cells}
                  </AirframeLine>
                )}
                rowHeight={heights.wide}
              />
            </Suspense>
          ) : (
            <LongList
              label="Airframes"
              count={total}
              rowHeight={heights.phone}
              see={see}
              row={(index) => <PhoneLine row={rowAt(index)} />}
            />
          )}
        </View>
      )}
    </Screen>
  )
}

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

interface AirframeLineProps {
  readonly row: AirframeRow | null
  readonly wide: boolean
  readonly children: ReactNode
}

const AirframeLine = ({ row, wide, children }: AirframeLineProps) => {
  const router = useRouter()
  const pressed = useRef<string | undefined>(undefined)
  const open = () => row !== null && router.push({ pathname: '/airframes/[tag]', params: { tag: row.tag } })
  return (
    <View
      role={wide ? 'row' : 'listitem'}
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
      {row === null ? <Words kind="faint">…</Words> : children}
    </View>
  )
}

/** Drawn again only when its airframe changes: a list draws all rows in sight at each step of its scrolling. */
const PhoneLine = memo(({ row }: { row: AirframeRow | null }) => (
  <AirframeLine row={row} wide={false}>
    {row !== null && <PhoneCells row={row} />}
  </AirframeLine>
))
PhoneLine.displayName = 'PhoneLine'

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
