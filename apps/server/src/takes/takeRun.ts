import { setTimeout } from 'node:timers/promises'
import type {
  AsBuilt,
  Evidence,
  Finding,
  Observation,
  Person,
  Place,
  Remedy,
  ReportName,
  Reports,
  Segment,
  Settings,
  TakeTell,
  Verdict,
} from '@taraf/contract'
import { askReports, documentOf, evaluate, refusal, segmentsOf, writeOf, type CaptureSegment, type Check } from '@taraf/core'
import { ProblemError } from '../http/problem'
import type { BenchLink } from '../links/benchLink'
import { valuesOf } from '../links/writeSettings'
import { captureSegment, CaptureLost, linkLost, type CaptureOrder, type Guide } from './capture'
import { LetGo, Turning } from './turning'

/** The take was stopped by whoever takes it. */
export class Aborted extends Error {}

export interface Captured {
  /** Null where nothing was captured that could be kept. */
  readonly evidence: Evidence | null
  readonly verdict: Verdict
  readonly findings: Finding[]
}

/** What a take is of, and where it is told how it stands. */
export interface TakeOrder {
  readonly job: string
  readonly check: Check
  readonly by: Person
  readonly link: BenchLink
  readonly sheet: Evidence['sheet']
  readonly airframe: AsBuilt
  readonly place: Place
  readonly told: (tell: TakeTell) => void
  /** Writes what a calibration found. Returns all settings as read back; throws a problem where they were not kept. */
  readonly write: (remedy: Remedy) => Promise<Settings>
}

/** One running take: captures its segments, waits for the technician between them, and judges what there is. */
export class TakeRun {
  tell: TakeTell
  private readonly stopper = new AbortController()
  private readonly observations: Observation[] = []
  /** Set while the take waits for the technician between two segments, or for a mark. */
  private goOn: (() => void) | null = null
  /** Set while a control that is held down turns motors, or is waited for. */
  private kept: ((press: string) => void) | null = null

  constructor(private readonly order: TakeOrder) {
    const { job, check } = order
    this.tell = { tell: 'take', job, check: check.id, phase: 'capturing', segment: 0, share: 0 }
  }

  get by(): Person {
    return this.order.by
  }

  /** Goes on with the next segment, where the take waits for the technician. */
  next(): void {
    if (this.wantsMark())
      throw new ProblemError('no-take', 'The take waits for the side that points up, or for where the antenna sits.')
    if (this.goOn === null) throw new ProblemError('no-take', 'The take is not waiting for you.')
    this.goOn()
  }

  /** Notes what the technician saw of the segment in hand, in place of what they said of it before. */
  mark(seen: Pick<Observation, 'up' | 'antenna'>): void {
    const segment = segmentsOf(this.order.check)[this.tell.segment]
    if (segment === undefined || (seen.up === undefined ? segment.place !== true : segment.mark !== true))
      throw new ProblemError('no-take', 'This part of the take does not ask for that.')
    const { observations } = this
    const before = observations.findIndex((o) => o.segment === segment.label)
    observations.splice(before < 0 ? observations.length : before, before < 0 ? 0 : 1, { segment: segment.label, ...seen })
    this.say({ marked: true })
    this.goOn?.()
  }

  /** A sign of life of the control that is held down. */
  keep(press: string): void {
    this.kept?.(press)
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
    const { check, link, place, sheet, airframe, write } = this.order
    const { observations } = this
    const { segments: wanted, proof = [] } = check.capture
    try {
      const settings = link.identity?.loader === true ? {} : valuesOf((await link.ask({ ask: 'settings.list' })).settings)
      const judge = (segments: Segment[], written?: Settings): Captured & { evidence: Evidence } => {
        const captured = { at: new Date(), place, sheet, airframe, settings, observations, written }
        const evidence = documentOf(check, { ...captured, segments })
        return { evidence, ...evaluate(check, evidence) }
      }
      const decided = (soFar: Segment[]) => judge(soFar).verdict !== 'refused'
      const segments = await this.captureAll(wanted, [], decided)
      this.say({ phase: 'judging', share: 1 })
      const found = judge(segments)
      const remedy = writeOf(check, found.findings)
      if (remedy === null) return found
      this.say({ phase: 'writing', share: 0 })
      let written: Settings
      try {
        written = await write(remedy)
      } catch (error) {
        if (!(error instanceof ProblemError) || error.type === 'link-lost') throw error
        return { ...found, findings: [...found.findings, notKept(error.detail)] }
      }
      const proving = await this.captureAll(proof, segments, decided)
      this.say({ phase: 'judging', share: 1 })
      return judge([...segments, ...proving], written)
    } catch (error) {
      if (error instanceof CaptureLost) return lost(error.message)
      if (error instanceof ProblemError && error.type === 'link-lost') return lost(linkLost(error.detail))
      throw error
    } finally {
      if (check.capture.stage !== 'body' || check.capture.segments.some((s) => s.streams !== undefined))
        await link.setStage('body').catch(() => {})
    }
  }

