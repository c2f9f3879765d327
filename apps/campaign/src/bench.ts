import type { HandAct, HandsState, ImuStage, Remedy, Segment, Settings } from '@taraf/contract'
import { sha256 } from '@noble/hashes/sha2.js'
import { bytesToHex } from '@noble/hashes/utils.js'
import { writeImage, type CaptureSegment } from '@taraf/core'
import { captureFrom, goodFirmware, imageBytes, type CaptureOptions } from '@taraf/demo'
import { actOn, answererOf, handsOf, type Rig } from '@taraf/rig'

const restartAndLinkS = 2
const readingS = 8 // what a technician takes to read a verdict and reach for the next thing

/** A bench as a technician has it: captures, settings written as one act, hands and eyes. Nothing of the truth behind it. */
export class Bench {
  /** How long the work took, simulated seconds. */
  seconds = 0

  private readonly ask: ReturnType<typeof answererOf>

  constructor(private readonly rig: Rig) {
    this.ask = answererOf(rig)
  }

  look(): HandsState {
    return handsOf(this.rig)
  }

  do(act: HandAct): void {
    const wrong = actOn(this.rig, act)
    if (wrong !== null) throw new Error(`the technician cannot ${act.act}: ${wrong}`)
  }

  capture(stage: ImuStage, segment: CaptureSegment, options: CaptureOptions): Segment {
    const before = this.rig.clock
    const captured = captureFrom(this.rig, stage, segment, { ...options, ask: this.ask })
    this.seconds += this.rig.clock - before
    return captured
  }

  settings(): Settings {
    return Object.fromEntries(this.rig.board.settings.list().map((s) => [s.name, s.saved]))
  }

  /** Invariant 3: write, save, restart, read back, compare. */
  private write(values: Settings): void {
    const wrong = this.rig.board.settings.write(values)
    if (wrong !== null) throw new Error(wrong)
    this.keep()
    const read = this.settings()
    for (const [name, value] of Object.entries(values))
      if (Math.abs((read[name] ?? NaN) - value) > 1e-6) throw new Error(`${name} was not kept`)
  }

  /** What is done over the link of a remedy. */
  mend({ settings }: Pick<Remedy, 'settings' | 'calibrate'>): void {
    if (settings === undefined) this.calibrateGyro()
    else this.write(settings)
  }

  /** Writes an image as the server does, restarts, and returns the version that runs then. */
  writeImage(version: string): string {
    const { target } = this.rig.board.identity
    const image = imageBytes(target, { ...goodFirmware, version })
    const steps = writeImage(image, bytesToHex(sha256(image)))
    for (let step = steps.next(); ; step = steps.next(this.ask(step.value.ask) as never))
      if (step.done === true) {
        if ('why' in step.value) throw new Error(step.value.why)
        break
      }
    this.keep()
    return this.rig.board.identity.firmware?.version ?? 'none'
  }

  private calibrateGyro(): void {
    this.rig.board.beginCalibration()
    let result = null
    while ((result = this.rig.board.calibrationResult()) === null) {
      this.rig.step('raw')
      this.seconds += 0.005
    }
    if (result !== 'moving') this.keep()
  }

  read(): void {
    this.rig.skip(readingS)
    this.seconds += readingS
  }

  private keep(): void {
    this.rig.board.settings.save()
    this.rig.restart()
    this.rig.skip(restartAndLinkS)
    this.seconds += restartAndLinkS
  }
}
