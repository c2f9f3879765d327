import type { JobView } from '@taraf/contract'
import { checks, nextCheck, stationMark, stations, type StationMark } from '@taraf/core'
import { Link } from 'expo-router'
import { View } from '@tamagui/core'
import { memo, useRef } from 'react'
import { View as Box, ScrollView, type LayoutChangeEvent } from 'react-native'
import { StandingShape, standingWord } from './StandingMark'
import { Reading, Row, Words } from './type'

/** The route of a job card on two floors: above the stations, each with its mark; below the checks of the one where one is. */
export const RouteLine = memo(function RouteLine({ job, at }: { job: JobView; at: string | null }) {
  const station = at === 'handover' ? 'handover' : at === null ? null : checks.find((check) => check.id === at)?.station
  const stops = stationsOf(job)
  // Where the names of all would not fit, the floor below says the one where one is.
  const named = stops.length <= mostNamed
  return (
    <View role="navigation" aria-label="Route" data-print="no" backgroundColor="$paper" borderBottomWidth={1} borderColor="$line">
      <ScrollView horizontal showsHorizontalScrollIndicator={false} contentContainerStyle={{ flexGrow: 1 }}>
        <Row gap={0} flex={1} alignItems="stretch" $wide={{ paddingHorizontal: '$4' }}>
          <Stop href={`/jobs/${job.id}`} name="Job card" here={at === null} wide>
            <Words kind={at === null ? 'strong' : 'small'} color={at === null ? '$tide' : '$faint'}>
              Card
            </Words>
          </Stop>
          {stops.map(({ id, number, title, href, mark }) => (
            <Stop
              key={id}
              href={href}
              name={`Station ${number}, ${title}${mark === null ? '' : `: ${standingWord(mark.state)}, ${mark.stands} of ${mark.of} stand`}`}
              here={station === id}
            >
              <Reading size="small" color={station === id ? '$tide' : '$faint'}>
                {number}
              </Reading>
              {mark !== null && <StandingShape state={mark.state} size={16} />}
              <View display="none" $wide={{ display: 'flex' }}>
                <Words kind="small">
                  {[...(named || mark === null ? [title] : []), ...(mark === null ? [] : [`${mark.stands}/${mark.of}`])].join(
                    ' ',
                  )}
                </Words>
              </View>
            </Stop>
          ))}
        </Row>
      </ScrollView>
      {station !== null && station !== undefined && station !== 'handover' && (
        <ChecksOf job={job} station={station} at={at} named={named} />
      )}
    </View>
  )
})

const mostNamed = 7

/** The stations that have anything to do, with where a tap leads: to the next check of it, or to its first. */
const stationsOf = (job: JobView) =>
  stations.flatMap((station): { id: string; number: number; title: string; href: string; mark: StationMark | null }[] => {
    if (station.id === 'handover') return [{ ...station, href: `/jobs/${job.id}/handover`, mark: null }]
    const own = checks.filter((check) => check.station === station.id)
    const mark = stationMark(own, job.standings)
    const first = nextCheck(own, job.standings) ?? own.find((check) => job.standings[check.id]?.state !== 'absent') ?? own[0]
    return first === undefined ? [] : [{ ...station, href: `/jobs/${job.id}/${first.id}`, mark }]
  })

interface ChecksOfProps {
  readonly job: JobView
  readonly station: string
  readonly at: string | null
  /** Whether the floor above says the names of the stations on a wide screen. */
  readonly named: boolean
}

const ChecksOf = ({ job, station, at, named }: ChecksOfProps) => {
  const line = useRef<ScrollView>(null)
  const seen = useRef<string | null>(null)
  // The check that one stands at is brought into sight, once.
  const reach = (x: number) => {
    if (seen.current === at) return
    seen.current = at
    line.current?.scrollTo({ x: Math.max(0, x - 60), animated: false })
  }
  const title = stations.find((one) => one.id === station)?.title ?? ''
  return (
    <Row gap={0} borderTopWidth={1} borderColor="$line">
      <View paddingLeft="$4" paddingRight="$2" {...(named ? { $wide: { display: 'none' as const } } : {})}>
        <Words kind="small">{title}</Words>
      </View>
      <ScrollView ref={line} horizontal showsHorizontalScrollIndicator={false} contentContainerStyle={{ paddingHorizontal: 12 }}>
        <Row gap="$4">
          {checks
            .filter((check) => check.station === station)
            .map((check) => {
              const here = check.id === at
              const state = job.standings[check.id]?.state ?? 'open'
              return (
                <Box key={check.id} onLayout={(event: LayoutChangeEvent) => here && reach(event.nativeEvent.layout.x)}>
                  <Link
                    href={`/jobs/${job.id}/${check.id}` as never}
                    aria-current={here ? 'step' : undefined}
                    aria-label={`${check.title}: ${standingWord(state)}`}
                  >
                    <Row minHeight={48} gap="$1" borderBottomWidth={3} borderColor={here ? '$tide' : 'transparent'}>
                      <StandingShape state={state} size={16} />
                      <Words kind={here ? 'strong' : 'faint'}>{check.title}</Words>
                    </Row>
                  </Link>
                </Box>
              )
            })}
        </Row>
      </ScrollView>
    </Row>
  )
}

interface StopProps {
  readonly href: string
  readonly name: string
  readonly here: boolean
  readonly wide?: boolean
  readonly children: React.ReactNode
}

/** One stop of the track: as wide as its share of the line, and never lower than a finger. */
const Stop = ({ href, name, here, wide = false, children }: StopProps) => (
  <View flex={wide ? 1.2 : 1} minWidth={wide ? 30 : 24} $wide={{ flex: wide ? 1.6 : 1 }}>
    <Link href={href as never} aria-current={here ? 'step' : undefined} aria-label={name}>
      <View
        width="100%"
        minHeight={48}
        alignItems="center"
        justifyContent="center"
        gap={2}
        borderBottomWidth={3}
        borderBottomColor={here ? '$tide' : 'transparent'}
        borderRightWidth={1}
        borderRightColor="$line"
        $wide={{ flexDirection: 'row', gap: 8 }}
      >
        {children}
      </View>
    </Link>
  </View>
)