  /** Captures segments one after the other, after those that are there already. */
  private async captureAll(
    segments: readonly CaptureSegment[],
    before: readonly Segment[],
    decided: (soFar: Segment[]) => boolean,
  ): Promise<Segment[]> {
    const { check, link } = this.order
    const { stage } = check.capture
    if (link.identity?.loader !== true) await link.setStage(stage, [...new Set(segments.flatMap((s) => s.streams ?? []))])
    const done: Segment[] = []
    for (const [i, wanted] of segments.entries()) {
      const segment = before.length + i
      const there = [...before, ...done]
      const order: CaptureOrder = {
        stage,
        wanted,
        before: there,
        signal: this.stopper.signal,
        progress: this.steps(),
        decided: (soFar: Segment) => decided([...there, soFar]),
      }
      if (wanted.asks !== undefined) {
        this.begin(segment)
        const streams = wanted.seconds === 0 ? {} : (await captureSegment(link, order)).streams
        done.push({ label: wanted.label, streams, reports: await this.askFor(wanted.asks) })
        continue
      }
      if (wanted.spin !== undefined) {
        done.push(await this.captureTurning(segment, order, wanted.spin))
        continue
      }
      if (segment > 0 && wanted.hold === undefined && wanted.atOnce !== true) await this.waitForHand(segment)
      this.begin(segment)
      done.push(await captureSegment(link, order))
      if (this.wantsMark()) await this.waitForHand(segment)
    }
    return done
  }

  private begin(segment: number): void {
    this.say({ phase: 'capturing', segment, share: 0, guide: null, marked: false })
  }

  /** Asks the board for its reports, each step as the core says it: to the end, so that what a step tried is put back. */
  private async askFor(names: readonly ReportName[]): Promise<Reports> {
    const steps = askReports(names)
    let step = steps.next()
    while (step.done !== true) {
      const answer = 'waitS' in step.value ? await setTimeout(step.value.waitS * 1000) : await this.order.link.ask(step.value)
      step = steps.next(answer as never)
    }
    this.stopper.signal.throwIfAborted()
    return step.value
  }

  /** Captures while a hand keeps the motors turning; begins anew, with another press, where it lets go too soon. */
  private async captureTurning(segment: number, order: CaptureOrder, share: number): Promise<Segment> {
    const { link, sheet } = this.order
    const outputs = sheet.geometry?.booms.flatMap((boom) => boom.motors.map((m) => m.output)) ?? []
    const powerId = link.state?.powerId ?? ''
    const used = new Set<string>()
    for (;;) {
      const press = await this.waitFor<string>(segment, (settle) => {
        this.kept = (press) => !used.has(press) && settle(press)
      })
      used.add(press)
      const turning = await Turning.begin(link, { powerId, outputs, share, press })
      this.kept = (again) => turning.keep(again)
      const stop = () => void turning.end(order.signal.reason)
      order.signal.addEventListener('abort', stop)
      try {
        order.signal.throwIfAborted()
        this.begin(segment)
        await turning.upToSpeed()
        return await captureSegment(link, { ...order, signal: AbortSignal.any([order.signal, turning.signal]) })
      } catch (error) {
        if (!(error instanceof LetGo)) throw error
      } finally {
        this.kept = null
        order.signal.removeEventListener('abort', stop)
        await turning.end()
      }
    }
  }

  /** Progress in steps of a twentieth, and what guides a hand when it changes: screens need no more. */
  private steps(): (share: number, guide: Guide | null) => void {
    let told = { share: 0, guide: null as Guide | null }
    return (share, guide) => {
      const sameWords = guide?.words === told.guide?.words && Math.abs((guide?.tiltDeg ?? 0) - (told.guide?.tiltDeg ?? 0)) < 2
      if (share < 1 && share >= told.share && share - told.share < 0.05 && sameWords) return
      told = { share, guide }
      this.say({ share, guide })
    }
  }

  private waitForHand(segment: number): Promise<void> {
    return this.waitFor(segment, (settle) => (this.goOn = settle))
  }

  /** Waits for the technician; `listen` says what is waited for. */
  private waitFor<T>(segment: number, listen: (settle: (value: T) => void) => void): Promise<T> {
    const { link } = this.order
    const { signal } = this.stopper
    this.say({ phase: 'waiting', segment, share: 0 })
    return new Promise((resolve, reject) => {
      const phase = () => link.phase !== 'up' && end(() => reject(new CaptureLost(linkLost(link.detail))))
      const abort = () => end(() => reject(new Aborted()))
      const end = (settle: () => void) => {
        this.goOn = null
        this.kept = null
        link.off('phase', phase)
        signal.removeEventListener('abort', abort)
        settle()
      }
      listen((value) => end(() => resolve(value)))
      link.on('phase', phase)
      signal.addEventListener('abort', abort)
    })
  }

  /** The segment in hand asks which side points up, or where the antenna sits, and nobody has said it yet. */
  private wantsMark(): boolean {
    const segment = segmentsOf(this.order.check)[this.tell.segment]
    return (segment?.mark === true || segment?.place === true) && !this.observations.some((o) => o.segment === segment.label)
  }
}

const lost = (why: string): Captured => ({
  evidence: null,
  verdict: 'refused',
  findings: refusal(why, 'Wait until the board answers again, then take it again.'),
})

const notKept = (why: string): Finding => ({
  key: 'write',
  value: why,
  unit: '',
  verdict: 'fail',
  remedy: { act: 'What was found was not kept by the board. See what it says, then take it again.' },
})
