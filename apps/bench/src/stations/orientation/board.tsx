import type { Finding } from '@taraf/contract'
import { mountings, type Angles } from '@taraf/core'
import { MountingFigure } from '../../parts/MountingFigure'
import { Column, Words } from '../../parts/type'
import { poseLive } from '../PoseLive'
import type { Panel, ResultProps } from '../panel'

const isAngles = (value: unknown): value is Angles =>
  typeof value === 'object' && value !== null && ['roll', 'pitch', 'yaw'].every((k) => typeof Reflect.get(value, k) === 'number')

/** The mounting that was found, and the one that is told where that is another. */
export const mountingOf = (findings: readonly Finding[]): { found: Angles; told?: Angles } | null => {
  const finding = findings.find((f) => f.key === 'mounting')
  if (!isAngles(finding?.value)) return null
  const told = finding.limit?.equals
  return { found: finding.value, ...(isAngles(told) ? { told } : {}) }
}

const nameOf = ({ roll, pitch, yaw }: Angles): string | undefined =>
  mountings.find(({ angles: a }) => a.roll === roll && a.pitch === pitch && a.yaw === yaw)?.words

const Result = ({ take }: ResultProps) => {
  const mounting = mountingOf(take.body.findings)
  if (mounting === null) return null
  const { found, told } = mounting
  return (
    <Column gap="$0">
      <MountingFigure found={found} {...(told === undefined ? {} : { told })} />
      <Words kind="strong">The board lies {nameOf(found) ?? 'as drawn'}.</Words>
      {told !== undefined && nameOf(told) !== nameOf(found) && (
        <Words kind="small">In outline: as it is told to lie, {nameOf(told) ?? 'in no way that boards are mounted'}.</Words>
      )}
    </Column>
  )
}

export const board: Panel = {
  Live: poseLive('orientation.board'),
  Result,
  turned: () => false,
}
