import type { Change, Entry, EntryBody, Overall, Runs, SheetPart, Standing, Standings, StandingState } from '@taraf/contract'
import { isNeeded, type Check } from './check'
import { hoverProof, hoversOtherwise } from './hover/otherwise'
import { openItems, parkedFor } from './items'

/**
 * What every check is worth now: a pure fold over a job card's entries, ordered by their sequence numbers alone.
 * A refused take changes nothing; a pass, a fail and nothing else can become stale.
 */
export const standingsOf = (checks: readonly Check[], sheet: SheetPart, entries: readonly Entry[]): Standings => {
  const ordered = [...entries].sort((a, b) => a.seq - b.seq)
  return Object.fromEntries(checks.map((check) => [check.id, standingOf(check, sheet, ordered)]))
}

const standingOf = (check: Check, sheet: SheetPart, entries: readonly Entry[]): Standing => {
  if (!isNeeded(check, sheet)) return { state: 'absent' }
  const spoilsIt = ({ body }: Entry) => body.kind === 'change' && body.within !== check.id && spoils(body.change, check, sheet)
  const foundIn = (take: number | undefined) => {
    const body = entries.find((entry) => entry.seq === take)?.body
    return body?.kind === 'take' ? body.findings : []
  }
  return entries.reduce<Standing>(
    (now, entry) => {
      const { seq, body } = entry
      if (body.kind === 'take' && body.check === check.id && body.verdict !== 'refused') {
        // What was changed while it was taken meets it, as if it had come after.
        const during = entries.find((e) => e.seq > body.began && e.seq < seq && spoilsIt(e))
        return during === undefined ? { state: body.verdict, take: seq } : { state: 'stale', take: seq, by: during.seq }
      }
      if (body.kind === 'aside' && body.check === check.id) return { ...now, state: 'aside', by: seq }
      if (now.state !== 'pass' && now.state !== 'fail') return now
      const spoilt =
        body.kind === 'change'
          ? spoils(body.change, check, sheet)
          : check.reads.hover === true && isHop(body) && hoversOtherwise(foundIn(now.take), body.findings)
      return spoilt ? { ...now, state: 'stale', by: seq } : now
    },
    { state: 'open' },
  )
}

/** One that failed was flown all the same: what held it up then counts. */
const isHop = (body: EntryBody): body is Extract<EntryBody, { kind: 'take' }> =>
  body.kind === 'take' && body.check === hoverProof && body.verdict !== 'refused'

/** Whether a change meets what a check reads, and the value differs. */
export const spoils = (change: Change, { reads }: Pick<Check, 'reads'>, sheet: SheetPart = {}): boolean => {
  switch (change.what) {
    case 'settings':
      return change.settings.some(
        ({ name, from, to }) => from !== to && reads.settings.some((wanted) => namesSetting(wanted, name)),
      )
    case 'image':
      return reads.image && !isSameImage(change.from, change.to)
    case 'escs':
      return change.settings.some(
        ({ name, from, to }) => from !== to && reads.escs?.some((wanted) => wanted === '*' || wanted === name),
      )
    case 'board':
      // Another board has its own image and settings, and is another part.
      return (
        change.from !== change.to &&
        (reads.image ||
          reads.built === true ||
          reads.settings.length > 0 ||
          reads.parts.includes('board') ||
          reads.acts.includes('board'))
      )
    case 'part':
      return reads.parts.includes(change.part) || (reads.built === true && change.act === 'replaced' && !atParts.has(change.part))
    case 'knock':
    case 'remount':
    case 'lead':
    case 'prop':
      return reads.acts.includes(change.what)
    case 'transmitter': {
      if (!reads.acts.includes('transmitter')) return false
      const { set } = change
      return set === undefined || set.some((one) => one.from !== one.to && (reads.onTransmitter?.(one, sheet) ?? true))
    }
  }
}

/** What is done at parts, and puts none in for another. */
const atParts: ReadonlySet<string> = new Set(['power wiring', 'receiver leads', 'part firmware', 'sockets'])

/** Two images are the same where all that is known of both is. */
export const isSameImage = (a: Runs | null, b: Runs): boolean =>
  a !== null &&
  a.name === b.name &&
  a.version === b.version &&
  (a.features === undefined || b.features === undefined || [...a.features].sort().join() === [...b.features].sort().join()) &&
  (a.sha256 === undefined || b.sha256 === undefined || a.sha256 === b.sha256)

/** Which results a change would spoil, were it made now: those that stand or fail and that it meets. */
export const wouldSpoil = (checks: readonly Check[], standings: Standings, change: Change, sheet: SheetPart = {}): string[] =>
  checks.flatMap((check) => {
    const { state } = standings[check.id] ?? { state: 'open' }
    return (state === 'pass' || state === 'fail') && spoils(change, check, sheet) ? [check.id] : []
  })

/** Whether `wanted` names the setting: a name, `group.*` for all of a group, or `group.*.name` for that one of each in it. */
export const namesSetting = (wanted: string, name: string): boolean => {
  if (wanted.endsWith('*')) return name.startsWith(wanted.slice(0, -1))
  const [before, after] = wanted.split('*')
  return after === undefined ? wanted === name : name.startsWith(before ?? '') && name.endsWith(after)
}

