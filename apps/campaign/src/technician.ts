import type { Change, Entry, HandAct, Remedy, Segment, Settings, Sheet, Verdict, Work } from '@taraf/contract'
import {
  changeOfWork,
  checks as allChecks,
  documentOf,
  evaluate,
  missingNeeds,
  questionsOf,
  segmentsOf,
  standingsOf,
  stands,
  writeOf,
  type Check,
} from '@taraf/core'
import { demoPlace, lookAt, markOf } from '@taraf/demo'
import type { Bench } from './bench'

export interface TakeNote {
  readonly check: string
  readonly verdict: Verdict
  /** The take itself wrote what it found, and proved it. */
  readonly wrote: boolean
}
export interface WorkDone {
  readonly takes: readonly TakeNote[]
  readonly handedOver: boolean
}

const mostTakes = 6

/** Who looks on: told before a take, and after it before anything more is mended. */
export interface Watch {
  readonly before: (check: Check, round: number) => void
  readonly after: (check: Check, note: TakeNote, round: number) => void
}

/**
 * A scripted technician: takes the first check that does not stand, does what its remedies say and records it, until all stand
 * or one is stuck. What a later change spoils is taken again, as the job card would ask.
 */
export const workThrough = (
  bench: Bench,
  sheet: Sheet,
  at: Date,
  watch: Watch,
  checks: readonly Check[] = allChecks,
): WorkDone => {
  const takes: TakeNote[] = []
  const card = new Card(checks, sheet)
  const byEdges = new Set<string>()
  const tried = new Map<string, Set<string>>()
  for (let check = card.next(); check !== undefined; check = card.next()) {
    const round = takes.filter((t) => t.check === check?.id).length + 1
    if (round > mostTakes) return { takes, handedOver: false }
    watch.before(check, round)
    const { verdict, wrote, remedies } = takeOf(bench, check, sheet, at, byEdges.has(check.id), card)
    if (remedies.some((r) => r.work?.includes('hold by board edges') === true)) byEdges.add(check.id)
    const note = { check: check.id, verdict, wrote }
    takes.push(note)
    watch.after(check, note, round)
    bench.read()
    if (verdict === 'pass') continue
    const before = tried.get(check.id) ?? new Set()
    tried.set(check.id, before)
    apply(bench, remedies, card, before)
  }
  return { takes, handedOver: true }
}

/** What a job card would say: takes and changes in their order, and what they make of each check. */
class Card {
  private readonly entries: Entry[] = []

  constructor(
    private readonly checks: readonly Check[],
    private readonly sheet: Sheet,
  ) {}

  /** The first check that does not stand and that nothing else must come before. */
  next(): Check | undefined {
    const standings = standingsOf(this.checks, this.sheet, this.entries)
    return this.checks.find((c) => !stands(standings[c.id]) && missingNeeds(c, standings).length === 0)
  }

  took(check: Check, verdict: Verdict): void {
    const what = { check: check.id, checkVersion: check.version, verdict, findings: [], evidenceSha256: null }
    this.append({ kind: 'take', ...what, bench: '', board: '' })
  }

  changed(change: Change): void {
    this.append({ kind: 'change', change, cause: 'remedy' })
  }

  wrote(before: Settings, after: Settings): void {
    const settings = Object.entries(after)
      .map(([name, to]) => ({ name, from: before[name] ?? null, to }))
      .filter(({ from, to }) => from !== to)
    if (settings.length > 0) this.changed({ what: 'settings', settings })
  }

  private append(body: Entry['body']): void {
    this.entries.push({ job: '', seq: this.entries.length + 1, at: '', by: '', body })
  }
}

