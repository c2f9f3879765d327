import type { Evidence, Finding, Remedy, Settings, SheetPart } from '@taraf/contract'
import { byHand, judged, judgedAs, refusal, shown } from '../check'
import { limitFor } from '../limits'
import { framesOf, unheard, type Frames } from '../radio/frames'
import { strengthOf } from '../radio/sticks'
import { channelsInUse } from '../radio/steadinessFindings'
import { modeName } from './modeName'
import { apartUs, positionsIn, standsAt } from './positions'
import { segmentOf, type Switch } from './segment'
import { failsafeOffsets, flightModes, marginOf, switchTable, type Found, type Measured, type Planned } from './table'

type Row = NonNullable<SheetPart['switchPlan']>[number]

/** The plan that the board is set to: each function with a channel, and its second condition where it has one. */
export const planOnBoard = (settings: Settings | undefined): Planned[] => {
  const at = (name: string) => Number(settings?.[name] ?? 0)
  const names = Object.keys(settings ?? {}).flatMap((name) => /^switch\.([^.]+)\.channel$/.exec(name)?.[1] ?? [])
  return names.flatMap((name): Planned[] => {
    const first = { channel: at(`switch.${name}.channel`), from: at(`switch.${name}.low`), to: at(`switch.${name}.high`) }
    const second = {
      channel: at(`switch.${name}.withChannel`),
      from: at(`switch.${name}.withLow`),
      to: at(`switch.${name}.withHigh`),
    }
    return first.channel === 0 ? [] : [{ function: name, bands: second.channel === 0 ? [first] : [first, second] }]
  })
}

/** The settings that make a row of the sheet's plan so on the board. */
const settingsOf = (row: Row): Settings => ({
  [`switch.${row.function}.channel`]: row.channel,
  [`switch.${row.function}.low`]: row.from,
  [`switch.${row.function}.high`]: row.to,
  [`switch.${row.function}.withChannel`]: row.with?.channel ?? 0,
  ...(row.with === undefined
    ? {}
    : { [`switch.${row.function}.withLow`]: row.with.from, [`switch.${row.function}.withHigh`]: row.with.to }),
})

/**
 * Each position of each switch as it was measured, and the whole table of what they switch, over every combination. What the sheet says is
 * meant (two positions alike, a function without a switch) is no fault.
 */
export const switchFindings = (evidence: Evidence): Finding[] => {
  const { sheet, board } = evidence
  const { settings } = board
  const onBoard = planOnBoard(settings)
  const missing = (sheet.switchPlan ?? []).filter((row) => !onBoard.some((p) => p.function === row.function))
  const plan = [...onBoard, ...missing.map((row): Planned => ({ function: row.function, bands: [] }))]
  const switches = sheet.switches ?? []
  const strength = strengthOf(settings)
  const channels = channelsInUse(settings).filter((channel) => channel !== strength)
  const measured: Measured[] = []
  const modes: Finding[] = []
  for (const one of switches) {
    const frames = framesOf(evidence, segmentOf(one))
    if (frames === null) return unheard(one.name)
    const act = `Run it again: move the switch ${one.name} through all of its positions, half a second in each, and nothing else.`
    const found = positionsIn(frames, one.channel, channels)
    if ('why' in found) return refusal(`${one.name}: ${found.why}`, act)
    const { positions } = found
    if (positions.length < one.positions)
      return refusal(`${one.name}: ${positions.length} of its ${one.positions} positions were seen`, act)
    if (positions.length > one.positions)
      return refusal(`${one.name}: ${positions.length} positions were seen, and the sheet says ${one.positions}`, act)
    measured.push({ channel: one.channel, positions, atPowerUp: one.atPowerUp - 1 })
    modes.push(...modeFindings(evidence, one, frames, positions, plan))
  }
  if (wantsModes(plan, switches) && !evidence.segments.some(({ events = [] }) => events.some(({ what }) => what === 'mode')))
    return refusal('the board told of no mode', 'Make sure that the link is up, then run it again.')
  const least = limitFor(sheet, 'switches.margin').min
  const positions = measured.flatMap(({ channel, positions: at }, s) =>
    at.flatMap((us, p): Finding[] => {
      const name = `${switches[s]?.name} ${p + 1}`
      const margin = marginOf(channel, us, plan)
      const value = shown(name, us, 'us')
      return Number.isFinite(margin)
        ? [value, judged(`${name} margin`, margin, 'us', { min: least }, marginRemedy(plan, sheet, channel, us, least))]
        : [value]
    }),
  )
  const { combinations, faults } = switchTable(measured, plan)
  const unmeant = faults.filter((f) => !isMeant(f, sheet))
  // Positions that are alike because a function is missing are put right with it.
  const blamed = (sheet.switchPlan ?? []).filter((row) => unmeant.some((f) => f.functions.includes(row.function)))
  const alike = alikeIn(measured, switches, plan).filter((f) => !blamed.some((row) => row.channel === f.channel))
  const wrong = [...unmeant, ...alike]
  // What is named by a fault of the table is put right with that.
  const named = new Set(wrong.flatMap((f) => f.functions))
  const isUnnamed = ({ function: name }: Planned) => !named.has(name)
  return [
    ...positions,
    ...modes,
    shown('combinations', combinations, ''),
    ...elsewhere(onBoard, sheet),
    ...unplanned(onBoard.filter(isUnnamed), sheet),
    ...otherAt(measured, switches, onBoard.filter(isUnnamed), sheet),
    ...armedAt(evidence, switches),
    ...wrong.map((f): Finding => ({
      key: [f.fault, ...f.functions].join(' '),
      value: f.count,
      unit: f.example === null ? '' : 'combinations',
      limit: { max: 0 },
      verdict: 'fail',
      remedy: faultRemedy(f, sheet, settings, measured),
    })),
  ]
}

