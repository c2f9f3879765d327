import type { JobView } from '@taraf/contract'
import { checks, stations } from '@taraf/core'
import { Link } from 'expo-router'
import { View } from '@tamagui/core'
import { useRef } from 'react'
import { View as Box, ScrollView, type LayoutChangeEvent } from 'react-native'
import { StandingShape } from './StandingMark'
import { Row, Words } from './type'

interface Stop {
  readonly href: string
  readonly number: number
  readonly title: string
  readonly state: JobView['standings'][string]['state'] | null
  readonly here: boolean
  readonly reach?: (x: number) => void
}

/** The stations and their checks as a numbered route, sideways, as on a job card. */
export const RouteLine = ({ job, at }: { job: JobView; at: string | null }) => {
  const line = useRef<ScrollView>(null)
  const seen = useRef<string | null>(null)
  // The stop that one stands at is brought into sight, once.
  const reach = (x: number) => {
    if (seen.current === at) return
    seen.current = at
    line.current?.scrollTo({ x: Math.max(0, x - 40), animated: false })
  }
  return (
    <View role="navigation" aria-label="Route" data-print="no" backgroundColor="$paper" borderBottomWidth={1} borderColor="$line">
      <ScrollView ref={line} horizontal showsHorizontalScrollIndicator={false} contentContainerStyle={{ paddingHorizontal: 16 }}>
        <Row gap="$5">
          <Stop href={`/jobs/${job.id}`} number={0} title="Job card" state={null} here={at === null} />
          {stopsOf(job, at).map((stop) => (
            <Stop key={stop.href} {...stop} reach={reach} />
          ))}
        </Row>
      </ScrollView>
    </View>
  )
}

const stopsOf = (job: JobView, at: string | null): Stop[] =>
  stations.flatMap((station): Stop[] => {
    const inStation = checks.filter((check) => check.station === station.id)
    if (station.id === 'handover')
      return [
        { href: `/jobs/${job.id}/handover`, number: station.number, title: station.title, state: null, here: at === 'handover' },
      ]
    return inStation.map((check) => ({
      href: `/jobs/${job.id}/${check.id}`,
      number: station.number,
      title: check.title,
      state: job.standings[check.id]?.state ?? ('open' as const),
      here: at === check.id,
    }))
  })

const Stop = ({ href, number, title, state, here, reach }: Stop) => (
  <Box onLayout={(event: LayoutChangeEvent) => here && reach?.(event.nativeEvent.layout.x)}>
    <Link href={href as never} aria-current={here ? 'step' : undefined}>
      <Row minHeight={48} gap="$1" borderBottomWidth={3} borderColor={here ? '$tide' : 'transparent'}>
        {number > 0 && <Words kind="small">{number}</Words>}
        {state !== null && <StandingShape state={state} size={16} />}
        <Words kind={here ? 'strong' : 'faint'}>{title}</Words>
      </Row>
    </Link>
  </Box>
)
