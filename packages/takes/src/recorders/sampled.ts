import {
  isBeside,
  senseColumn,
  streams as table,
  type BoardEvent,
  type EvidenceEvent,
  type Segment,
  type SenseColumn,
  type SenseTell,
  type WantOf,
} from '@taraf/contract'
import { LastingWatch, evidenceEvent, type Got, type Vec3 } from '@taraf/core'
import { ControlWatch, HoldWatch, burstStream, controlWords, holdWords } from '@taraf/core/watches'
import { type TakeStep } from '@taraf/core/runTake'
import { LetGo } from '../turning'
import type { Recorder, Run } from '../run'
import { Gather, meanForce } from './gather'
import { elapsed } from '../clock'
import { untilStill } from '../link/until'

/** How often a step that may end early asks whether it can. */
const askEveryS = 5
const mostBurstS = 2

type Sampled = WantOf<'capture' | 'pose' | 'turn' | 'control'>

/**
 * Samples of one step from the full-rate stream: `reached` says after each block, or each one of a stream, whether it is whole. A burst
 * is asked for beside them where the step wants one.
 */
const gathered = async (
  { link, signal }: Run,
  want: Sampled,
  watching: (
    gather: Gather,
    soFar: () => Segment,
  ) => Pick<ConstructorParameters<typeof Gather>[3], 'block' | 'stream'> & {
    reached: () => boolean
    /** Whether it ended before it was whole: the burst is not waited for. */
    isCut?: () => boolean
  },
): Promise<Segment> => {
  const { label, stage = 'body', streams } = want
  const names = want.kind === 'control' && !streams.includes('radio') ? [...streams, 'radio' as const] : streams
  await link.wantStage(stage, names.filter(isBeside))
  const burst = streams.includes('imuBurst') ? takeBurst(link, Math.min(mostBurstS, want.seconds)) : null
  // It fails with the link, before anybody waits for it: that must not end this server.
  burst?.catch(() => {})
  let isCut = () => false
  const sampled = await new Promise<Segment>((resolve, reject) => {
    const gather = new Gather(link, stage, names, {
      block: (block) => look(() => on.block?.(block)),
      stream: (block) => look(() => on.stream?.(block)),
    })
    const soFar = (): Segment => ({ label, streams: gather.streams() })
    const { reached, isCut: cut, ...on } = watching(gather, soFar)
    isCut = cut ?? isCut
    const end = (settle: () => void) => {
      gather.end()
      signal.removeEventListener('abort', abort)
      settle()
    }
    const look = (take: () => void) => {
      take()
      if (reached()) end(() => resolve(soFar()))
    }
    const abort = () => end(() => reject(signal.reason as Error))
    signal.addEventListener('abort', abort)
    if (signal.aborted) abort()
  })
  if (burst === null || isCut()) return sampled
  return { ...sampled, streams: { ...sampled.streams, imuBurst: await burst } }
}

/** The samples of a burst as a stream; it ends with the newest sample that the board has told. */
const takeBurst = async (link: Run['link'], seconds: number): Promise<NonNullable<Segment['streams']['imuBurst']>> => {
  let lastT = 0
  const look = ({ t }: SenseTell) => void (lastT = t[t.length - 1] as number)
  link.on('block', look)
  try {
    const { rateHz, values } = await link.ask({ ask: 'burst', seconds }, seconds * 1000 + 4_000)
    return burstStream({ rateHz, values }, lastT)
  } finally {
    link.off('block', look)
  }
}

/** Samples for as long as a want says, until it has what it waits for, until the check can decide, or until a motor stands. */
const timed = async (run: Run, want: WantOf<'capture' | 'turn'>, { enough, standing }: TakeStep): Promise<Got> => {
  let [lasted, stood] = [false, false]
  standing?.begin()
  const until = want.kind === 'capture' ? want.until : undefined
  const segment = await gathered(run, want, (gather, soFar) => {
    const { seconds } = want
    const least = want.kind === 'capture' ? (want.leastSeconds ?? seconds) : seconds
    const lasting = until === undefined ? null : new LastingWatch(until)
    let askAt = least
    return {
      stream: ({ stream, t, values }) => {
        const columns: readonly string[] = table[stream].columns
        const rowOf = (i: number) => (name: string) => values[columns.indexOf(name) * t.length + i]
        for (let i = 0; standing !== null && !stood && i < t.length; i++)
          stood = standing.push(stream, t[i] as number, rowOf(i)) !== null
        if (until === undefined || stream !== until.stream || !isBeside(until.stream)) return
        const column = columns.indexOf(until.column)
        for (let i = 0; i < t.length; i++)
          lasted ||= lasting?.push(t[i] as number, values[column * t.length + i] as number) ?? false
      },
      isCut: () => stood,
      reached: () => {
        const { elapsed } = gather
        run.progress(Math.min(1, elapsed / (elapsed < least ? least : seconds)))
        if (lasted || stood || elapsed >= seconds) return true
        if (elapsed < askAt || askAt >= seconds) return false
        askAt += Math.min(askEveryS, least)
        return enough(soFar())
      },
    }
  })
  if (stood) return { segment, stood: true, short: true }
  return until === undefined || lasted ? { segment } : { segment, short: true }
}

