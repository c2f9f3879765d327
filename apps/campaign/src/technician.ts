import {
  ProblemError,
  type Change,
  type Entry,
  type HandAct,
  type Remedy,
  type Settings,
  type Sheet,
  type Verdict,
  type Work,
} from '@taraf/contract'
import {
  changeOfWork,
  checks as allChecks,
  isSameImage,
  missingNeeds,
  refusal,
  standingsOf,
  stands,
  transmitterSettingsOf,
  type Check,
} from '@taraf/core'
import { type SettingsAct } from '@taraf/core/atLink'
import { atTransmitter, demoPlace, lookAt, type Meddler } from '@taraf/demo'
import type { Captured } from '@taraf/takes'
import { Adversary } from './adversary'
import type { Bench, Seen } from './bench'

export interface TakeNote {
  readonly check: string
  readonly verdict: Verdict
  /** The take itself wrote what it found, and proved it. */
  readonly wrote: boolean
  /** Something went wrong while it ran. */
  readonly disturbed: boolean
}
export interface WorkDone {
  readonly takes: readonly TakeNote[]
  /** The check that would not pass, and what it says; null where all stand. */
  readonly stuckAt: string | null
}

/** A board that is replaced spoils what stood: a check that passed is taken again, and may need all of its remedies again. */
const mostTakes = 10

/** Who looks on: told before a take, and after it before anything more is repaired. */
export interface Watch {
  readonly before: (check: Check, round: number) => void
  readonly after: (check: Check, note: TakeNote, round: number) => void
}

/**
 * A scripted technician: takes the first check that does not stand, does what its remedies say and records it, until all stand
 * or one is stuck. What a later change spoils is taken again, as the job card would ask.
 */
export const workThrough = async (
  bench: Bench,
  sheet: Sheet,
  watch: Watch,
  adversary = new Adversary(0, 0),
  checks: readonly Check[] = allChecks,
): Promise<WorkDone> => {
  const takes: TakeNote[] = []
  const card = new Card(checks, sheet, bench.seen())
  const byEdges = new Set<string>()
  const tried = new Map<string, Set<string>>()
  for (let check = card.next(); check !== undefined; check = card.next()) {
    const round = takes.filter((t) => t.check === check?.id).length + 1
    if (round > mostTakes) return { takes, stuckAt: `${check.id} does not pass in ${mostTakes} takes` }
    await bench.plugIn()
    card.notice(bench.seen())
    watch.before(check, round)
    const meddler = adversary.forTake(check, sheet, takes.length)
    const { verdict, wrote, remedies, changed } = await takeOf(bench, check, sheet, byEdges.has(check.id), card, meddler)
    const disturbed = adversary.took(verdict !== 'pass' || changed)
    if (remedies.some((r) => r.by === 'work' && r.work.includes('hold by board edges'))) byEdges.add(check.id)
    const note = { check: check.id, verdict, wrote, disturbed }
    takes.push(note)
    watch.after(check, note, round)
    await bench.read()
    if (verdict === 'pass') {
      tried.delete(check.id)
      continue
    }
    const before = tried.get(check.id) ?? new Set()
    tried.set(check.id, before)
    await apply(bench, remedies, card, before, adversary, takes.length)
  }
  return { takes, stuckAt: null }
}

/** What a job card would say: takes and changes in their order, and what they make of each check. */
class Card {
  private readonly entries: Entry[] = []

  constructor(
    private readonly checks: readonly Check[],
    private readonly sheet: Sheet,
    private last: Seen,
  ) {}

  /** What the board says of itself against what it said last, as whenever it is linked: what changed is on the card. */
  notice(seen: Seen): boolean {
    const { last } = this
    this.last = { ...seen, settings: seen.settings ?? last.settings }
    const before = this.entries.length
    if (last.board !== seen.board) this.changed({ what: 'board', from: last.board, to: seen.board })
    if (!isSameImage(last.runs, seen.runs)) this.changed({ what: 'image', from: last.runs, to: seen.runs })
    if (seen.settings !== null) this.set(last.settings, seen.settings)
    return this.entries.length > before
  }

