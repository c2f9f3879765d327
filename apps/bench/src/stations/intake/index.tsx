import { limitFor, questionsOf, checkById } from '@taraf/core'
import { Plan } from '../../parts/Plan'
import type { Panel, ResultProps } from '../panel'
import { newest, streamLive } from '../sensors/StreamLive'
import { MeterTrace } from './MeterTrace'
import { fixed } from '../../parts/fixed'

const flat = () => false

/** A list's words are those of its questions. */
const list = (id: string): Panel => ({
  words: { tag: 'Tag on the frame' },
  wordsOf: ({ sheet }) => {
    const check = checkById(id)
    return Object.fromEntries((check === undefined ? null : questionsOf(check, sheet))?.map((q) => [q.id, q.words]) ?? [])
  },
  turned: flat,
})

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
  words: {
    short: 'Held up behind the limiter',
    amps: 'Current at rest, highest second',
    rail: 'The board’s rail, worst second',
    swing: 'Swing of the rail, worst second',
    peak: 'Most while it came on',
  },
  turned: flat,
}

const rails: Panel = {
  Live: streamLive('meter', [{ label: 'V at the board’s rail now', value: (rows) => newest(rows, 2).toFixed(3) }]),
  Result: ({ job, take }) => (
    <MeterTrace job={job.id} seq={take.seq} column="rail" unit="V" most={limitFor(job.sheet, 'rails.volts').max} />
  ),
  words: {
    cold: 'Rail, cold',
    lowest: 'Rail, lowest second',
    highest: 'Rail, highest second',
    swing: 'Swing, worst second',
    sag: 'Sag from cold to its lowest',
  },
  turned: flat,
}

export const intake: Readonly<Record<string, Panel>> = {
  'intake.identity': list('intake.identity'),
  'intake.forWhom': list('intake.forWhom'),
  'intake.incoming': list('intake.incoming'),
  'intake.byEye': { ...list('intake.byEye'), Result: ByEyeResult },
  'intake.pastBoard': list('intake.pastBoard'),
  'intake.firstPower': firstPower,
  'intake.rails': rails,
}
