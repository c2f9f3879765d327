import {
  ProblemError,
  type AsBuilt,
  type BoardEvent,
  type Change,
  type Evidence,
  type Finding,
  type FlownHover,
  type Observation,
  type Person,
  type Place,
  type Question,
  type Said,
  type TakeTell,
  type Verdict,
  type Want,
} from '@taraf/contract'
import { armedUnder, outputsOf, refusal, type Check, type Got, type Written } from '@taraf/core'
import { choicesOf, valuesOf } from '@taraf/core/atLink'
import { changedMeanwhile, unlessChanged, type BoardAsSeen } from '@taraf/core/watches'
import { hoverOf, runTake, type Given, type TakeStep } from '@taraf/core/runTake'
import { wantAsked } from './answers'
import { BenchPermit } from './benchPermit'
import { elapsed, type Clock } from './clock'
import { Heat } from './heat'
import type { BoardLink } from './link/boardLink'
import { dropUnsaved } from './link/dropUnsaved'
import { until, untilWithin } from './link/until'
import type { MotorHeat } from './motorHeat'
import { recorders } from './recorders'
import { Aborted, CaptureLost, TransmitterSilent, linkLost, observationOf, type Recorder, type Run } from './run'
import { KeptTurning, LetGo, type Press } from './turning'
import { watchState } from './watchState'

export interface Captured {
  /** Null where nothing was captured that could be kept. */
  readonly evidence: Evidence | null
  readonly verdict: Verdict
  readonly findings: readonly Finding[]
}

/** What a take is of, and where it is told how it stands. */
export interface TakeOrder {
  readonly job: string
  readonly check: Check
  readonly by: Person
  readonly link: BoardLink
  readonly clock: Clock
  /** How long the motors of the airframe have turned without cooling. */
  readonly heat: MotorHeat
  readonly sheet: Evidence['sheet']
  readonly airframe: AsBuilt
  readonly place: Place
  /** Hover proofs on the record, where the check reads them. */
  readonly hovers: readonly FlownHover[]
  /** The battery connection that props were confirmed off for, or null where the take wants none as it begins. */
  readonly powerId: string | null
  /** The battery connection that is there, where props are confirmed off for it; else null. */
  readonly propsOff: () => Promise<string | null>
  /** Puts on the card what was said of props, for a connection. */
  readonly saidProps: (what: 'props off' | 'props on', powerId: string) => Promise<void>
  readonly told: (tell: TakeTell) => void
  /** Keeps what a step of the take wrote. */
  readonly wrote: (written: Written) => Promise<void>
  /** Keeps what else a step changed of the airframe. */
  readonly changed: (change: Change) => Promise<void>
  /** Keeps what was found changed on the board once the take had ended. */
  readonly found: (seen: BoardAsSeen) => Promise<void>
}

/** One running take: the core's engine, driven on a linked bench. */
export class TakeRun {
  tell: TakeTell
  private readonly stopper = new AbortController()
  private readonly turning: KeptTurning
  private readonly permit: BenchPermit
  private readonly heat: Heat
  private powerId: string | null
  private readonly writes: Written[] = []
  /** What was said of the step in hand. */
  private saidNow: Observation | null = null
  /** Set while the take waits for the technician. */
  private goOn: (() => void) | null = null
  private waitsForSaid: (() => void) | null = null
  private waitsForAnswers: ((observations: readonly Observation[]) => void) | null = null

  constructor(private readonly order: TakeOrder) {
    const { job, check, link, clock } = order
    this.turning = new KeptTurning(link, clock)
    this.permit = new BenchPermit(link, clock)
    this.heat = new Heat(order)
    this.powerId = order.powerId
    this.tell = { tell: 'take', job, check: check.id, phase: 'capturing', done: [], want: null, share: 0 }
  }

  get by(): Person {
    return this.order.by
  }

  /** Goes on with the next step, where the take waits for the technician. */
  next(): void {
    if (this.waitsForSaid !== null && this.tell.want !== null)
      throw new ProblemError('no-take', `The take waits for ${waitedFor[saysOf(this.tell.want) ?? 'up']}.`)
    if (this.goOn === null) throw new ProblemError('no-take', 'The take is not waiting for you.')
    this.goOn()
  }

  /** Notes what the technician says of the step in hand, in place of what they said of it before. */
  mark(seen: Said): void {
    const { want } = this.tell
    if (want === null || !isAsked(want, seen)) throw new ProblemError('no-take', 'This part of the take does not ask for that.')
    this.saidNow = observationOf(want, seen)
    this.say({ said: true })
    this.waitsForSaid?.()
  }

  /** The list that the take stopped at, or null. */
  get list(): readonly Question[] | null {
    return this.waitsForAnswers !== null && this.tell.want?.kind === 'answers' ? this.tell.want.questions : null
  }

