import type { CampaignReport, Share } from '@taraf/contract/campaign'
import type { AirframeNote } from './campaign'

/** Puts the notes of all airframes together. Those near a limit are counted apart: their verdicts are chance. */
export const reportOf = (seed: number, notes: readonly AirframeNote[], wallSeconds: number): CampaignReport => {
  const clear = notes.filter((n) => !n.nearLimit)
  const sound = clear.filter((n) => n.isSound)
  const all = clear.flatMap((n) => n.faults)
  const count = (
    of: readonly Readonly<Record<'caught' | 'blamedElsewhere' | 'mendedFirst', boolean>>[],
    key: 'caught' | 'blamedElsewhere' | 'mendedFirst',
  ) => of.filter((f) => f[key]).length
  const faults = Object.fromEntries(
    [...new Set(all.map((f) => f.id))].sort().map((id) => {
      const mine = all.filter((f) => f.id === id)
      const caught = count(mine, 'caught')
      return [
        id,
        {
          injected: mine.length,
          caught,
          missed: mine.length - caught,
          blamedElsewhere: count(mine, 'blamedElsewhere'),
          mendedFirst: count(mine, 'mendedFirst'),
          caughtRate: interval(caught, mine.length),
        },
      ]
    }),
  )
  const undisturbed = clear.filter((n) => n.disturbed.length === 0).flatMap((n) => n.faults)
  const alarmed = sound.filter((n) => n.alarms.length > 0)
  const handedOver = notes.filter((n) => n.stuck === null).length
  const mean = (of: (n: AirframeNote) => number) =>
    notes.length === 0 ? 0 : notes.reduce((sum, n) => sum + of(n), 0) / notes.length
  return {
    format: 'taraf-campaign/1',
    seed,
    airframes: notes.length,
    soundAirframes: sound.length,
    falseAlarms: alarmed.length,
    nearLimit: notes.length - clear.length,
    faults,
    handedOver,
    stuck: notes.length - handedOver,
    incidents: notes.reduce((sum, n) => sum + n.incidents, 0),
    takesPerAirframe: mean((n) => n.takes.length),
    simulatedMinutesPerAirframe: mean((n) => n.simulatedS) / 60,
    wallSeconds,
    escaped: clear.filter((n) => n.escaped.length > 0).map((n) => n.seed),
    alarmSeeds: alarmed.map(({ seed, alarms }) => ({ seed, checks: [...alarms] })),
    missedSeeds: missedIn(clear),
    disturbed: disturbedOf(notes),
    stuckSeeds: notes.flatMap(({ seed, stuck }) => (stuck === null ? [] : [{ seed, why: stuck }])),
    rates: {
      falseAlarms: interval(alarmed.length, sound.length),
      handedOver: interval(handedOver, notes.length),
      caught: interval(count(all, 'caught'), all.length),
      // What goes wrong during a take is no fault of a remedy.
      mendedFirst: interval(count(undisturbed, 'mendedFirst'), undisturbed.length),
    },
  }
}

/** The faults that were not found, or not repaired by the first remedy although nothing went wrong, and where. */
const missedIn = (notes: readonly AirframeNote[]): CampaignReport['missedSeeds'] =>
  notes.flatMap(({ seed, faults, disturbed }) =>
    faults
      .filter(({ caught, mendedFirst }) => !caught || (!mendedFirst && disturbed.length === 0))
      .map(({ id, caught }) => ({ seed, fault: id, caught })),
  )

/**
 * By kind: how often it happened, was noticed at once, and was in an airframe that was handed over with something untrue of it; and in one
 * of which that was true as it came.
 */
const disturbedOf = (notes: readonly AirframeNote[]): CampaignReport['disturbed'] => {
  const all = notes.flatMap((n) =>
    n.disturbed.map((d) => ({ ...d, missed: n.escaped.length > 0, madeWorse: n.madeWorse.length > 0 })),
  )
  return Object.fromEntries(
    [...new Set(all.map((d) => d.id))].sort().map((id) => {
      const mine = all.filter((d) => d.id === id)
      const count = (key: 'noticed' | 'missed' | 'madeWorse') => mine.filter((d) => d[key]).length
      return [id, { drawn: mine.length, noticed: count('noticed'), missed: count('missed'), madeWorse: count('madeWorse') }]
    }),
  )
}

/** A share with its 95 % interval (Wilson 1927, as in the NIST/SEMATECH e-Handbook, 7.2.4.1). */
export const interval = (hits: number, of: number): Share => {
  if (of === 0) return { rate: 0, low: 0, high: 1 }
  const z95 = 1.959964
  const p = hits / of
  const spread = z95 * Math.sqrt((p * (1 - p)) / of + (z95 * z95) / (4 * of * of))
  const middle = p + (z95 * z95) / (2 * of)
  const scale = 1 + (z95 * z95) / of
  return { rate: p, low: Math.max(0, (middle - spread) / scale), high: Math.min(1, (middle + spread) / scale) }
}
