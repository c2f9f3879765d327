import type { HandAct, HandsState, Runs, Settings } from '@taraf/contract'
import { sha256 } from '@noble/hashes/sha2.js'
import { bytesToHex } from '@noble/hashes/utils.js'
import { planOf, writeImage, type Check, type Written } from '@taraf/core'
import { changeSettings, choicesOf, valuesOf, type SettingsAct } from '@taraf/core/atLink'
import { type Given, type Taken } from '@taraf/core/runTake'
import { asker, backS, goodFirmware, imageBytes, onLink, takeOnRig, type AtTheRig, type Meddler } from '@taraf/demo'
import { actOn, handsOf, type Rig } from '@taraf/rig'

/** What a board runs that waits in its loader. */
const noImage: Runs = { name: 'none', version: 'in its loader' }

const readingS = 8 // what a technician takes to read a verdict and reach for the next thing

/** What a board says of itself; in its loader it has no settings to tell. */
export interface Seen {
  readonly board: string
  readonly runs: Runs
  readonly settings: Settings | null
}

/** A bench as a technician has it: takes, settings written as one act, hands and eyes. Nothing of the truth behind it. */
export class Bench {
  /** How long the work took, simulated seconds. */
  seconds = 0

  /** How often the board armed outside a take that wants that. */
  armings = 0

  constructor(private readonly rig: Rig) {}

  look(): HandsState {
    return handsOf(this.rig)
  }

  /** The serial of the board that lies there. */
  get board(): string {
    return this.rig.board.identity.board
  }

  /** Does it where that goes; returns why it does not. */
  tries(act: HandAct): string | null {
    return actOn(this.rig, act)
  }

  /** The receiver is bound in two steps, with its power off between, as its part lists it. */
  get bindsInTwo(): boolean {
    return this.rig.airframe.receiver.bindSteps === 2
  }

  do(act: HandAct): void {
    const wrong = this.tries(act)
    if (wrong !== null) throw new Error(`the technician cannot ${act.act}: ${wrong}`)
  }

  /** A cable that came out is put back, and the board waited for. */
  plugIn(): void {
    if (this.look().cable) return
    this.do({ act: 'cable', in: true })
    this.timed(() => this.rig.skip(backS))
  }

  take(check: Check, given: Omit<Given, 'settings' | 'choices'>, person: AtTheRig): Taken {
    const list = this.rig.board.settings.list()
    const mayArm = planOf(check, given.sheet).some((want) => 'permit' in want)
    const all = { ...given, settings: valuesOf(list), choices: choicesOf(list) }
    return this.timed(() => takeOnRig(this.rig, check, all, person), mayArm)
  }

  /** Invariant 3: write, save, restart, read back, compare. What was kept otherwise is told in what it returns. */
  change(act: SettingsAct, meddler: Meddler = {}): Written {
    const found = this.timed(() => onLink(this.rig, changeSettings(act), meddler))
    if ('why' in found) throw new Error(found.why)
    return found
  }

  /** What the board says of itself, as it is seen whenever it is linked. */
  seen(): Seen {
    const { board, firmware } = this.rig.board.identity
    return { board, runs: firmware ?? noImage, settings: firmware === null ? null : this.settings() }
  }

  /** Writes an image as the server does, restarts, and says what ran before and what runs now. A cut leaves the board in its loader. */
  writeImage(version: string, cut = false): { from: Runs | null; to: Runs } {
    const { target, firmware: from } = this.rig.board.identity
    const image = imageBytes(target, { ...goodFirmware, version })
    const steps = writeImage(image, bytesToHex(sha256(image)))
    const ask = asker(this.rig)
    let written = 0
    for (let step = steps.next(); ; step = steps.next(ask(step.value.ask) as never))
      if (step.done !== true) {
        if (cut && step.value.ask.ask === 'image.write' && ++written > 3) return { from, to: noImage }
      } else {
        if ('why' in step.value) throw new Error(step.value.why)
        break
      }
    this.timed(() => {
      this.rig.restart()
      this.rig.skip(backS)
    })
    return { from, to: this.rig.board.identity.firmware ?? noImage }
  }

  read(): void {
    this.timed(() => this.rig.skip(readingS))
  }

  /** How often the board armed, by its log. */
  private get armed(): number {
    return this.rig.board.log.read(0, 400).filter((e) => e.what === 'armed').length
  }

  settings(): Settings {
    return valuesOf(this.rig.board.settings.list())
  }

  /** A restart sets the board's clock back: what it took is counted from there. */
  private timed<T>(work: () => T, mayArm = false): T {
    const { boots } = this.rig.board
    const before = this.rig.clock
    const armed = this.armed
    const found = work()
    if (!mayArm) this.armings += Math.max(0, this.armed - armed)
    this.seconds += this.rig.board.boots === boots ? this.rig.clock - before : this.rig.clock
    return found
  }
}
