import { correctionIn, directionPatches, magOf } from '@taraf/core'
import { deviations } from '@taraf/core/ellipsoid'
import type { Evidence, Finding } from '@taraf/contract'
import { useMemo } from 'react'
import { View } from '@tamagui/core'
import { Loading, ProblemNotice } from '../../parts/Notice'
import { Column, Words } from '../../parts/type'
import { problemOf } from '../../store/api'
import { useEvidenceQuery } from '../../store/jobs'
import type { ResultProps } from '../panel'
import { DeviationMap } from './DeviationMap'

/** How far the field strays by direction: with what the board had before the take, and with what was fitted. */
export const CompassResult = ({ job, take }: ResultProps) => {
  const kept = take.body.evidenceSha256 !== null
  const { data, error } = useEvidenceQuery({ job: job.id, seq: take.seq, stream: 'mag' }, { skip: !kept })
  const maps = useMemo(() => (data === undefined ? null : mapsOf(data, take.body.findings)), [data, take.body.findings])
  if (!kept || take.body.verdict === 'refused') return null
  if (error !== undefined) return <ProblemNotice problem={problemOf(error)} />
  if (data === undefined) return <Loading what="the map" />
  if (maps === null) return null
  return (
    <Column gap="$2">
      <View flexDirection="row" flexWrap="wrap" gap="$3">
        <Labelled words="As the board had it">
          <DeviationMap deviations={maps.before} />
        </Labelled>
        <Labelled words="With this fit">
          <DeviationMap deviations={maps.after} />
        </Labelled>
      </View>
      <Words kind="small">
        The larger a mark, the further the field strays there: full where it is too strong, hollow where it is too weak. The
        largest mark stands for 20 % or more.
      </Words>
    </Column>
  )
}

const Labelled = ({ words, children }: { words: string; children: React.ReactNode }) => (
  <Column gap="$0" flex={1} minWidth={240}>
    <Words kind="small">{words}</Words>
    {children}
  </Column>
)

/** Null where the take has no fit. */
export const mapsOf = (
  evidence: Evidence,
  findings: readonly Finding[],
): { before: Float64Array; after: Float64Array } | null => {
  const mag = magOf(evidence, 'turn')
  const value = (key: string) => findings.find((f) => f.key === key)?.value
  const [hardIron, softIron, strength] = [value('hardIron'), value('softIron'), value('fieldStrength')]
  if (mag === null || !Array.isArray(hardIron) || !Array.isArray(softIron) || typeof strength !== 'number') return null
  const of = (correction: object) => deviations(mag.mx, mag.my, mag.mz, { ...correction, strength } as never)
  const maps = { before: of(correctionIn(evidence.board.settings)), after: of({ hardIron, softIron }) }
  return maps.after.length === directionPatches.length ? maps : null
}
