import type { HandAct, HandsState, Runs, Settings } from '@taraf/contract'
import { sha256 } from '@noble/hashes/sha2.js'
import { bytesToHex } from '@noble/hashes/utils.js'
import {
  changeSettings,
  choicesOf,
  valuesOf,
  writeImage,
  type Check,
  type Given,
  type SettingsAct,
  type Taken,
  type Written,
} from '@taraf/core'
import { asker, backS, goodFirmware, imageBytes, onLink, takeOnRig, type AtTheRig } from '@taraf/demo'
import { actOn, handsOf, type Rig } from '@taraf/rig'

const readingS = 8 // what a technician takes to read a verdict and reach for the next thing

/** A bench as a technician has it: takes, settings written as one act, hands and eyes. Nothing of the truth behind it. */
export class Bench {
  /** How long the work took, simulated seconds. */
  seconds = 0

  constructor(private readonly rig: Rig) {}

  look(): HandsState {
    return handsOf(this.rig)
  }

  /** The serial of the board that lies there. */
  get board(): string {
    return this.rig.board.identity.board
  }

  do(act: HandAct): void {
    const wrong = actOn(this.rig, act)
    if (wrong !== null) throw new Error(`the technician cannot ${act.act}: ${wrong}`)
  }

  take(check: Check, given: Omit<Given, 'settings' | 'choices'>, person: AtTheRig): Taken {
    const list = this.rig.board.settings.list()
    return this.timed(() => takeOnRig(this.rig, check, { ...given, settings: valuesOf(list), choices: choicesOf(list) }, person))
  }

  /** Invariant 3: write, save, restart, read back, compare. */
  change(act: SettingsAct): Written {
    const found = this.timed(() => onLink(this.rig, changeSettings(act)))
    if ('why' in found) throw new Error(found.why)
    if (found.differs.length > 0) throw new Error(`not kept: ${found.differs.join('; ')}`)
    return found
  }

  /** Writes an image as the server does, restarts, and says what ran before and what runs now. */
  writeImage(version: string): { from: Runs | null; to: Runs } {
    const { target, firmware: from } = this.rig.board.identity
    const image = imageBytes(target, { ...goodFirmware, version })
    const steps = writeImage(image, bytesToHex(sha256(image)))
    const ask = asker(this.rig)
    for (let step = steps.next(); ; step = steps.next(ask(step.value.ask) as never))
      if (step.done === true) {
        if ('why' in step.value) throw new Error(step.value.why)
        break
      }
    this.timed(() => {
      this.rig.restart()
      this.rig.skip(backS)
    })
    return { from, to: this.rig.board.identity.firmware ?? { name: 'none', version: '' } }
  }

  read(): void {
    this.timed(() => this.rig.skip(readingS))
  }

  settings(): Settings {
    return valuesOf(this.rig.board.settings.list())
  }

  /** A restart sets the board's clock back: what it took is counted from there. */
  private timed<T>(work: () => T): T {
    const { boots } = this.rig.board
    const before = this.rig.clock
    const found = work()
    this.seconds += this.rig.board.boots === boots ? this.rig.clock - before : this.rig.clock
    return found
  }
}