const takeOf = (
  bench: Bench,
  check: Check,
  sheet: Sheet,
  at: Date,
  byEdges: boolean,
  card: Card,
): { verdict: Verdict; wrote: boolean; remedies: Remedy[] } => {
  const { stage, segments: wanted, proof = [] } = check.capture
  const settings = bench.settings()
  const questions = questionsOf(check, sheet)
  const airframe = { tag: 'drawn', board: '', parts: [] }
  const captured = {
    at,
    airframe,
    place: demoPlace,
    sheet,
    settings,
    observations:
      questions !== null
        ? lookAt(questions, bench.look(), airframe)
        : segmentsOf(check).flatMap((s) => markOf(s, bench.look().antenna)),
  }
  const segments: Segment[] = []
  const decided = (soFar: Segment) =>
    evaluate(check, documentOf(check, { ...captured, segments: [...segments, soFar] })).verdict !== 'refused'
  for (const segment of wanted)
    segments.push(
      questions !== null ? { label: segment.label, streams: {} } : bench.capture(stage, segment, { byEdges, decided }),
    )
  let { verdict, findings } = evaluate(check, documentOf(check, { ...captured, segments }))
  const remedy = writeOf(check, findings)
  if (remedy !== null) {
    bench.mend(remedy)
    const written = bench.settings()
    card.wrote(settings, written)
    const more = proof.map((segment) => bench.capture(stage, segment, { byEdges }))
    ;({ verdict, findings } = evaluate(check, documentOf(check, { ...captured, segments: [...segments, ...more], written })))
  }
  card.took(check, verdict)
  return {
    verdict,
    wrote: remedy !== null,
    remedies: findings.flatMap((f) => (f.verdict !== 'pass' && f.remedy !== undefined ? [f.remedy] : [])),
  }
}

/** Does each remedy once: work on the airframe first, then what the board measures, then what is written. */
const apply = (bench: Bench, remedies: readonly Remedy[], card: Card, tried: Set<string>): void => {
  const done = new Set<string>()
  for (const { work, acts, name } of remedies.flatMap((r) => firstThatFits(bench, r, tried))) {
    if (done.has(name)) continue
    done.add(name)
    tried.add(name)
    for (const act of acts) bench.do(act)
    const change = changeOfWork[work]
    if (change !== null) card.changed(change)
  }
  const image = remedies.find((r) => r.image !== undefined)?.image
  if (image !== undefined) card.changed({ what: 'firmware', from: '', to: bench.writeImage(image) })
  const before = bench.settings()
  if (remedies.some((r) => r.calibrate === 'gyro')) bench.mend({ calibrate: 'gyro' })
  const settings = Object.assign({}, ...remedies.map((r) => r.settings ?? {})) as Record<string, number>
  if (Object.keys(settings).length > 0) bench.mend({ settings })
  card.wrote(before, bench.settings())
}

/** What is done to the airframe, or null where a look says that there is nothing to do of it; how it is held is not. */
const actsOf: Readonly<Record<Work, (bench: Bench, socket: number) => HandAct[] | null>> = {
  'fasten board': (bench) => (bench.look().boardScrews === 'loose' ? [{ act: 'fasten' }] : null),
  'replace board': () => [{ act: 'replace', part: 'board' }],
  'seat board': () => [{ act: 'seat board' }],
  'hold by board edges': () => null,
  'replace compass': () => [{ act: 'replace', part: 'compass' }],
  'replace barometer': () => [{ act: 'replace', part: 'barometer' }],
  'replace position receiver': () => [{ act: 'replace', part: 'position receiver' }],
  'clear short': () => [{ act: 'clear short' }],
  'unplug what draws': () => [{ act: 'clear short' }],
  'replace regulator': () => [{ act: 'replace', part: 'regulator' }],
  'fit video antenna': () => [{ act: 'fit video antenna' }],
  'replace motor': (bench) => {
    const { eye, motors } = bench.look()
    const rubbing = motors.filter((m) => eye.rubbing.includes(m.position))
    return rubbing.length === 0 ? null : rubbing.map(({ output }) => ({ act: 'replace motor', output }))
  },
  'unplug past the board': () => [{ act: 'unplug past the board' }],
  'update part': () => [{ act: 'update part', part: 'receiver' }],
  'reseat plug': (bench, socket) =>
    bench.look().sockets[socket - 1]?.plugged === 'nothing'
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
  { work = [], socket = 0 }: Remedy,
  tried: ReadonlySet<string>,
): { work: Work; acts: HandAct[]; name: string }[] => {
  const fitting = work.flatMap((one) => {
    const acts = actsOf[one](bench, socket)
    return acts === null ? [] : [{ work: one, acts, name: `${one} ${socket}` }]
  })
  const wanted = fitting.find(({ name }) => !tried.has(name)) ?? fitting[fitting.length - 1]
  return wanted === undefined ? [] : [wanted]
}