/** A mode that wants a fix or a height may fall back to this one on the bench. */
const fallsBackTo = 'selfLevel'

/** The mode that the board reports at each position of a switch that chooses one, against what its bands say. */
const modeFindings = (
  evidence: Evidence,
  one: Switch,
  frames: Frames,
  positions: readonly number[],
  plan: readonly Planned[],
): Finding[] => {
  const modes = plan.filter((p) => (flightModes as readonly string[]).includes(p.function))
  const told = (evidence.segments.find((s) => s.label === segmentOf(one))?.events ?? []).filter((e) => e.what === 'mode')
  if (told.length === 0 || !modes.some((p) => p.bands.some((b) => b.channel === one.channel))) return []
  const asked = (row: number): string[] => {
    const isIn = ({ channel, from, to }: Planned['bands'][number]) => {
      const us = Math.round(frames.channel(channel)?.[row] ?? 0)
      return us >= from && us <= to
    }
    return modes.filter((p) => p.bands.length > 0 && p.bands.every(isIn)).map((p) => p.function)
  }
  const at = standsAt(frames, one.channel)
  const seen = positions.map((us) => {
    const stand = at.find((s) => Math.abs(s.us - us) <= apartUs)
    if (stand === undefined) return null
    const [until, wanted] = [frames.t[stand.to - 1] as number, asked(stand.to - 1)]
    return {
      reported: String(told.findLast((e) => e.t <= until)?.mode ?? ''),
      wanted: wanted[0] ?? 'rate',
      one: wanted.length < 2,
    }
  })
  const countsFromNought =
    positions.length > 2 &&
    seen.slice(1).every((s, p) => s !== null && s.reported === seen[p]?.wanted) &&
    new Set(seen.map((s) => s?.wanted)).size > 1
  return seen.flatMap((s, p): Finding[] => {
    // Two modes at once are a fault of their own: which of them wins is no matter.
    if (s === null || !s.one) return []
    const found = {
      key: `${one.name} ${p + 1} mode`,
      value: modeName(s.reported),
      unit: '',
      limit: { equals: modeName(s.wanted) },
    }
    const isRight = s.reported === s.wanted || (!['rate', 'blend'].includes(s.wanted) && s.reported === fallsBackTo)
    return [
      isRight
        ? { ...found, verdict: 'pass' }
        : {
            ...found,
            verdict: 'fail',
            remedy: byHand(
              countsFromNought
                ? `The board counts the positions of switch ${one.name} from zero: take one from the number of each mode's position.`
                : 'The board reports another mode than its own bands ask for. Read its settings again, then run it again.',
            ),
          },
    ]
  })
}

/** Functions that the board takes from another channel than the sheet plans: what else they do wrong may not show before that is right. */
const elsewhere = (onBoard: readonly Planned[], { switchPlan = [] }: SheetPart): Finding[] =>
  switchPlan.flatMap((row): Finding[] => {
    const bands = onBoard.find((p) => p.function === row.function)?.bands ?? []
    if (bands.length === 0 || bands.some((band) => band.channel === row.channel)) return []
    return [
      judgedAs(`channel of ${row.function}`, bands[0]?.channel ?? 0, row.channel, {
        by: 'settings',
        act: `Set ${modeName(row.function)} as the build sheet plans it.`,
        settings: settingsOf(row),
      }),
    ]
  })