/** What the technician says of the step, where it asks for something: during it or after. */
const withSaid = async (run: Run, want: Sampled, got: Got): Promise<Got> => ({
  ...got,
  observations: 'says' in want && want.says !== undefined ? await run.said() : [],
})

/** What the step before turned comes to rest, and what it shook does. */
const comesToRest = async ({ clock, link, signal }: Run): Promise<void> => {
  if (link.state?.motors === 'still') return
  await untilStill(clock, link, signal)
  await elapsed(clock, settleS, signal)
}
const settleS = 0.5

export const capture: Recorder<'capture'> = async (run, step) => {
  if (step.number > 0 && step.want.atOnce !== true) await run.hand()
  if (step.want.still !== undefined) await comesToRest(run)
  run.say({ phase: 'capturing' })
  return withSaid(run, step.want, await timed(run, step.want, step))
}

/** A pose begins by itself once it is far enough and still, and begins again when it moves. */
export const pose: Recorder<'pose'> = async (run, { want, before }) => {
  run.say({ phase: 'capturing' })
  const forces = before.map(meanForce)
  const hold = new HoldWatch(want.seconds, want.leastDeg, forces[0] ?? [0, 0, -1], forces.slice(1))
  const segment = await gathered(run, want, (gather) => {
    let share = 0
    return {
      block: (block) => {
        let state = null
        for (let i = 0; i < block.t.length; i++) state = hold.push(block.t[i] as number, ...rowOf(block, i))
        if (state === null) return
        if (state.share === 0) gather.forget()
        share = state.share
        run.progress(share, { words: holdWords(state, want.leastDeg), tiltDeg: Math.round(state.tiltDeg) })
      },
      reached: () => share >= 1,
    }
  })
  return withSaid(run, want, { segment })
}

/** A control is found by what moves; it ends once it was out as often as is wanted. */
export const control: Recorder<'control'> = async (run, { want }) => {
  run.say({ phase: 'capturing' })
  const moving = new ControlWatch(want)
  const events = keptEvents(run, want)
  let share = 0
  const segment = await gathered(run, want, (gather) => {
    return {
      stream: ({ stream, t, values }) => {
        if (stream !== 'radio') return
        for (let i = 0; i < t.length; i++) {
          // A row of quality 0 is no frame: whatever it says was not received.
          if (!((values[16 * t.length + i] as number) > 0)) continue
          const channels = Array.from({ length: 16 }, (_, c) => values[c * t.length + i] as number)
          const state = moving.push(t[i] as number, channels)
          share = state.share
          run.progress(share, { words: controlWords(state, want), tiltDeg: null })
        }
      },
      reached: () => share >= 1 || gather.elapsed >= want.seconds,
    }
  }).finally(() => events.end())
  return {
    segment: { ...segment, ...(events.kept.length === 0 ? {} : { events: events.kept }) },
    ...(share < 1 ? { short: true } : {}),
  }
}

/** Board events that a step wants kept beside its samples: how it stands as it begins, and each one that comes. */
const keptEvents = ({ link }: Run, { events: wanted = [] }: WantOf<'control'>): { kept: EvidenceEvent[]; end: () => void } => {
  const kept: EvidenceEvent[] = []
  if (wanted.includes('mode') && link.state !== null) kept.push({ t: 0, what: 'mode', mode: link.state.mode })
  const told = (event: BoardEvent) => {
    const known = evidenceEvent(event)
    if (known !== null && (wanted as readonly string[]).includes(known.what)) kept.push(known)
  }
  link.on('told', told)
  return { kept, end: () => void link.off('told', told) }
}

/** Motors turn while a hand keeps them; where it lets go too soon the step begins again, with another press. */
export const turn: Recorder<'turn'> = async (run, step) => {
  const { want } = step
  const { powerId, turning, signal } = run
  if (powerId === null) throw new Error('motors are to turn, and nobody confirmed props off')
  for (;;) {
    if (!turning.isKept) run.say({ phase: 'waiting', share: 0 })
    try {
      const motors = await turning.turn(powerId, want, signal)
      run.say({ phase: 'capturing', share: 0 })
      const both = { ...run, signal: AbortSignal.any([signal, motors.signal]) }
      await elapsed(run.clock, want.runUpS, both.signal)
      const got = await timed(both, want, step)
      motors.turn([])
      // Of a motor that stands there is nothing to say.
      return got.stood === true ? got : await withSaid(run, want, got)
    } catch (error) {
      if (!(error instanceof LetGo)) throw error
      signal.throwIfAborted()
    }
  }
}

/** Force and rate of one row of a block. */
const rowOf = (block: SenseTell, i: number): [Vec3, Vec3] => {
  const at = (name: SenseColumn) => senseColumn(block, name)[i] as number
  return [
    [at('ax'), at('ay'), at('az')],
    [at('gx'), at('gy'), at('gz')],
  ]
}
