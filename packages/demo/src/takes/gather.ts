import { besideNames, isBeside, streams, type BesideName, type ImuStage, type Segment, type StreamName } from '@taraf/contract'
import { stepS, type Rig, type Sample } from '@taraf/rig'

type Column = Float32Array<ArrayBuffer>
const boardHz = 1 / stepS

/** The streams that a want asks for, gathered from a rig as it is stepped, and nothing else. */
export class Gather {
  private steps = 0
  private readonly sense: Sense | null
  private readonly attitude: boolean
  private readonly beside: ReadonlyMap<BesideName, { t: number[]; rows: (readonly number[])[] }>

  /** Begins now: frames that were received before are none of what is gathered. */
  constructor(
    rig: Rig,
    private readonly stage: ImuStage,
    private readonly names: readonly StreamName[],
    room: number,
  ) {
    rig.frames.length = 0
    this.attitude = names.includes('attitude')
    this.sense = names.includes('imu') || this.attitude ? new Sense(room) : null
    this.beside = new Map(names.filter(isBeside).map((name) => [name, { t: [], rows: [] }]))
  }

  /** Takes what the rig shows after a step; or loses it on its way, or takes what came before once more in its place. */
  take(rig: Rig, sample: Sample, fate: 'keep' | 'lose' | 'repeat' = 'keep'): void {
    this.steps += 1
    if (fate === 'repeat') this.repeat(sample.t)
    if (fate !== 'keep') {
      rig.frames.length = 0
      return
    }
    this.sense?.push(sample)
    for (const [name, pending] of this.beside)
      if (name === 'radio')
        for (const { t, channels, quality } of rig.frames) {
          pending.t.push(t)
          pending.rows.push([...channels, quality])
        }
      else if (this.steps % Math.round(boardHz / streams[name].rateHz) === 0) {
        const row = rig.readings(name)
        if (row === null) continue
        pending.t.push(sample.t)
        pending.rows.push(row)
      }
    rig.frames.length = 0
  }

  private repeat(t: number): void {
    this.sense?.repeat(t)
    for (const [name, pending] of this.beside) {
      const last = pending.rows[pending.rows.length - 1]
      const rateHz = streams[name].rateHz ?? 50
      if (last === undefined || this.steps % Math.round(boardHz / rateHz) !== 0) continue
      pending.t.push(t)
      pending.rows.push(last)
    }
  }

  /** The rows of a stream since a time, newest last. */
  rows(name: BesideName): { readonly t: readonly number[]; readonly rows: readonly (readonly number[])[] } {
    return this.beside.get(name) ?? { t: [], rows: [] }
  }

  streams(): Segment['streams'] {
    const found: Record<string, object> = {}
    if (this.sense !== null) {
      const { t, columns } = this.sense.whole()
      const named = (names: readonly string[], from: number) => Object.fromEntries(names.map((n, i) => [n, columns[from + i]]))
      if (this.names.includes('imu')) found.imu = { stage: this.stage, t, ...named(streams.imu.columns, 0) }
      if (this.attitude) found.attitude = { t, ...named(streams.attitude.columns, streams.imu.columns.length) }
    }
    for (const name of besideNames) {
      const pending = this.beside.get(name)
      if (pending === undefined || pending.rows.length === 0) continue
      const columns = streams[name].columns.map((column, i) => [column, Float32Array.from(pending.rows, (row) => row[i] ?? 0)])
      found[name] = { t: Float64Array.from(pending.t), ...Object.fromEntries(columns) }
    }
    return found
  }
}

/** The rows of the sense stream in columns that grow. */
class Sense {
  private rows = 0
  private t: Float64Array<ArrayBuffer>
  private columns: Column[]

  constructor(room: number) {
    this.t = new Float64Array(room)
    this.columns = Array.from({ length: 9 }, () => new Float32Array(room))
  }

  push({ t, force, rate, attitude }: Sample): void {
    const at = this.rows
    if (at === this.t.length) this.grow()
    this.t[at] = t
    const c = this.columns as [Column, Column, Column, Column, Column, Column, Column, Column, Column]
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

  /** The newest row once more, at another time. */
  repeat(t: number): void {
    const at = this.rows
    if (at === 0) return
    if (at === this.t.length) this.grow()
    this.t[at] = t
    for (const column of this.columns) column[at] = column[at - 1] as number
    this.rows = at + 1
  }

  whole(): { t: Float64Array<ArrayBuffer>; columns: Column[] } {
    return { t: this.t.slice(0, this.rows), columns: this.columns.map((column) => column.slice(0, this.rows)) }
  }

  private grow(): void {
    const grown = <T extends Float64Array<ArrayBuffer> | Column>(before: T, column: T): T => (column.set(before), column)
    const room = 2 * this.t.length
    this.t = grown(this.t, new Float64Array(room))
    this.columns = this.columns.map((before) => grown(before, new Float32Array(room)))
  }
}