  /** Answers the list that the take stopped at. */
  answer(observations: readonly Observation[]): void {
    const { list } = this
    if (list === null || this.tell.want === null) throw new ProblemError('no-take', 'The take does not wait for a list.')
    const { label } = this.tell.want
    wantAsked(list, observations)
    this.waitsForAnswers?.(observations.map((o) => ({ ...o, segment: label })))
  }

  /** A sign of life of a control that is held down. */
  keep(press: Press): void {
    this.turning.keep(press)
  }

  stop(): void {
    this.stopper.abort(new Aborted())
  }

  say(news: Partial<TakeTell>): void {
    this.tell = { ...this.tell, ...news }
    this.order.told(this.tell)
  }

  /** The take's evidence and what it says, or why it was lost before it was whole. */
  async capture(): Promise<Captured> {
    const { check, link, place, sheet, airframe, hovers } = this.order
    try {
      await dropUnsaved(link, await listOf(link))
      const before = await asSeen(link)
      const list = before.settings
      const given: Given = {
        at: this.order.clock.date(),
        place,
        sheet,
        airframe,
        hovers,
        settings: valuesOf(list),
        choices: choicesOf(list),
      }
      const hover =
        check.reads.hover === true ? hoverOf({ sheet, airframe, hovers: [...hovers], board: { settings: given.settings } }) : null
      if (hover !== null) this.say({ hover: hover.command })
      const steps = runTake(check, given)
      let next = steps.next()
      while (next.done !== true) next = steps.next(await this.doStep(next.value))
      this.say({ phase: 'judging', share: 1 })
      // A board without power, as after a first power on the battery alone, is compared when it is linked again.
      const after = link.phase === 'up' ? await asSeen(link) : null
      const changed = after === null ? null : changedMeanwhile(before, after, this.writes)
      if (after !== null && changed !== null) await this.order.found(after)
      return unlessChanged(next.value, changed)
    } catch (error) {
      if (error instanceof CaptureLost) return lost(error.message, error.act)
      if (error instanceof ProblemError && error.type === 'link-lost') return lost(linkLost(error.detail))
      throw error
    } finally {
      await this.turning.end()
      await this.permit.drop()
      await link.wantStage('body', []).catch(() => {})
    }
  }

  /** Does one step; where the transmitter goes off in it, it is begun again once that is heard. */
  private async doStep(step: TakeStep): Promise<Got> {
    for (;;)
      try {
        return await this.tryStep(step)
      } catch (error) {
        if (!(error instanceof TransmitterSilent)) throw error
        await this.untilHeard()
      }
  }

  /** Waits until the transmitter is heard; the link may not go meanwhile. */
  private async untilHeard(): Promise<void> {
    const { link } = this.order
    const state = watchState(link, {}, null, false)
    const signal = AbortSignal.any([this.stopper.signal, state.signal])
    this.say({ phase: 'waiting', share: 0, guide: { words: silentWords, tiltDeg: null } })
    try {
      await until(link, signal, () => link.state?.radio === 'heard')
    } finally {
      state.end()
    }
  }

  /** One try at a step: its recorder, watched by the state that it wants. */
  private async tryStep(step: TakeStep): Promise<Got> {
    const { link } = this.order
    const { want } = step
    if (want.kind !== 'turn' && want.kind !== 'answers') await this.turning.end(new LetGo())
    const news: BoardEvent[] = []
    // What it does while nobody hears it is asked for, too.
    link.expectArming(want.kind === 'watch' && (want.until.includes('armed') || want.mayLoseLink === true))
    const keep = (event: BoardEvent) => void news.push(event)
    link.on('told', keep)
    try {
      return await this.underPermit(step, news)
    } finally {
      link.off('told', keep)
      link.expectArming(false)
    }
  }

