import { isBeside, type BoardEvent, type EvidenceEvent, type Segment, type WantOf } from '@taraf/contract'
import { EndWatch, armedUnder, evidenceEvent, leftState, nextWords, teachWords } from '@taraf/core'
import type { Recorder } from '../run'
import { TeachWatch, flightStreamsOf, type FlightPage } from '@taraf/core/watches'
import { CaptureLost, type Run } from '../run'
import { Gather, deviationOf } from './gather'
import type { Cancel } from '../clock'
import { dropUnsaved } from '../link/dropUnsaved'
import { until, untilStill } from '../link/until'

const pageOf = 200
/** How often it is looked whether the longest is over. */
const lookEveryMs = 100

/** What teaches ESCs begins once somebody holds the button, without the battery. */
const teaching = async (run: Run): Promise<TeachWatch> => {
  const { link } = run
  for (;;) {
    await run.hand()
    if (link.state?.power === 'cable') break
    run.say({ guide: { words: 'Take the battery out first.', tiltDeg: null } })
  }
  await run.teach()
  return new TeachWatch()
}

/** Puts settings in force for a step alone; what it returns has those that are saved in force again, once nothing is armed or turns. */
const inForceFor = async ({ clock, link, disarm }: Run, settings: WantOf<'watch'>['inForce']): Promise<() => Promise<void>> => {
  if (settings === undefined) return () => Promise.resolve()
  await link.ask({ ask: 'settings.write', values: settings })
  return async () => {
    if (link.phase !== 'up') return
    if (link.state?.motors !== 'still') await disarm()
    await untilStill(clock, link)
    await dropUnsaved(link, (await link.ask({ ask: 'settings.list' })).settings)
  }
}

/** Board events with their times, until one that is waited for comes, or the longest is over; over a lost link where that may be. */
export const watch: Recorder<'watch'> = async (run, step) => {
  const restore = await inForceFor(run, step.want.inForce)
  try {
    return await watched(run, step)
  } finally {
    await restore()
  }
}

const watched: Recorder<'watch'> = async (run, { want }) => {
  const { clock, link, signal } = run
  const teach = want.permit === 'teach' ? await teaching(run) : null
  run.say({ phase: 'capturing', guide: null })
  const { label, stage = 'body', streams, seconds } = want
  await link.wantStage(stage, streams.filter(isBeside))
  return new Promise((resolve, reject) => {
    const events: EvidenceEvent[] = []
    let lostAtMs: number | null = null
    const watching = new EndWatch(want)
    let begun = false
    let ending: Cancel | null = null
    /** The mode, and what would refuse arming, as it begins: told once the board's clock is known. */
    const begin = (t: number) => {
      if (begun || armedUnder(want) === null || link.state === null) return
      begun = true
      const { mode, refusing } = link.state
      const isTold = (name: EvidenceEvent['what']) => events.some(({ what }) => what === name)
      // What was told since is how it began, too: nothing is put before it that came later.
      const first: EvidenceEvent[] = isTold('mode') ? [] : [{ t, what: 'mode', mode }]
      if (!isTold('gates')) {
        first.push({ t, what: 'gates', reasons: [...refusing] })
        lead(refusing)
      }
      events.unshift(...first)
    }
    let isThere: boolean | null = null
    let guide: { words: string; tiltDeg: null } | null = null
    /** Leads on once the board would refuse for what the step brings about, where it would not before. */
    const lead = (reasons: readonly string[]) => {
      if (want.lead === undefined) return
      const was = isThere
      isThere = reasons.includes(want.lead.gate)
      if (was === null || was === isThere) return
      guide = isThere ? { words: want.lead.words, tiltDeg: null } : null
      run.say({ guide })
    }
    const gather = new Gather(link, stage, streams, {
      block: (block) => {
        begin(block.t[0] as number)
        linkIsBack(block.t[0] as number)
        const why = teach?.shaken(block.t[block.t.length - 1] as number, deviationOf(block)) ?? null
        if (why !== null) spoilt(why)
      },
      stream: ({ stream, t, values }) => {
        if (stream === 'radio')
          for (let i = 0; i < t.length; i++)
            if ((values[16 * t.length + i] as number) > 0)
              watching.push((channel) => values[(channel - 1) * t.length + i] as number)
        if (teach === null || stream !== 'outputs') return
        for (let i = 0; i < t.length; i++) {
          const commands = run.outputs.map((output) => values[(output - 1) * t.length + i] as number)
          const now = teach.push(t[i] as number, commands, link.state !== null && link.state.power !== 'cable')
          if ('wrong' in now) return spoilt(now.wrong)
          run.progress(gather.elapsed / seconds, { words: teachWords[now.phase], tiltDeg: null })
        }
      },
    })
    const spoilt = (why: string) =>
      end(() => reject(new CaptureLost(why, 'Take the battery out. Nothing was taught whole: run it again from its start.')))
    const add = (event: EvidenceEvent) => {
      events.push(event)
      // Nobody flies on a cable: the end of the take drops the permit, and all stands.
      if (want.permit === 'flight' && event.what === 'armed' && link.phase === 'up')
        return end(() =>
          reject(new CaptureLost('it was armed with the cable in', 'Pull the cable and go back first; then arm it.')),
        )
      if (event.what === 'gates') lead((event as { reasons?: readonly string[] }).reasons ?? [])
      const next = nextWords(want, event)
      if (next !== null) run.say({ guide: (guide = { words: next, tiltDeg: null }) })
      if (!watching.ends(event) || ending !== null) return
      if (want.afterS === undefined) done()
      else ending = clock.after(want.afterS * 1000, done)
    }
    const told = (event: BoardEvent) => {
      const known = evidenceEvent(event)
      if (known !== null) add(known)
    }
    // While the link is gone the board's clock runs on by this one.
    const now = () => gather.lastT + (lostAtMs === null ? 0 : (clock.nowMs() - lostAtMs) / 1000)
    const phase = () => {
      if (link.phase === 'up' || lostAtMs !== null) return
      add({ t: now(), what: 'link', link: 'lost' })
      lostAtMs = clock.nowMs()
    }
    /** It is back with its first block, which says when by the board's own clock; a board that started again counts from zero. */
    const linkIsBack = (t: number) => {
      if (lostAtMs === null) return
      const goneSince = events.findLast(({ what }) => what === 'link')?.t as number
      add({ t: t >= goneSince ? t : goneSince + (clock.nowMs() - lostAtMs) / 1000, what: 'link', link: 'up' })
      lostAtMs = null
    }
    const stopLooking = clock.every(lookEveryMs, () => {
      const passed = gather.elapsed + (lostAtMs === null ? 0 : (clock.nowMs() - lostAtMs) / 1000)
      if (teach === null) run.progress(Math.min(1, passed / seconds), guide)
      if (passed >= seconds) done({ short: true })
    })
    const end = (settle: () => void) => {
      stopLooking()
      ending?.()
      gather.end()
      link.off('told', told)
      link.off('phase', phase)
      signal.removeEventListener('abort', abort)
      settle()
    }
    const done = (how: { short?: true } = {}) =>
      end(() => resolve({ segment: { label, streams: gather.streams(), events }, ...how }))
    const abort = () => end(() => reject(signal.reason as Error))
    // A board that was only waiting for the permit has said so by now.
    for (const event of run.news()) told(event)
    link.on('told', told)
    link.on('phase', phase)
    signal.addEventListener('abort', abort)
    if (signal.aborted) abort()
  })
}