/** Functions that the board takes from a channel, and that the sheet does not plan. */
const unplanned = (onBoard: readonly Planned[], { switchPlan }: SheetPart): Finding[] => {
  const extra = onBoard.filter(({ function: name }) => switchPlan?.some((row) => row.function === name) === false)
  if (extra.length === 0) return []
  const names = extra.map(({ function: name }) => modeName(name)).join(', ')
  return [
    judgedAs(
      'unplanned',
      extra.map(({ function: name, bands }) => `${modeName(name)} on channel ${bands[0]?.channel}`).join(', '),
      'none',
      {
        by: 'settings',
        act: `Take ${names} off the switches: the build sheet does not plan it.`,
        settings: Object.fromEntries(extra.map(({ function: name }) => [`switch.${name}.channel`, 0])),
      },
    ),
  ]
}

/** Positions at which the board has other functions on than the sheet plans, of those that it takes from the channel that is planned. */
const otherAt = (
  measured: readonly Measured[],
  switches: readonly Switch[],
  onBoard: readonly Planned[],
  { switchPlan = [] }: SheetPart,
): Finding[] =>
  measured.flatMap(({ channel, positions }, s) =>
    positions.flatMap((us, p): Finding[] => {
      const isIn = (band: { from: number; to: number } | undefined): boolean | null =>
        band === undefined ? null : us >= band.from && us <= band.to
      const rows = switchPlan.filter((row) => {
        const [planned, set] = [
          [{ channel: row.channel, from: row.from, to: row.to }, ...(row.with === undefined ? [] : [row.with])],
          onBoard.find(({ function: name }) => name === row.function)?.bands ?? [],
        ]
        const [wanted, is] = [planned, set].map((bands) => isIn(bands.find((band) => band.channel === channel)))
        return wanted !== null && is !== null && wanted !== is
      })
      if (rows.length === 0) return []
      const names = (all: readonly Row[]) => all.map((row) => modeName(row.function)).join(', ')
      return [
        judgedAs(`${switches[s]?.name} ${p + 1} functions`, `not as planned: ${names(rows)}`, 'as planned', {
          by: 'settings',
          act: `Set ${names(rows)} as the build sheet plans it.`,
          settings: Object.assign({}, ...rows.map(settingsOf)) as Settings,
        }),
      ]
    }),
  )

/** A switch that armed it while it was only moved through its positions. */
const armedAt = ({ segments }: Evidence, switches: readonly Switch[]): Finding[] =>
  switches.flatMap((one) =>
    segments.some(({ label, events = [] }) => label === segmentOf(one) && events.some(({ what }) => what === 'armed'))
      ? [
          judgedAs(
            `${one.name} arms`,
            'it armed',
            'stays disarmed',
            byHand(
              'Battery out. It armed while a switch was only moved through its positions: compare the switch plan with the transmitter, then run it again.',
            ),
          ),
        ]
      : [],
  )

/** Whether a switch that is measured chooses a mode. */
const wantsModes = (plan: readonly Planned[], switches: readonly Switch[]): boolean =>
  plan.some(
    ({ function: name, bands }) =>
      (flightModes as readonly string[]).includes(name) &&
      bands.some((band) => switches.some(({ channel }) => channel === band.channel)),
  )

/** A function that is never on for want of a switch is meant so where the sheet says why. */
const isMeant = ({ fault, functions }: Found, { switchPlan = [] }: SheetPart): boolean =>
  fault === 'never on' && switchPlan.some((row) => row.function === functions[0] && row.meant !== undefined)

interface Alike extends Omit<Found, 'fault'> {
  readonly fault: 'two positions alike'
  readonly channel: number
}
/** Switches of which two positions do the very same, where the sheet does not say that they may. */
const alikeIn = (measured: readonly Measured[], switches: readonly Switch[], plan: readonly Planned[]): Alike[] =>
  measured.flatMap(({ channel, positions }, s): Alike[] => {
    const one = switches[s] as Switch
    const does = positions.map((us) =>
      plan
        .flatMap(({ function: name, bands }) =>
          bands.some((b) => b.channel === channel && us >= b.from && us <= b.to) ? [name] : [],
        )
        .join(),
    )
    const count = does.length - new Set(does).size
    return count === 0 || one.alike !== undefined
      ? []
      : [{ fault: 'two positions alike', functions: [one.name], count, example: null, channel }]
  })

/** The band edge that lies too near goes where the sheet has it; where that is no other place, to the far side of the margin. */
const marginRemedy = (
  plan: readonly Planned[],
  { switchPlan = [] }: SheetPart,
  channel: number,
  us: number,
  least: number,
): Remedy => {
  const planned = Object.assign({}, ...switchPlan.map(settingsOf)) as Settings
  const edges = plan.flatMap(({ function: name, bands }) =>
    bands.flatMap((band, second) => {
      if (band.channel !== channel) return []
      const setting = (side: 'Low' | 'High') => `switch.${name}.${second === 0 ? side.toLowerCase() : `with${side}`}`
      const isIn = us >= band.from && us <= band.to
      return [
        { name: setting('Low'), at: band.from, to: isIn ? us - least : us + least },
        { name: setting('High'), at: band.to, to: isIn ? us + least : us - least },
      ].filter((edge) => Math.abs(us - edge.at) < least)
    }),
  )
  const settings = Object.fromEntries(
    edges.map(({ name, at, to }) => {
      const wanted = planned[name]
      return [name, wanted !== undefined && Math.abs(us - wanted) >= least && wanted !== at ? wanted : Math.round(to)]
    }),
  )
  const words = Object.entries(settings).map(([name, value]) => `${name} ${value} us`)
  return { by: 'settings', act: `Move the edge of the band away from the position: ${words.join(', ')}.`, settings }
}

