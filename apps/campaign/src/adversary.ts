import { planOf, type Check } from '@taraf/core'
import type { Want, SheetPart } from '@taraf/contract'
import type { Meddler } from '@taraf/demo'
import { randomFrom, stepS } from '@taraf/rig'
import { disturbances, keptOtherwise, type Disturbance } from './disturbances'

/** One disturbance that happened, and whether the bench noticed: its take did not pass, or the card says what changed. */
export interface DisturbedNote {
  readonly id: string
  readonly noticed: boolean
}

/** Takes of one airframe lie within this many; a disturbance is due from some take on, and happens in the first that it fits. */
const within = 24
const written = 'a write kept otherwise'
const cut = 'an image cut off'

/** Draws what goes wrong with one airframe, and makes it happen while its technician works. */
export class Adversary {
  readonly notes: DisturbedNote[] = []
  private readonly random
  private readonly pending: { readonly id: string; readonly from: number }[]
  private due: { id: string; happened: boolean } | null = null

  constructor(seed: number, most: number) {
    // Apart from what the airframe itself is drawn by, so that the same airframe can be had undisturbed.
    this.random = randomFrom(seed ^ 0x5bd1e995)
    const ids = [...disturbances.map((d) => d.id), cut]
    this.pending = Array.from({ length: most === 0 ? 0 : this.random.below(most + 1) }, () => ({
      id: ids[this.random.below(ids.length)] ?? cut,
      from: this.random.below(within),
    }))
  }

  /** What goes wrong in the next take, or nothing. */
  forTake(check: Check, sheet: SheetPart, taken: number): Meddler {
    this.due = null
    for (const [i, { id, from }] of this.pending.entries()) {
      if (from > taken) continue
      const kind = disturbances.find((d) => d.id === id)
      const meddler = kind === undefined ? null : this.meddlerOf(kind, check, sheet)
      if (meddler === null) continue
      const due = { id, happened: false }
      this.due = due
      return watched(meddler, () => {
        if (!due.happened) this.pending.splice(i, 1)
        due.happened = true
      })
    }
    return {}
  }

  /** What goes wrong as settings are written outside a take, or nothing. */
  forWrite(taken: number): Meddler {
    const i = this.pending.findIndex(({ id, from }) => id === written && from <= taken)
    if (i < 0) return {}
    return watched(keptOtherwise(), () => {
      this.pending.splice(i, 1)
      this.notes.push({ id: written, noticed: true })
    })
  }

  /** Whether the image that is about to be written is cut off. */
  cutsImage(taken: number): boolean {
    const i = this.pending.findIndex(({ id, from }) => id === cut && from <= taken)
    if (i < 0) return false
    this.pending.splice(i, 1)
    this.notes.push({ id: cut, noticed: true })
    return true
  }

  /** The take has ended. Returns whether it was disturbed. */
  took(noticed: boolean): boolean {
    const { due } = this
    this.due = null
    if (due?.happened !== true) return false
    this.notes.push({ id: due.id, noticed })
    return true
  }

  private meddlerOf(kind: Disturbance, check: Check, sheet: SheetPart): Meddler | null {
    const proof: readonly Want[] =
      check.proof === undefined ? [] : [{ kind: 'write', label: 'write', ask: 'Write it.', settings: {} }, check.proof]
    const fitting = [...planOf(check, sheet), ...proof].filter(kind.at)
    const want = fitting[this.random.below(fitting.length)]
    if (want === undefined) return null
    const seconds = want.kind === 'capture' ? (want.leastSeconds ?? want.seconds) : 'seconds' in want ? want.seconds : 0
    const row = 1 + this.random.below(Math.max(1, Math.floor((0.95 * seconds) / stepS)))
    return kind.meddle({ want, row, random: this.random })
  }
}

/** The same meddler, which tells once it has done something. */
const watched = (meddler: Meddler, happened: () => void): Meddler => {
  const { handled, row, reports, ask, said, after } = meddler
  return {
    ...(after === undefined ? {} : { after }),
    ...(handled === undefined
      ? {}
      : {
          handled: (want, asked) => {
            const other = handled(want, asked)
            if (JSON.stringify(other) !== JSON.stringify(asked)) happened()
            return other
          },
        }),
    ...(row === undefined ? {} : { row: (rig, want, at) => row(rig, want, at, happened) }),
    ...(reports === undefined ? {} : { reports: (rig, want) => reports(rig, want, happened) }),
    ...(said === undefined ? {} : { said: (rig, want, so) => said(rig, want, so, happened) }),
    ...(ask === undefined
      ? {}
      : {
          ask: (body) => {
            const other = ask(body)
            if (other !== body) happened()
            return other
          },
        }),
  }
}