  /** The first check that does not stand and that nothing else must come before. */
  next(): Check | undefined {
    const standings = standingsOf(this.checks, this.sheet, this.entries)
    return this.checks.find((c) => !stands(standings[c.id]) && missingNeeds(c, standings).length === 0)
  }

  get length(): number {
    return this.entries.length
  }

  took(check: Check, verdict: Verdict, began: number): void {
    const what = { check: check.id, checkVersion: check.version, began, verdict, findings: [], evidenceSha256: null }
    this.append({ kind: 'take', ...what, bench: '', board: '' })
  }

  changed(change: Change, within?: string): void {
    this.append({ kind: 'change', change, cause: 'remedy', ...(within === undefined ? {} : { within }) })
  }

  /** What was read back after a write, against what was seen last: whatever else was changed meanwhile is among it. */
  wrote(after: Settings, within?: string): void {
    const { settings } = this.last
    this.last = { ...this.last, settings: after }
    this.set(settings, after, within)
  }

  private set(before: Settings | null, after: Settings, within?: string): void {
    const settings = Object.entries(after)
      .map(([name, to]) => ({ name, from: before?.[name] ?? null, to }))
      .filter(({ from, to }) => from !== to)
    if (before !== null && settings.length > 0) this.changed({ what: 'settings', settings }, within)
  }

  private append(body: Entry['body']): void {
    this.entries.push({ format: 2, job: '', seq: this.entries.length + 1, at: '', by: '', body })
  }
}

const takeOf = async (
  bench: Bench,
  check: Check,
  sheet: Sheet,
  byEdges: boolean,
  card: Card,
  meddler: Meddler,
): Promise<{ verdict: Verdict; wrote: boolean; remedies: Remedy[]; changed: boolean }> => {
  const began = card.length
  const airframe = { tag: 'drawn', board: '', parts: [] }
  let [wrote, knocked] = [false, false]
  const { verdict, findings } = await takeOrEnd(
    bench,
    check,
    { airframe, place: demoPlace, sheet },
    {
      byEdges,
      meddler,
      knocked: () => {
        knocked = true
        card.changed({ what: 'knock' })
      },
      answer: ({ questions }, felt) => lookAt(questions, bench.look(), airframe, felt),
      wrote: ({ after }) => {
        wrote = true
        card.wrote(after, check.id)
      },
      wroteEscs: (change) => {
        wrote = true
        card.changed(change, check.id)
      },
    },
  )
  const changed = card.notice(bench.seen()) || knocked
  card.took(check, verdict, began)
  return {
    verdict,
    wrote,
    changed,
    remedies: findings.flatMap((f) => (f.verdict !== 'pass' && f.remedy !== undefined ? [f.remedy] : [])),
  }
}

/** A take in which something went wrong, and which the board would not go on with, proves nothing, and nothing of it is kept. */
const takeOrEnd = async (
  bench: Bench,
  ...[check, given, person]: Parameters<Bench['take']>
): Promise<Pick<Captured, 'verdict' | 'findings'>> => {
  try {
    return await bench.take(check, given, person)
  } catch (error) {
    const isMeddled = Object.keys(person.meddler ?? {}).length > 0
    if (!isMeddled || !(error instanceof ProblemError)) throw error
    return { verdict: 'refused', findings: refusal(error.message, 'Run it again.') }
  }
}