/** As the sheet plans it, where the board is set otherwise; else what is to be done by hand. */
const faultRemedy = (
  fault: Found | Alike,
  sheet: SheetPart,
  settings: Settings | undefined,
  measured: readonly Measured[],
): Remedy => {
  const rows = (sheet.switchPlan ?? []).filter((row) => fault.functions.includes(row.function))
  const differing = Object.entries(Object.assign({}, ...rows.map(settingsOf)) as Settings).filter(
    ([name, value]) => Number(settings?.[name] ?? 0) !== value,
  )
  if (differing.length > 0)
    return {
      by: 'settings',
      act: `Set ${rows.map((row) => modeName(row.function)).join(' and ')} as the build sheet plans it.`,
      settings: Object.fromEntries(differing),
    }
  return byHand(mixAct(fault, sheet, measured) ?? acts[fault.fault])
}

/** Failsafe on the channel of the modes: what a second switch must add at each of their positions, on the transmitter. */
const mixAct = ({ fault, functions }: Found | Alike, sheet: SheetPart, measured: readonly Measured[]): string | null => {
  const { switchPlan = [], switches = [] } = sheet
  const row = switchPlan.find((r) => r.function === 'failsafe')
  const isMode = switchPlan.some((r) => (flightModes as readonly string[]).includes(r.function) && r.channel === row?.channel)
  const at = measured.find(({ channel }) => channel === row?.channel)
  if (functions[0] !== 'failsafe' || !['no failsafe from a mode', 'never on'].includes(fault)) return null
  if (row === undefined || !isMode || at === undefined) return null
  const outside = at.positions.map((us, p) => ({ us, p })).filter(({ us }) => us < row.from || us > row.to)
  if (outside.length === 0) return null
  const { each, common } = failsafeOffsets(
    outside.map(({ us }) => us),
    row,
    limitFor(sheet, 'switches.margin').min,
  )
  const name = switches.find(({ channel }) => channel === row.channel)?.name ?? ''
  const words = each.map(
    ({ least, most }, i) => `${Math.ceil(least)} to ${Math.floor(most)} us at position ${(outside[i]?.p ?? 0) + 1}`,
  )
  return (
    `On the transmitter, mix the failsafe switch into channel ${row.channel}. With it on, it adds to switch ${name} ${words.join(', ')}` +
    (common === null ? ': each position needs its own offset.' : `: ${Math.round(common)} us does for all.`)
  )
}

const acts: Readonly<Record<(Found | Alike)['fault'], string>> = {
  'armed at power-up': 'Invert the channel of the arm switch on the transmitter, or put the switch in its power-up position.',
  'no self-level': 'Plan a position for self-level in the build sheet, then set it.',
  'two modes at once': 'Plan bands that do not overlap in the build sheet, then set them.',
  'never on': 'Give the function a switch, or say in the build sheet why it goes without one.',
  'never off': 'Plan a band for the function that one position of its switch lies outside of.',
  'no failsafe from a mode': 'Plan the failsafe switch so that one move reaches it from every mode.',
  'sounder with arm': 'Plan the sounder so that it cannot be on while armed.',
  'two positions alike': 'Give each position something to do, or say in the build sheet why two may be alike.',
}

/** Gestures of the sticks that do more than arm: off, unless the sheet sets them. */
export const gestureFindings = ({ sheet, board: { settings } }: Evidence): Finding[] =>
  Object.entries(settings ?? {})
    .filter(([name]) => name.startsWith('gesture.'))
    .map(([name, value]): Finding => {
      const wanted = Number(sheet.settings?.[name] ?? 0)
      return judged(
        name,
        value,
        '',
        { min: wanted, max: wanted },
        {
          by: 'settings',
          act: `Set ${name} to ${wanted}: the sticks must not do more than the build sheet says.`,
          settings: { [name]: wanted },
        },
      )
    })

/** The same as the findings of a check: where a board has no gestures, that is shown. */
export const gesturesFound = (evidence: Evidence): Finding[] => {
  const found = gestureFindings(evidence)
  return found.length > 0 ? found : [shown('gestures', 'none', '')]
}