/** What the board wrote into its log since a segment began: of its newest start, or of all since where it started again. */
export const log: Recorder<'log'> = async ({ link }, { want, before }) => {
  const entries: (BoardEvent & { boot: number; entry: number })[] = []
  for (;;) {
    const from = (entries[entries.length - 1]?.entry ?? -1) + 1
    const { entries: page } = await link.ask({ ask: 'log.read', from, most: pageOf })
    entries.push(...page)
    if (page.length < pageOf) break
  }
  const boot = entries[entries.length - 1]?.boot
  const since = startOf(before.find((s) => s.label === want.since))
  const events = entries
    .filter((e) => e.boot === boot && e.t >= since)
    .flatMap(({ t, what, detail }) => evidenceEvent({ t, what, ...(detail === undefined ? {} : { detail }) }) ?? [])
  const streams = want.rows === undefined ? {} : await flightOf(link, { boot, since }, want.rows)
  return { segment: { label: want.label, streams, events } }
}

const rowsOfPage = 2000
/** What the board logged of its last flight, where that was in this start of it and since the step began: one before it proves nothing now. */
const flightOf = async (
  link: Run['link'],
  { boot, since }: { readonly boot: number | undefined; readonly since: number },
  names: NonNullable<WantOf<'log'>['rows']>,
): Promise<Segment['streams']> => {
  const pages: FlightPage[] = []
  for (let from = 0; ; from += rowsOfPage) {
    const page = await link.ask({ ask: 'log.rows', from, most: rowsOfPage })
    if (page.boot !== boot || (from === 0 && !((page.t[0] ?? -Infinity) >= since))) return {}
    pages.push(page as FlightPage)
    if (from + page.t.length >= page.count) break
  }
  return flightStreamsOf(pages, names.includes('imuBurst') ? await link.ask({ ask: 'log.burst' }) : null, names)
}

const startOf = (segment: Parameters<Recorder<'log'>>[1]['before'][number] | undefined): number =>
  Math.min(
    ...Object.values(segment?.streams ?? {}).flatMap((stream) => (stream.t.length > 0 ? [stream.t[0] as number] : [])),
    ...(segment?.events ?? []).map((e) => e.t),
    Infinity,
  )

/** Waits until the bench is as wanted. What was confirmed for the battery is looked at by the code that starts the take. */
export const state: Recorder<'state'> = async (run, { want }) => {
  run.say({ phase: 'waiting' })
  const { link } = run
  await until(link, run.signal, () => link.state !== null && leftState(want.state, link.state, null) === null)
  if (want.state.props === 'off') await run.propsOff()
  return {}
}