/** Does each remedy once: work on the airframe first, then what the board measures, then what is written. */
const apply = async (
  bench: Bench,
  remedies: readonly Remedy[],
  card: Card,
  tried: Set<string>,
  adversary: Adversary,
  taken: number,
): Promise<void> => {
  const done = new Set<string>()
  for (const { work, acts, name } of remedies.flatMap((r) => (r.by === 'work' ? firstThatFits(bench, r, tried) : []))) {
    if (done.has(name)) continue
    done.add(name)
    tried.add(name)
    const board = bench.board
    for (const act of acts) bench.do(act)
    const change = changeOfWork[work]
    if (change !== null) card.changed(change)
    if (bench.board !== board) card.notice(bench.seen())
  }
  for (const remedy of remedies) {
    if (remedy.by !== 'transmitter' || done.has(remedy.act)) continue
    done.add(remedy.act)
    const { first = [] } = remedy
    const before = first.find((one) => !tried.has(one))
    card.changed(before === undefined ? setTransmitter(bench, remedy) : workOn(bench, before, tried))
  }
  const image = remedies.find((r) => r.by === 'image')
  if (image !== undefined) {
    card.changed({ what: 'image', ...(await bench.writeImage(image.image, adversary.cutsImage(taken))) })
    card.notice(bench.seen())
  }
  const settings: Settings = Object.assign({}, ...remedies.map((r) => (r.by === 'settings' ? r.settings : {})))
  const acts: SettingsAct[] = [
    ...(remedies.some((r) => r.by === 'calibration') ? [{ do: 'calibrate', sensor: 'gyro' } as const] : []),
    ...(Object.keys(settings).length > 0 ? [{ do: 'write', settings } as const] : []),
  ]
  for (const act of acts) {
    card.wrote((await bench.change(act, adversary.forWrite(taken))).after)
  }
}

/** The model that the demo's airframes are flown with. */
const ownModel = 7

/** Binding in one step, or in two with the power off between, as the sheet lists it. */
const bindingActs = (bench: Bench): HandAct[] => {
  const once: HandAct[] = [{ act: 'transmitter', on: true }, { act: 'bind' }]
  if (!bench.bindsInTwo) return once
  return [...once, { act: 'battery', source: 'none' }, { act: 'cable', in: false }, { act: 'cable', in: true }, { act: 'bind' }]
}

/** Sets on the transmitter what a remedy says; where it does not give that much, its sticks are calibrated. */
const setTransmitter = (bench: Bench, { act: words, transmitter }: Extract<Remedy, { by: 'transmitter' }>): Change => {
  const { channels } = bench.look().transmitter
  const set = transmitterSettingsOf(transmitter, (channel, name) => {
    const now = channels[channel - 1]
    const known = {
      travelLow: now?.travelLow,
      travelHigh: now?.travelHigh,
      subTrim: now?.subTrimUs,
      inverted: Number(now?.inverted),
    }
    return name in known ? (known[name as keyof typeof known] ?? null) : null
  })
  const refused = transmitter.flatMap((one) => bench.tries(atTransmitter(bench.look().transmitter, one)) ?? [])
  return refused.length === 0 ? { what: 'transmitter', words, set } : workOn(bench, 'calibrate sticks', new Set())
}

/** Work at the transmitter that is tried before anything is set on it. */
const workOn = (bench: Bench, work: Work, tried: Set<string>): Change => {
  tried.add(work)
  for (const act of actsOf[work](bench, 0, []) ?? []) bench.do(act)
  return changeOfWork[work] ?? { what: 'transmitter', words: work }
}

/** Nobody works at a motor or an ESC with the battery in. */
const atOutputs = (act: 'swap leads' | 'replace motor' | 'replace esc' | 'reseat esc', outputs: readonly number[]): HandAct[] => [
  { act: 'battery', source: 'none' },
  ...outputs.map((output) => ({ act, output })),
]

