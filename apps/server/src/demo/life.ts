import type { BuiltPart, Change, EntryBody, Finding, FlownHover, Remedy, Runs, Settings, Verdict } from '@taraf/contract'
import { checks, flownWith, hoverProof, isNeeded, radians, transmitterSettingsOf, wantsHovers, type Check } from '@taraf/core'
import { valuesOf, type SettingsAct } from '@taraf/core/atLink'
import {
  SimulatedBench,
  atTransmitter,
  demoPlace,
  lookAt,
  rigOf,
  sheetOf,
  takeAtBench,
  type RigOrder,
  type Story,
} from '@taraf/demo'
import { actOn, handsOf, randomFrom, type Random, type Shop } from '@taraf/rig'
import { changeSettings } from '@taraf/takes'
import { packEvidence, type PackedEvidence } from '../files/packEvidence'

/** An airframe of the demo, and how far it came. */
export interface LifeOrder {
  readonly tag: string
  readonly type: string
  readonly board: string
  readonly seed: number
  readonly parts: readonly BuiltPart[]
  readonly story: Story
  /** When its card is opened, ms since 1970. */
  readonly atMs: number
}

/** What was done with an airframe, in the order in which it was, each with the time at which it was. */
export type Deed = { readonly atMs: number } & (
  | { readonly did: 'looked'; readonly settings: Settings; readonly runs: Runs | null }
  | {
      readonly did: 'took'
      readonly check: string
      readonly verdict: Verdict
      readonly findings: readonly Finding[]
      readonly packed: PackedEvidence | null
      /** What the take wrote to the board, and what else it changed. */
      readonly wrote: readonly Settings[]
      readonly changed: readonly Change[]
    }
  /** What the newest take says to do, done. */
  | { readonly did: 'set'; readonly change: Change }
  | { readonly did: 'written'; readonly after: Settings; readonly act: string }
)

const minutes = 60_000

/**
 * Lives an airframe through on a simulated bench, with the real checks, up to where its story ends. It knows no database: what it did is what it
 * gives.
 *
 * @param flown hover proofs of others of its type, the newest first; its own is put before them
 */
export async function* lifeOf(order: LifeOrder, shop: Shop, flown: FlownHover[]): AsyncGenerator<Deed> {
  const { tag, type, board, seed, parts, story } = order
  if (story === 'none' || story === 'open') return
  const spoil = spoilFor(story, randomFrom(seed))
  const rig = rigOf({ type, board, seed, ...(spoil === undefined ? {} : { spoil }) }, { ...shop })
  const sheet = sheetOf(type)
  const airframe = { tag, board, parts: [...parts] }
  let atMs = order.atMs
  const bench = new SimulatedBench(rig, new Date(atMs))
  const bodies: EntryBody[] = []
  yield { atMs, did: 'looked', settings: valuesOf(rig.board.settings.list()), runs: rig.board.identity.firmware }

  const take = async (check: Check): Promise<Extract<Deed, { did: 'took' }>> => {
    bench.clock.setDate(new Date(atMs))
    const [wrote, changed]: [Settings[], Change[]] = [[], []]
    const given = { place: demoPlace, sheet, airframe, hovers: wantsHovers(check) ? [...flown] : [] }
    const { evidence, verdict, findings } = await takeAtBench(bench, check, given, {
      answer: ({ questions }, felt) => lookAt(questions, handsOf(rig), airframe, felt),
      wrote: ({ after }) => void wrote.push(after),
      wroteEscs: (change) => void changed.push(change),
    })
    const packed = evidence === null ? null : packEvidence(evidence)
    const what = { check: check.id, checkVersion: check.version, began: 0, verdict, findings: [...findings] }
    bodies.push({ kind: 'take', ...what, evidenceSha256: null, bench: '', board })
    if (check.id === hoverProof && verdict === 'pass') flown.unshift(...flownIn(tag, findings))
    return { atMs, did: 'took', check: check.id, verdict, findings, packed, wrote, changed }
  }

  for (const check of checks.filter((c) => isNeeded(c, sheet))) {
    const first = await take(check)
    yield first
    atMs += 6 * minutes
    if (first.verdict === 'pass') continue
    if (story === 'fail' || story === 'failed') break
    const remedy = first.findings.find((f) => f.verdict === 'fail' && f.remedy !== undefined)?.remedy
    if (remedy?.by === 'transmitter') {
      const change = setOnTransmitter(bench, bodies, remedy)
      bodies.push({ kind: 'change', change, cause: '' })
      yield { atMs, did: 'set', change }
    } else if (remedy?.by === 'settings' || remedy?.by === 'calibration') {
      const act: SettingsAct =
        remedy.by === 'settings' ? { do: 'write', settings: remedy.settings } : { do: 'calibrate', sensor: remedy.calibrate }
      const { after } = await bench.until(bench.link.untilUp().then(() => changeSettings(bench.link, act)))
      yield { atMs, did: 'written', after, act: remedy.act }
    }
    atMs += 3 * minutes
    yield await take(check)
    atMs += 4 * minutes
  }
}

const flownIn = (tag: string, findings: readonly Finding[]): FlownHover[] => {
  const value = (key: string) => findings.find((f) => f.key === key)?.value
  const [command, volts] = [value('hoverThrottle'), value('volts')]
  return typeof command === 'number' && typeof volts === 'number' ? [{ tag, command, volts }] : []
}

/** Ordinary spread, now and then with a fault that a remedy repairs; with one that stays where the story fails. */
const spoilFor =
  (story: Story, random: Random): RigOrder['spoil'] =>
  ({ imu, board, shop, transmitter }) => {
    const spread = (deg: number) => radians(random.spread(deg))
    if (random.uniform() < 0.3) imu.gyroBias = [imu.gyroBias[0], imu.gyroBias[1], radians(0.9)]
    if (random.uniform() < 0.3) board.seating = { ...board.seating, roll: radians(1.6) }
    if (random.uniform() < 0.25) Object.assign(transmitter.channels[3] ?? {}, { travelLow: 80 })
    shop.plate = { roll: spread(0.4), pitch: spread(0.4) }
    if (story === 'fail' || story === 'failed') Object.assign(board, { screws: 'loose', looseShake: [radians(0.7), 0, 0] })
  }

/** Sets on the transmitter what a remedy says, and tells it as it is recorded. */
const setOnTransmitter = (
  { rig }: SimulatedBench,
  bodies: readonly EntryBody[],
  remedy: Extract<Remedy, { by: 'transmitter' }>,
): Change => {
  const { channels } = handsOf(rig).transmitter
  const set = transmitterSettingsOf(remedy.transmitter, (channel, name) => {
    const now = channels[channel - 1]
    return name === 'travelLow' || name === 'travelHigh' ? (now?.[name] ?? null) : null
  })
  for (const one of remedy.transmitter) actOn(rig, atTransmitter(handsOf(rig).transmitter, one))
  const named = bodies.map(flownWith).findLast((found) => found !== null)
  return {
    what: 'transmitter',
    words: remedy.act,
    set,
    ...(named == null ? {} : { transmitter: named.transmitter, model: named.model }),
  }
}
