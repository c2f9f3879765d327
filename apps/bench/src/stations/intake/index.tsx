import { limitFor, questionsOf, checkById } from '@taraf/core'
import { Plan } from '../../parts/Plan'
import type { Panel, ResultProps } from '../panel'
import { newest, streamLive } from '../sensors/StreamLive'
import { MeterTrace } from './MeterTrace'
import { fixed } from '../../parts/fixed'

const flat = () => false

/** A list: its questions are all there is to show. */
const list: Panel = { turned: flat }

/** The plan with whatever was found wrong marked on it: what a list found is read, the plan shows where. */
const ByEyeResult = ({ job, take }: ResultProps) => {
  const wrong = take.body.findings.filter((f) => f.verdict === 'fail').map((f) => f.key)
  const check = checkById(take.body.check)
  const booms =
    (check === undefined ? null : questionsOf(check, job.sheet))?.flatMap((q) => (wrong.includes(q.id) ? (q.booms ?? []) : [])) ??
    []
  return booms.length === 0 ? null : <Plan geometry={job.sheet.geometry} size={180} marked={booms} note="Where it was found" />
}

const firstPower: Panel = {
  Live: streamLive('meter', [
    { label: 'A in the battery’s lead now', value: (rows) => fixed(newest(rows, 1), 2) },
    { label: 'V at the plug', value: (rows) => newest(rows, 0).toFixed(2) },
    { label: 'V at the board’s rail', value: (rows) => newest(rows, 2).toFixed(2) },
  ]),
  Result: ({ job, take }) => (
    <MeterTrace job={job.id} seq={take.seq} column="amps" unit="A" most={limitFor(job.sheet, 'firstPower.amps').max} />
  ),
  turned: flat,
}

const rails: Panel = {
  Live: streamLive('meter', [{ label: 'V at the board’s rail now', value: (rows) => newest(rows, 2).toFixed(3) }]),
  Result: ({ job, take }) => (
    <MeterTrace job={job.id} seq={take.seq} column="rail" unit="V" most={limitFor(job.sheet, 'rails.volts').max} />
  ),
  turned: flat,
}

export const intake: Readonly<Record<string, Panel>> = {
  'intake.identity': list,
  'intake.forWhom': list,
  'intake.incoming': list,
  'intake.byEye': { ...list, Result: ByEyeResult },
  'intake.pastBoard': list,
  'intake.firstPower': firstPower,
  'intake.rails': rails,
}
