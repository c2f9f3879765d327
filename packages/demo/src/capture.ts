import {
  senseColumns,
  type HandAct,
  type HandsState,
  type ImuStage,
  type Observation,
  type Segment,
  type AskBody,
  type ReportName,
  type Reports,
} from '@taraf/contract'
import { askReports, type Check } from '@taraf/core'
import { actOn, stepS, type Rig } from '@taraf/rig'

const settleS = 2.5
type Wanted = Check['capture']['segments'][number]
/** Steps between the rows of a stream, as a board sends them. */
const everySteps = { mag: 4, baro: 8, fix: 40, power: 10, meter: 10 } as const
/** Steps between two renewals of a spin permit, and what the motors take to run up. */
const keepEvery = 10
const runUpSteps = 300
/** Steps until somebody begins what is done during a capture, and between two questions whether it is enough. */
const duringAt = 200
const askEverySteps = 1000

/** Roll and pitch that turn an edge of a board at an eighth down, where a pose names a side of the airframe. */
const edges: Readonly<Record<string, readonly [number, number]>> = {
  'nose-up': [-90, 45],
  'nose-down': [90, -45],
  'left-down': [-90, -45],
  'right-down': [90, 45],
}

/** Nobody plugs a battery in with props on. */
const batteryIn: readonly HandAct[] = [
  { act: 'props', on: false },
  { act: 'nuts', on: false },
  { act: 'battery', source: 'pack' },
]

/** What a person does with the airframe for a segment: before it is captured, and a second into it. */
export const handled = (wanted: Wanted, byEdges = false): { before: HandAct[]; during?: HandAct } => {
  const { label, hold, atOnce, during, spin } = wanted
  if (spin !== undefined) return { before: [] }

  const edge = byEdges ? edges[label] : undefined
  if (edge !== undefined) return { before: [{ act: 'tilt', rollDeg: edge[0], pitchDeg: edge[1], yawDeg: 0 }] }
  if (hold !== undefined) return { before: [{ act: 'tilt', rollDeg: hold.rollDeg, pitchDeg: hold.pitchDeg, yawDeg: 0 }] }
  if (label === 'power')
    return {
      before: [
        { act: 'lay', way: 'forward' },
        { act: 'battery', source: 'none' },
        { act: 'props', on: false },
        { act: 'nuts', on: false },
        { act: 'limiter', in: true },
      ],
      during: { act: 'battery', source: 'pack' },
    }
  if (label === 'warm')
    return {
      before: [{ act: 'lay', way: 'forward' }, { act: 'battery', source: 'none' }, { act: 'limiter', in: false }, ...batteryIn],
    }
  if (atOnce === true) return { before: [], ...(during === undefined ? {} : { during: { act: 'turn all ways' } }) }
  switch (label) {
    case 'second':
      return { before: [{ act: 'lay', way: 'reversed' }] }
    case 'turn':
      return { before: [{ act: 'lay', way: 'forward' }], during: { act: 'turn all ways' } }
    case 'asked':
      return {
        before: [
          { act: 'lay', way: 'forward' },
          { act: 'transmitter', on: wanted.asks?.includes('sockets') === true },
        ],
      }
    case 'still':
      return { before: [{ act: 'lay', way: 'forward' }, ...batteryIn] }
    case 'nose-right':
      return { before: [{ act: 'lay', way: 'forward' }], during: { act: 'tilt', rollDeg: 0, pitchDeg: 0, yawDeg: 90 } }
    case 'sky':
      return {
        before: [
          { act: 'lay', way: 'forward' },
          { act: 'sky', open: true },
        ],
      }
    default:
      return { before: [{ act: 'lay', way: 'forward' }] }
  }
}

/** What a person at the bench sees and enters: the side that points up at a tilt, and where the antenna sits. */
export const markOf = ({ label, hold, mark, place }: Wanted, antenna: HandsState['antenna']): Observation[] =>
  place === true && antenna !== null
    ? [{ segment: label, antenna }]
    : mark !== true || hold === undefined
      ? []
      : [{ segment: label, up: hold.pitchDeg > 0 ? 'front' : hold.pitchDeg < 0 ? 'rear' : hold.rollDeg > 0 ? 'left' : 'right' }]

export interface CaptureOptions {
  /** Holds a board by its own edges where a pose names a side. */
  readonly byEdges?: boolean
  /** Whether the check can decide by what there is, where the segment may end early. */
  readonly decided?: (soFar: Segment) => boolean
  /** Answers what the board is asked, as its link does. */
  readonly ask?: (ask: AskBody) => unknown
}

