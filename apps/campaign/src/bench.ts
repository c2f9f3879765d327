import type { HandAct, HandsState, Runs, Settings, Sheet } from '@taraf/contract'
import { sha256 } from '@noble/hashes/sha2.js'
import { bytesToHex } from '@noble/hashes/utils.js'
import { planOf, writeImage, type Check, type Written } from '@taraf/core'
import { valuesOf, type SettingsAct } from '@taraf/core/atLink'
import {
  SimulatedBench,
  drawnAt,
  goodFirmware,
  imageBytes,
  takeAtBench,
  type AtTheRig,
  type GivenAtBench,
  type Meddler,
} from '@taraf/demo'
import { handsOf, type Rig } from '@taraf/rig'
import { changeSettings, type Captured } from '@taraf/takes'

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
  /** How often the board armed outside a take that wants that. */
  armings = 0
  private readonly bench: SimulatedBench

  constructor(private readonly rig: Rig) {
    this.bench = new SimulatedBench(rig, drawnAt)
  }

  /** How long the work took, simulated seconds. */
  get seconds(): number {
    return this.bench.clock.nowMs() / 1000
  }

  look(): HandsState {
    return handsOf(this.rig)
  }

  /** The serial of the board that is there. */
  get board(): string {
    return this.rig.board.identity.board
  }

  /** Does it where that goes; returns why it does not. */
  tries(act: HandAct): string | null {
    return this.bench.tries(act)
  }

  /** The receiver is bound in two steps, with its power off between, as its part lists it. */
  get bindsInTwo(): boolean {
    return this.rig.airframe.receiver.bindSteps === 2
  }

  do(act: HandAct): void {
    this.bench.hand(act)
  }

  /** A cable that came out is put back, and the board waited for. */
  async plugIn(): Promise<void> {
    if (!this.look().cable) this.do({ act: 'cable', in: true })
    await this.bench.until(this.bench.link.untilUp())
  }

  async take(check: Check, given: GivenAtBench & { sheet: Sheet }, person: AtTheRig): Promise<Captured> {
    const mayArm = planOf(check, given.sheet).some((want) => 'permit' in want)
    const before = this.armed
    const taken = await takeAtBench(this.bench, check, given, person)
    if (!mayArm) this.armings += Math.max(0, this.armed - before)
    return taken
  }

  /** Invariant 3: write, save, restart, read back, compare. What was kept otherwise is told in what it returns. */
  async change(act: SettingsAct, meddler: Meddler = {}): Promise<Written> {
    const { link } = this.bench
    link.bend = meddler.ask ?? null
    try {
      return await this.bench.until(link.untilUp().then(() => changeSettings(link, act)))
    } finally {
      link.bend = null
    }
  }

  /** What the board says of itself, as it is seen whenever it is linked. */
  seen(): Seen {
    const { board, firmware } = this.rig.board.identity
    return { board, runs: firmware ?? noImage, settings: firmware === null ? null : this.settings() }
  }

  /** Writes an image as the server does, restarts, and says what ran before and what runs now. A cut leaves the board in its loader. */
  async writeImage(version: string, cut = false): Promise<{ from: Runs | null; to: Runs }> {
    const { target, firmware: from } = this.rig.board.identity
    const { link } = this.bench
    const image = imageBytes(target, { ...goodFirmware, version })
    const write = async (): Promise<Runs> => {
      await link.untilUp()
      const steps = writeImage(image, bytesToHex(sha256(image)))
      let written = 0
      for (let step = steps.next(); step.done !== true;) {
        if (cut && step.value.ask.ask === 'image.write' && ++written > 3) return noImage
        step = steps.next((await link.ask(step.value.ask)) as never)
        if (step.done === true && 'why' in step.value) throw new Error(step.value.why)
      }
      await link.restart()
      return this.rig.board.identity.firmware ?? noImage
    }
    return { from, to: await this.bench.until(write()) }
  }

  read(): Promise<void> {
    return this.bench.pass(readingS)
  }

  /** How often the board armed, by its log. */
  private get armed(): number {
    return this.rig.board.log.read(0, 400).filter((e) => e.what === 'armed').length
  }

  settings(): Settings {
    return valuesOf(this.rig.board.settings.list())
  }
}