/** The checks that must stand before this one and do not. Set aside and absent ones stand. */
export const missingNeeds = (check: Check, standings: Standings): string[] => check.needs.filter((id) => !stands(standings[id]))

export const stands = (standing: Standing | undefined): boolean =>
  standing !== undefined && ['pass', 'aside', 'absent'].includes(standing.state)

/** What somebody said last of props and nuts for this very connection of this board's battery; null where nobody did. */
export const propsSaid = (
  entries: readonly Pick<Entry, 'body'>[],
  board: string,
  powerId: string,
): 'props off' | 'props on' | null => {
  const last = entries.findLast(({ body }) => body.kind === 'confirmed' && body.powerId === powerId && body.board === board)?.body
  return last?.kind === 'confirmed' ? last.what : null
}
export const isPropsOff = (entries: readonly Pick<Entry, 'body'>[], board: string, powerId: string): boolean =>
  propsSaid(entries, board, powerId) === 'props off'

/**
 * Whether what a take says to do may be done: it decides and fails, or it was refused and nothing came after it, neither another take of
 * its check nor a change.
 */
export const isToMend = (standings: Standings, entries: readonly Entry[], seq: number): boolean => {
  const body = entries.find((entry) => entry.seq === seq)?.body
  if (body?.kind !== 'take') return false
  if (body.verdict === 'refused')
    return !entries.some(
      ({ seq: later, body: came }) =>
        later > seq && (came.kind === 'change' || (came.kind === 'take' && came.check === body.check)),
    )
  const standing = standings[body.check]
  return standing?.take === seq && standing.state === 'fail'
}

/** The state of a whole job card: the worst of its checks, or how it was handed over. */
export const overallOf = (standings: Standings, entries: readonly Entry[]): Overall => {
  const handed = entries.find((e) => e.body.kind === 'handover')?.body
  if (handed?.kind === 'handover') return handed.outcome === 'pass' ? 'passed' : 'failed'
  const states = Object.values(standings).map((s) => s.state)
  for (const worst of ['fail', 'stale', 'open'] as const) if (states.includes(worst)) return worst
  return 'ready'
}

/** The check to start next: the first in the order of the work that does not stand, and whose needs all do. */
export const nextCheck = (checks: readonly Check[], standings: Standings): Check | null =>
  checks.find((check) => !stands(standings[check.id] ?? { state: 'open' }) && missingNeeds(check, standings).length === 0) ?? null

export interface StationMark {
  /** Its worst standing; absent where the sheet needs nothing of it. */
  readonly state: StandingState
  /** How many of its checks stand, of those that the sheet needs. */
  readonly stands: number
  readonly of: number
}

const worstFirst: readonly StandingState[] = ['fail', 'stale', 'open', 'aside', 'pass']

/** What the checks of one station are worth together. */
export const stationMark = (checks: readonly Pick<Check, 'id'>[], standings: Standings): StationMark => {
  const needed = checks.map(({ id }) => standings[id] ?? { state: 'open' as const }).filter(({ state }) => state !== 'absent')
  return {
    state: worstFirst.find((state) => needed.some((one) => one.state === state)) ?? 'absent',
    stands: needed.filter(stands).length,
    of: needed.length,
  }
}

/** What a list shows of a card. */
export const listingOf = (
  checks: readonly Check[],
  standings: Standings,
  entries: readonly (Entry & { hash: string })[],
): {
  readonly next: string | null
  readonly openItems: number
  readonly parked: string | null
  readonly route: StandingState[]
} => ({
  next: nextCheck(checks, standings)?.id ?? null,
  openItems: openItems(entries).length,
  parked: parkedFor(entries),
  route: [...new Set(checks.map((check) => check.station))].map(
    (station) =>
      stationMark(
        checks.filter((check) => check.station === station),
        standings,
      ).state,
  ),
})

/** A pause longer than this between two entries was no work on the airframe. */
const longestWorkMs = 15 * 60_000

/** Minutes spent at each station: from the entry before each take to the take, where that was no longer than work takes. */
export const minutesByStation = (
  checks: readonly Pick<Check, 'id' | 'station'>[],
  entries: readonly Pick<Entry, 'at' | 'body'>[],
): Readonly<Record<string, number>> => {
  const stationOf = new Map(checks.map(({ id, station }) => [id, station]))
  const spent: Record<string, number> = {}
  entries.forEach(({ at, body }, i) => {
    const before = entries[i - 1]
    const station = body.kind === 'take' ? stationOf.get(body.check) : undefined
    if (station === undefined || before === undefined) return
    const ms = Date.parse(at) - Date.parse(before.at)
    if (ms > 0 && ms <= longestWorkMs) spent[station] = (spent[station] ?? 0) + ms
  })
  return Object.fromEntries(Object.entries(spent).map(([station, ms]) => [station, Math.max(1, Math.round(ms / 60_000))]))
}