/** What is done to the airframe, or null where a look says that there is nothing to do of it; how it is held is not. */
const actsOf: Readonly<Record<Work, (bench: Bench, socket: number, outputs: readonly number[]) => HandAct[] | null>> = {
  'fasten board': (bench) => (bench.look().boardScrews === 'loose' ? [{ act: 'fasten' }] : null),
  'replace board': () => [{ act: 'replace', part: 'board' }],
  'seat board': () => [{ act: 'seat board' }],
  'hold by board edges': () => null,
  'replace compass': () => [{ act: 'replace', part: 'compass' }],
  'replace barometer': () => [{ act: 'replace', part: 'barometer' }],
  'replace position receiver': () => [{ act: 'replace', part: 'position receiver' }],
  'take load off': () => [{ act: 'take load off' }],
  'clear short': () => [{ act: 'clear short' }],
  'unplug what draws': () => [{ act: 'clear short' }],
  'replace regulator': () => [{ act: 'replace', part: 'regulator' }],
  'fit video antenna': () => [{ act: 'fit video antenna' }],
  'replace motor': (bench, _, outputs) => {
    if (outputs.length > 0) return atOutputs('replace motor', outputs)
    const { eye, motors } = bench.look()
    const rubbing = motors.filter((m) => eye.rubbing.includes(m.position))
    return rubbing.length === 0 ? null : rubbing.map(({ output }) => ({ act: 'replace motor', output }))
  },
  'unplug past the board': () => [{ act: 'unplug past the board' }],
  'choose model': (bench) => (bench.look().receiver.light === 'blinking slowly' ? [{ act: 'model', id: ownModel }] : null),
  'bind receiver': (bench) => {
    const { light } = bench.look().receiver
    return light === 'steady' || light === 'off' ? null : bindingActs(bench)
  },
  'set receiver silent': () => [{ act: 'loss', receiver: 'silent' }],
  'feed receiver': () => [{ act: 'battery', source: 'none' }, { act: 'feed receiver' }],
  'plug receiver lead': (bench) => (bench.look().receiver.lead ? null : [{ act: 'receiver lead', in: true }]),
  'place receiver antenna': () => [{ act: 'receiver antenna' }],
  'replace receiver': () => [
    { act: 'battery', source: 'none' },
    { act: 'replace', part: 'receiver' },
  ],
  'fit telemetry wire': () => [{ act: 'telemetry wire', in: true }],
  'calibrate sticks': () => [{ act: 'stick calibration' }],
  'mend transmitter': () => [{ act: 'mend transmitter' }],
  'reseat ESC plug': (_, __, outputs) => atOutputs('reseat esc', outputs),
  'replace ESC': (_, __, outputs) => atOutputs('replace esc', outputs),
  'swap motor leads': (_, __, outputs) => atOutputs('swap leads', outputs),
  'look at motor leads': () => [],
  'put right prop': (_, __, outputs) => outputs.map((output) => ({ act: 'lay prop', output })),
  'replace prop': (_, __, outputs) => outputs.map((output) => ({ act: 'lay prop', output })),
  'update part': () => [{ act: 'update part', part: 'receiver' }],
  'reseat plug': (bench, socket) =>
    bench.look().sockets[socket - 1]?.plugged === 'nothing' || bench.look().sockets[socket - 1]?.plug === 'home'
      ? null
      : [
          { act: 'reseat socket', socket },
          { act: 'rewire socket', socket },
        ],
  'move plug': (bench, socket) => {
    const { sockets } = bench.look()
    const from = sockets.find((s) => s.socket > 3 && s.plugged !== 'nothing')?.socket
    return from === undefined || sockets[socket - 1]?.plugged !== 'nothing' ? null : [{ act: 'move plug', from, to: socket }]
  },
}

/**
 * Of the work that a remedy names, the first that there is anything to do of and that was not tried yet at this check: screws are tried by
 * hand, plugs looked at. Where all was tried, the last once more.
 */
const firstThatFits = (
  bench: Bench,
  { work, socket = 0, outputs = [] }: Extract<Remedy, { by: 'work' }>,
  tried: ReadonlySet<string>,
): { work: Work; acts: HandAct[]; name: string }[] => {
  const fitting = work.flatMap((one) => {
    const acts = actsOf[one](bench, socket, outputs)
    return acts === null ? [] : [{ work: one, acts, name: `${one} ${socket} ${outputs.join(' ')}` }]
  })
  const wanted = fitting.find(({ name }) => !tried.has(name)) ?? fitting[fitting.length - 1]
  return wanted === undefined ? [] : [wanted]
}