  private async underPermit(step: TakeStep, news: readonly BoardEvent[]): Promise<Got> {
    const { link, clock } = this.order
    const { powerId } = this
    const { want } = step
    const permit = armedUnder(want)
    // What flies has air moving over it.
    if (want.kind === 'turn' || (permit !== null && permit !== 'flight'))
      // Nothing can be turned yet: the step is asked for once it can be done.
      await this.heat.cooled(
        want,
        (words) => this.say({ phase: 'capturing', want: null, guide: { words, tiltDeg: null } }),
        this.stopper.signal,
      )
    if (permit === null) await this.permit.drop()
    else if (powerId !== null) await this.permit.hold(permit, powerId, this.stopper.signal)
    this.saidNow = null
    this.say({ done: step.done, want, share: 0, guide: null, said: false })
    // What waits for another battery has props confirmed off for that one itself.
    const confirmed = want.state?.props === undefined || want.kind === 'state' ? null : powerId
    // What was told as an event comes a moment later as the state.
    if (want.state?.armed === true) await untilWithin(clock, link, stateComesMs, () => link.state?.motors === 'armed')
    // What waits for a state is not in it yet.
    const state = watchState(
      link,
      want.kind === 'state' ? {} : (want.state ?? {}),
      confirmed,
      want.kind === 'watch' && want.mayLoseLink === true,
    )
    const heat = this.heat.watch()
    const signal = AbortSignal.any([this.stopper.signal, state.signal, heat.signal])
    const run: Run = {
      link,
      clock,
      signal,
      powerId: confirmed,
      turning: this.turning,
      say: (news) => this.say(news),
      progress: this.steps(),
      hand: () => this.waitFor(signal, (settle) => (this.goOn = settle)),
      said: async () => {
        if (this.saidNow === null) await this.waitFor(signal, (settle) => (this.waitsForSaid = settle))
        return this.saidNow === null ? [] : [this.saidNow]
      },
      answers: async () => {
        let given: readonly Observation[] = []
        await this.waitFor(signal, (settle) => {
          this.waitsForAnswers = (observations) => {
            given = observations
            settle()
          }
        })
        return given
      },
      wrote: async (written) => {
        this.writes.push(written)
        await this.order.wrote(written)
      },
      changed: (change) => this.order.changed(change),
      teach: async () => {
        // Said without a battery, it holds for the script alone: the connection that the script waits for ends it.
        const seen = link.state?.powerId ?? ''
        await this.order.saidProps('props off', seen)
        await this.permit.hold('teach', seen, signal)
      },
      news: () => news,
      disarm: () => this.permit.drop(),
      propsOff: async () => {
        while ((this.powerId = await this.order.propsOff()) === null) await elapsed(clock, askEveryS, signal)
      },
      propsOn: async () => {
        const seen = link.state?.powerId ?? ''
        await this.order.saidProps('props on', seen)
        this.powerId = seen
      },
      outputs: outputsOf(this.order.sheet),
    }
    try {
      // A restart of the board is part of some steps: their link is gone for a while, and they see to it themselves.
      return await (recorders[want.kind] as Recorder<typeof want.kind>)(run, step as never)
    } finally {
      heat.end()
      state.end()
    }
  }

  private steps(): Run['progress'] {
    let told = { share: 0, guide: null as { words: string; tiltDeg: number | null } | null }
    return (share, guide = null) => {
      const sameWords = guide?.words === told.guide?.words && Math.abs((guide?.tiltDeg ?? 0) - (told.guide?.tiltDeg ?? 0)) < 2
      if (share < 1 && share >= told.share && share - told.share < 0.05 && sameWords) return
      told = { share, guide }
      this.say({ share, guide })
    }
  }

  /** Waits for the technician; `listen` says what is waited for. */
  private waitFor(signal: AbortSignal, listen: (settle: () => void) => void): Promise<void> {
    this.say({ phase: 'waiting' })
    return new Promise((resolve, reject) => {
      const abort = () => end(() => reject(signal.reason as Error))
      const end = (settle: () => void) => {
        this.goOn = null
        this.waitsForSaid = null
        this.waitsForAnswers = null
        signal.removeEventListener('abort', abort)
        settle()
      }
      listen(() => end(resolve))
      signal.addEventListener('abort', abort)
      if (signal.aborted) abort()
    })
  }
}

/** An event is told a moment before the state that it leads to. */
const stateComesMs = 500
/** How often it is asked whether props are confirmed off. */
const askEveryS = 0.2

const silentWords = 'The transmitter is not heard. Switch it on: this step starts again.'

const listOf = async (link: BoardLink) =>
  link.identity?.loader === true ? [] : (await link.ask({ ask: 'settings.list' })).settings
const asSeen = async (link: BoardLink): Promise<BoardAsSeen> => ({ identity: link.identity, settings: await listOf(link) })

const saysOf = (want: Want) => ('says' in want ? want.says : undefined)
const waitedFor = {
  up: 'the side that points up',
  antenna: 'where the antenna sits',
  motor: 'the motor that turned, and which way',
} as const

/** Whether what was said is what the step asks for. */
const isAsked = (want: Want, { up, antenna, position, turn }: Said): boolean => {
  switch (saysOf(want)) {
    case 'up':
      return up !== undefined
    case 'antenna':
      return antenna !== undefined
    case 'motor':
      return position !== undefined && turn !== undefined
    case undefined:
      return false
  }
}

const lost = (why: string, act = 'Wait until the board answers again, then run it again.'): Captured => ({
  evidence: null,
  verdict: 'refused',
  findings: refusal(why, act),
})
