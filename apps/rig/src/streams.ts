import {
  senseColumns,
  streams,
  type ImuStage,
  type SenseColumn,
  type SenseTell,
  type BesideName,
  type StreamTell,
} from '@taraf/contract'
import { stepS, type Rig, type Sample } from '@taraf/rig'

const everySteps = (name: Exclude<BesideName, 'radio'>) => Math.round(1 / stepS / streams[name].rateHz)
const wholeRows = 4

/** Gathers samples into blocks: the sense stream and whatever other streams were asked for. */
export class Streams {
  private seq = 0
  private block: Sample[] = []
  private steps = 0
  private readonly others: ReadonlyMap<BesideName, { seq: number; t: number[]; values: number[][] }>

  constructor(
    readonly stage: ImuStage,
    private readonly rows: number,
    names: readonly BesideName[],
  ) {
    this.others = new Map(names.map((name) => [name, { seq: 0, t: [], values: [] }]))
  }

  /** Takes what the rig shows after a step; returns the blocks that became whole. */
  take(rig: Rig, sample: Sample): (SenseTell | StreamTell)[] {
    const whole: (SenseTell | StreamTell)[] = []
    this.block.push(sample)
    if (this.block.length >= this.rows) {
      whole.push(senseOf(this.stage, this.seq, this.block))
      this.seq += 1
      this.block = []
    }
    this.steps += 1
    for (const [name, pending] of this.others) {
      if (name === 'radio')
        for (const { t, channels, quality } of rig.frames) {
          pending.t.push(t)
          pending.values.push([...channels, quality])
        }
      else if (this.steps % everySteps(name) === 0) {
        const row = rig.readings(name)
        if (row !== null) {
          pending.t.push(sample.t)
          pending.values.push(row)
        }
      }
      if (pending.t.length < wholeRows) continue
      whole.push(streamOf(name, pending))
      pending.seq += 1
      pending.t = []
      pending.values = []
    }
    return whole
  }
}

const senseOf = (stage: ImuStage, seq: number, block: readonly Sample[]): SenseTell => {
  const columns: Record<SenseColumn, (s: Sample) => number> = {
    ax: (s) => s.force[0],
    ay: (s) => s.force[1],
    az: (s) => s.force[2],
    gx: (s) => s.rate[0],
    gy: (s) => s.rate[1],
    gz: (s) => s.rate[2],
    roll: (s) => s.attitude.roll,
    pitch: (s) => s.attitude.pitch,
    yaw: (s) => s.attitude.yaw,
  }
  const values = Float32Array.from(senseColumns.flatMap((name) => block.map(columns[name])))
  return { tell: 'sense', seq, stage, t: Float64Array.from(block, (s) => s.t), values }
}

const streamOf = (stream: BesideName, { seq, t, values }: { seq: number; t: number[]; values: number[][] }): StreamTell => ({
  tell: 'stream',
  stream,
  seq,
  t: Float64Array.from(t),
  values: Float32Array.from(streams[stream].columns.flatMap((_, column) => values.map((row) => row[column] ?? 0))),
})
