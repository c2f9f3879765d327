import { senseColumns, streams, type ImuStage, type SenseTell, type BesideName, type StreamTell } from '@taraf/contract'
import { stepS, type Rig, type Sample } from '../rig'

const everySteps = (name: Exclude<BesideName, 'radio'>) => Math.round(1 / stepS / streams[name].rateHz)
const wholeRows = 4

interface Pending {
  seq: number
  t: number[]
  values: number[][]
  /** The newest row. */
  last: number[] | null
}

/** Gathers samples into blocks: the sense stream and the other streams that were asked for. */
export class Streams {
  private seq = 0
  private block: Sample[] = []
  private last: Sample | null = null
  private steps = 0
  private readonly others: ReadonlyMap<BesideName, Pending>

  constructor(
    readonly stage: ImuStage,
    private readonly rows: number,
    names: readonly BesideName[],
  ) {
    this.others = new Map(names.map((name) => [name, { seq: 0, t: [], values: [], last: null }]))
  }

  /** Forgets the samples of blocks that are not whole yet. */
  forget(): void {
    this.block = []
    for (const pending of this.others.values()) {
      pending.t = []
      pending.values = []
    }
  }

  /** Takes what the rig shows after a step, or what came before once more in its place; returns the blocks that became whole. */
  take(rig: Rig, sample: Sample, repeats = false): (SenseTell | StreamTell)[] {
    const whole: (SenseTell | StreamTell)[] = []
    const shown = repeats && this.last !== null ? { ...this.last, t: sample.t } : sample
    this.last = shown
    this.block.push(shown)
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
        const row = repeats && pending.last !== null ? pending.last : rig.readings(name)
        pending.last = row
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

/** Columns one behind the other, in the order of the table. */
const senseOf = (stage: ImuStage, seq: number, block: readonly Sample[]): SenseTell => {
  const rows = block.length
  const t = new Float64Array(rows)
  const values = new Float32Array(senseColumns.length * rows)
  for (let i = 0; i < rows; i++) {
    const { t: at, force, rate, attitude } = block[i] as Sample
    t[i] = at
    values[i] = force[0]
    values[rows + i] = force[1]
    values[2 * rows + i] = force[2]
    values[3 * rows + i] = rate[0]
    values[4 * rows + i] = rate[1]
    values[5 * rows + i] = rate[2]
    values[6 * rows + i] = attitude.roll
    values[7 * rows + i] = attitude.pitch
    values[8 * rows + i] = attitude.yaw
  }
  return { tell: 'sense', seq, stage, t, values }
}

const streamOf = (stream: BesideName, { seq, t, values: all }: Pending): StreamTell => {
  const columns = streams[stream].columns.length
  const rows = t.length
  const values = new Float32Array(columns * rows)
  for (let i = 0; i < rows; i++) {
    const row = all[i] as number[]
    for (let c = 0; c < columns; c++) values[c * rows + i] = row[c] ?? 0
  }
  return { tell: 'stream', stream, seq, t: Float64Array.from(t), values }
}
