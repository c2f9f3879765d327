import type { TakeTell, Want } from '@taraf/contract'
import type { handsOf } from '@taraf/rig'
import type { Handled } from './handActs'
import type { AtTheRig } from './person'
import { Button, handStep, isSilent, type HandsBench, type TakeAtHand } from './stepHands'

/** The hands that a take leads from step to step, as its screen tells them. */
export class LedHands {
  /** What was seen, felt and heard at the end of each step in which motors may turn. */
  readonly felt = new Map<string, ReturnType<typeof handsOf>>()
  want: Want | null = null
  private step = new AbortController()
  private steps = 0
  private button: Button | null = null
  private wasSilent = false

  /**
   * @param begins is called as a step begins
   * @param failed is called where somebody cannot do what a step asks for
   */
  constructor(
    private readonly bench: HandsBench,
    private readonly person: AtTheRig,
    private readonly handledOf: (want: Want) => Handled,
    private readonly begins: (want: Want) => void,
    private readonly failed: (error: unknown) => void,
  ) {}

  /** Another step, or the same one again after the transmitter was silent, is begun. */
  follow(tell: TakeTell, run: TakeAtHand): void {
    const isAgain = this.wasSilent && tell.phase !== 'waiting'
    if (tell.want === this.want && !isAgain) return this.hearSilence(tell)
    this.wasSilent = false
    this.endStep()
    this.want = tell.want
    if (tell.want?.kind !== 'turn' && tell.want?.kind !== 'answers') this.button?.lift()
    if (tell.want !== null) this.begin(tell.want, run)
  }

  /** The take is over. */
  end(): void {
    this.endStep()
    this.button?.lift()
  }

  private endStep(): void {
    this.step.abort(new StepOver())
  }

  private begin(want: Want, run: TakeAtHand): void {
    const { bench, person, felt } = this
    const over = new AbortController()
    this.step = over
    this.begins(want)
    this.button ??= new Button(bench, run)
    const isPrepared = this.steps++ === 0
    const step = { bench, run, person, how: this.handledOf(want), button: this.button, isPrepared, signal: over.signal, felt }
    handStep(want, step).catch((error: unknown) => {
      if (!(error instanceof StepOver) && !over.signal.aborted) this.failed(error)
    })
  }

  /** A transmitter that fell silent is switched on again. */
  private hearSilence(tell: TakeTell): void {
    if (this.wasSilent || !isSilent(tell, this.bench)) return
    this.wasSilent = true
    this.endStep()
    this.bench.clock.after(1_000, () => void this.bench.tries({ act: 'transmitter', on: true }))
  }
}

/** The step is over, or begins again: its hands stop. */
class StepOver extends Error {}