/** Captures a segment from a rig as a server does from its link: handled as it wants, and after it has come to rest. */
export const captureFrom = (
  rig: Rig,
  stage: ImuStage,
  wanted: Wanted,
  { byEdges = false, decided = () => true, ask }: CaptureOptions = {},
): Segment => {
  const { label, seconds, leastSeconds = seconds, streams = [], until, spin } = wanted
  const { before, during } = handled(wanted, byEdges)
  for (const act of before) {
    const wrong = actOn(rig, act)
    if (wrong !== null) throw new Error(`${act.act}: ${wrong}`)
  }
  if (wanted.asks !== undefined && seconds === 0) {
    rig.skip(settleS)
    return { label, streams: {}, reports: reportsOf(rig, wanted.asks, ask) }
  }
  const keep = spin === undefined ? null : turning(rig, spin)
  if (keep === null && label !== 'warm') rig.skip(settleS)
  else if (keep === null) rig.skip(0.1)
  else
    for (let i = 0; i < runUpSteps; i++) {
      keep(i)
      rig.step(stage)
    }
  const most = Math.round(seconds / stepS) + 1
  let askAt = Math.round(leastSeconds / stepS) + 1
  const track = new Track(stage, askAt)
  const others = new Map(streams.map((name) => [name, { t: [] as number[], rows: [] as number[][] }]))
  const soFar = (): Segment => ({ label, streams: { ...track.streams(), ...streamsOf(others) } })
  for (let rows = 1; rows <= most; rows++) {
    if (rows === duringAt && during !== undefined) actOn(rig, during)
    keep?.(rows)
    const sample = rig.step(stage)
    track.push(sample)
    let found = false
    for (const [name, pending] of others) {
      if (rows % everySteps[name] !== 0) continue
      const row = rig.readings(name)
      if (row === null) continue
      pending.t.push(sample.t)
      pending.rows.push(row)
      found ||= name === until && row[0] === 1
    }
    if (found) break
    if (rows < askAt || askAt >= most) continue
    askAt += Math.min(askEverySteps, Math.round(leastSeconds / stepS))
    if (decided(soFar())) break
  }
  if (spin !== undefined) {
    rig.board.stop('let go')
    while (rig.turning) rig.step(stage)
  }
  if (spin !== undefined || streams.includes('meter')) actOn(rig, { act: 'battery', source: 'none' })
  return soFar()
}

/** Steps through what is asked of the board, with the rig's own time for what is waited. */
const reportsOf = (rig: Rig, names: readonly ReportName[], ask: CaptureOptions['ask']): Reports => {
  if (ask === undefined) throw new Error('this check asks the board, and nobody answers')
  const steps = askReports(names)
  let answer: unknown
  for (;;) {
    const step = steps.next(answer as never)
    if (step.done === true) return step.value
    if ('waitS' in step.value) for (let i = 0; i < step.value.waitS / stepS; i++) rig.step('body')
    else answer = ask(step.value)
  }
}

type Column = Float32Array<ArrayBuffer>
/** In the order of `senseColumns`. */
type Columns = [Column, Column, Column, Column, Column, Column, Column, Column, Column]

/** The rows of the sense stream in columns that grow. */
class Track {
  private rows = 0
  private t: Float64Array<ArrayBuffer>
  private columns: Columns

  constructor(
    private readonly stage: ImuStage,
    room: number,
  ) {
    this.t = new Float64Array(room)
    this.columns = senseColumns.map(() => new Float32Array(room)) as Columns
  }

  push({ t, force, rate, attitude }: ReturnType<Rig['step']>): void {
    const at = this.rows
    if (at === this.t.length) this.grow()
    this.t[at] = t
    const c = this.columns
    c[0][at] = force[0]
    c[1][at] = force[1]
    c[2][at] = force[2]
    c[3][at] = rate[0]
    c[4][at] = rate[1]
    c[5][at] = rate[2]
    c[6][at] = attitude.roll
    c[7][at] = attitude.pitch
    c[8][at] = attitude.yaw
    this.rows = at + 1
  }

  streams(): Pick<Segment['streams'], 'imu' | 'attitude'> {
    const t = this.t.slice(0, this.rows)
    const [ax, ay, az, gx, gy, gz, roll, pitch, yaw] = this.columns.map((column) => column.slice(0, this.rows)) as Columns
    return { imu: { stage: this.stage, t, ax, ay, az, gx, gy, gz }, attitude: { t, roll, pitch, yaw } }
  }

  private grow(): void {
    const room = 2 * this.t.length
    const t = new Float64Array(room)
    t.set(this.t)
    this.t = t
    this.columns = this.columns.map((before) => {
      const column = new Float32Array(room)
      column.set(before)
      return column
    }) as Columns
  }
}

/** Turns every output under a spin permit; what it returns renews it. */
const turning = (rig: Rig, share: number): ((step: number) => void) => {
  const permit = rig.board.grant('spin', 'off', rig.state().powerId, rig.power)
  if (!('token' in permit)) throw new Error(`the board gives no permit: ${permit.refused}`)
  const outputs = rig.airframe.drives.flatMap((drive, i) => (drive === null ? [] : [i + 1]))
  const values = Object.fromEntries(outputs.map((output) => [output, share]))
  return (step) => void (step % keepEvery === 0 && rig.board.turn(permit.token, values))
}

type Stream = keyof typeof everySteps
const streamsOf = (others: ReadonlyMap<Stream, { t: number[]; rows: number[][] }>): Partial<Segment['streams']> => {
  const columnsOf = (name: Stream) => {
    const found = others.get(name)
    return found === undefined || found.rows.length === 0
      ? null
      : { t: Float64Array.from(found.t), column: (i: number) => Float32Array.from(found.rows, (row) => row[i] ?? 0) }
  }
  const [mag, baro, fix, power, meter] = [
    columnsOf('mag'),
    columnsOf('baro'),
    columnsOf('fix'),
    columnsOf('power'),
    columnsOf('meter'),
  ]
  return {
    ...(mag === null ? {} : { mag: { t: mag.t, mx: mag.column(0), my: mag.column(1), mz: mag.column(2) } }),
    ...(baro === null ? {} : { baro: { t: baro.t, height: baro.column(0) } }),
    ...(fix === null ? {} : { fix: { t: fix.t, fixed: fix.column(0), satellites: fix.column(1), dilution: fix.column(2) } }),
    ...(power === null ? {} : { power: { t: power.t, volts: power.column(0), amps: power.column(1), mah: power.column(2) } }),
    ...(meter === null ? {} : { meter: { t: meter.t, volts: meter.column(0), amps: meter.column(1), rail: meter.column(2) } }),
  }
}
