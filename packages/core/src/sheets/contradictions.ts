import { socketUses, type BoardSetting, type Sheet, type SheetPart } from '@taraf/contract'
import { compareVersions } from 'compare-versions'
import { brokenRules } from '../board/rules'
import { isNeeded } from '../check'
import { checkById, checks } from '../checks'
import { isPulse, kbitOf } from '../escs/frame'
import { escSetting } from '../escs/names'
import { asksSpeeds, isAnalogue } from '../escs/range'
import { mostHomeM } from '../failsafe/losses'
import { mixerOf, positionsOf } from '../geometry'
import { limitFor } from '../limits'
import { limitsAgainst, limitsBeyondSense, limitsThatDecideNothing } from './wrongLimits'
import { radians } from '../rotation'
import { whyLeftOut } from '../sheetHas'
import { inSwitches, inSwitchPlan } from './inSwitchPlan'

/** What of a sheet contradicts the rest of it: the place, as in `geometry.booms[2].motors[0].output`, and what is wrong there. */
export interface Contradiction {
  readonly place: string
  readonly why: string
}

/** What a board's settings are called and may be, or null where no board of the target was ever seen. */
export type KnownSettings = readonly Pick<BoardSetting, 'name' | 'min' | 'max' | 'unit' | 'factory' | 'choices'>[] | null

/** All that contradicts itself in a sheet, in the order of the sheet. */
export const contradictionsIn = (sheet: Sheet, known: KnownSettings = null): Contradiction[] => [
  ...inGeometry(sheet),
  ...inParts(sheet),
  ...inSockets(sheet),
  ...inSettings(sheet, known),
  ...inRules(sheet, known),
  ...inSocketSettings(sheet),
  ...inEscs(sheet, known),
  ...inRotor(sheet),
  ...inPack(sheet),
  ...inIdleOff(sheet),
  ...inHome(sheet),
  ...inSwitchPlan(sheet),
  ...inSwitches(sheet),
  ...inPlannedSensors(sheet),
  ...inLimits(sheet),
  ...inChecks(sheet),
]

function* geometryOf({ geometry: { booms, propDiameterM } }: Sheet): Generator<Contradiction> {
  const outputs = new Map<number, string>()
  for (const [i, { name, motors, bearingDeg, radiusM }] of booms.entries()) {
    const at = `geometry.booms[${i}]`
    const same = booms.findIndex((b) => b.name === name)
    if (same < i) yield { place: `${at}.name`, why: `"${name}" is the name of boom ${same} too` }
    for (const [j, other] of booms.slice(0, i).entries()) {
      const apart = distance(radiusM, bearingDeg, other.radiusM, other.bearingDeg)
      if (apart < 0.01) yield { place: at, why: `it ends where boom ${j}, "${other.name}", ends: two motors on one position` }
      else if (apart < propDiameterM)
        yield {
          place: at,
          why: `its prop strikes that of boom ${j}, "${other.name}": the ends are ${apart.toFixed(3)} m apart, the props are ${propDiameterM} m`,
        }
    }
    for (const [m, { tier, output, turn }] of motors.entries()) {
      const place = `${at}.motors[${m}]`
      if ((tier === 'only') !== (motors.length === 1))
        yield {
          place: `${place}.tier`,
          why: motors.length === 1 ? 'a single motor is the only one of its boom' : 'of two motors one is upper and one is lower',
        }
      if (motors.findIndex((other) => other.tier === tier) < m)
        yield { place: `${place}.tier`, why: `two motors on one position: "${name}" has another ${tier} motor` }
      if (m > 0 && motors[0]?.turn === turn)
        yield { place: `${place}.turn`, why: 'two motors of one boom that turn the same way do not cancel their torque' }
      const taken = outputs.get(output)
      if (taken !== undefined) yield { place: `${place}.output`, why: `output ${output} is used by "${taken}" too` }
      outputs.set(output, name)
    }
  }
  const without = axisWithoutControl(booms)
  if (without !== null) yield { place: 'geometry.booms', why: without }
  const gap = widestGap(booms.map((b) => b.bearingDeg))
  if (gap.deg >= 180)
    yield {
      place: 'geometry.booms',
      why: `a boom is missing: there is none over ${gap.deg.toFixed(0)} deg clockwise from bearing ${gap.from.toFixed(0)} deg, so nothing holds that side up`,
    }
}

/** Motors that leave an axis without control: the mixer has no answer for it. */
const axisWithoutControl = (booms: Sheet['geometry']['booms']): string | null => {
  const positions = positionsOf({ booms, body: { lengthM: 1, widthM: 1 }, propDiameterM: 1 })
  if (new Set(positions.map((p) => p.turn)).size === 1)
    return 'all motors turn the same way, so nothing holds its yaw: let every other one turn the other way'
  try {
    mixerOf(positions)
    return null
  } catch {
    return 'these motors leave an axis without control: compare positions and directions with the frame'
  }
}
const inGeometry = (sheet: Sheet) => [...geometryOf(sheet)]

const distance = (r1: number, deg1: number, r2: number, deg2: number): number =>
  Math.sqrt(Math.max(0, r1 * r1 + r2 * r2 - 2 * r1 * r2 * Math.cos(radians(deg1 - deg2))))

const widestGap = (bearings: readonly number[]): { from: number; deg: number } => {
  const sorted = bearings.map((b) => ((b % 360) + 360) % 360).sort((a, b) => a - b)
  const gaps = sorted.map((from, i) => ({ from, deg: (sorted[i + 1] ?? (sorted[0] as number) + 360) - from }))
  return gaps.reduce((widest, gap) => (gap.deg > widest.deg ? gap : widest))
}

const inParts = ({ parts = [], geometry }: Sheet): Contradiction[] => {
  const motors = geometry.booms.reduce((n, b) => n + b.motors.length, 0)
  return parts.flatMap(({ part, count }, i) => {
    if (parts.findIndex((p) => p.part === part) < i) return [{ place: `parts[${i}].part`, why: `"${part}" is listed twice` }]
    return ['motor', 'ESC'].includes(part) && count !== motors
      ? [
          {
            place: `parts[${i}].count`,
            why: `${count} of "${part}", and the geometry has ${motors} motors: a boom is missing, or the count is wrong`,
          },
        ]
      : []
  })
}

const inSockets = ({ board, fitted = [] }: Sheet): Contradiction[] => {
  if (board === undefined) return []
  const has = (use: string) => board.sockets.some((s) => s.use === use)
  const { firmware } = board
  return [
    ...board.sockets.flatMap(({ use }, i) =>
      use !== 'free' && board.sockets.findIndex((s) => s.use === use) < i
        ? [{ place: `board.sockets[${i}].use`, why: `"${use}" is on another socket too` }]
        : [],
    ),
    ...(fitted.includes('position') && !has('position')
      ? [{ place: 'board.sockets', why: 'a position receiver is fitted, and no socket is for it' }]
      : []),
    ...(firmware?.bad ?? []).flatMap(({ version }, i) =>
      firmware?.approved.some((a) => compareVersions(a.version, version) === 0) === true
        ? [{ place: `board.firmware.bad[${i}].version`, why: `version ${version} is approved too` }]
        : [],
    ),
  ]
}

const inSettings = ({ settings, board }: Sheet, known: KnownSettings): Contradiction[] =>
  known === null
    ? []
    : Object.entries(settings).flatMap(([name, value]): Contradiction[] => {
        const found = known.find((k) => k.name === name)
        const place = `settings["${name}"]`
        if (found === undefined) return [{ place, why: `no board of target ${board?.target ?? ''} has a setting of this name` }]
        return value < found.min || value > found.max
          ? [{ place, why: `${value} lies outside ${found.min} to ${found.max} ${found.unit}`.trim() }]
          : []
      })

/** By every rule that the board's own check applies, as far as the sheet, or the factory of a board that was seen, says the settings. */
const inRules = ({ settings }: Sheet, known: KnownSettings): Contradiction[] => {
  const factory = Object.fromEntries((known ?? []).map((k) => [k.name, k.factory]))
  const choices = Object.fromEntries((known ?? []).flatMap((k) => (k.choices === undefined ? [] : [[k.name, k.choices]])))
  return brokenRules(settings, factory, choices).map(({ at, why, act }) => ({
    place: `settings["${at}"]`,
    why: `${why}. ${act}`,
  }))
}

/** Two places of a sheet say what a socket is for: the settings that are written, and the plan that is checked. */
const inSocketSettings = ({ settings, board }: Sheet): Contradiction[] =>
  board === undefined
    ? []
    : Object.entries(settings).flatMap(([name, value]): Contradiction[] => {
        const socket = /^socket\.(\d+)\.use$/.exec(name)?.[1]
        if (socket === undefined) return []
        const should = board.sockets.find((s) => s.socket === Number(socket))?.use ?? 'free'
        const number = socketUses.indexOf(should)
        return value === number
          ? []
          : [
              {
                place: `settings["${name}"]`,
                why: `${value} is for the ${socketUses[value] ?? 'unknown'}, and board.sockets has the ${should} there: write ${number}, or leave it out`,
              },
            ]
      })

/** A protection that is off says why; a reason is for one that is off; a signal that is written is one that the ESCs understand. */
const inEscs = (sheet: Sheet, known: KnownSettings): Contradiction[] => {
  const { escs, settings } = sheet
  if (escs === undefined) return []
  const names = known?.find(({ name }) => name === 'esc.signal')?.choices ?? []
  const spoken = names[settings['esc.signal'] ?? -1]
  return [
    ...Object.entries(escs.settings).flatMap(([name, value]): Contradiction[] =>
      value === 0 && escSetting(name).protects && escs.reasons?.[name] === undefined
        ? [
            {
              place: `escs.settings.${name}`,
              why: 'a protection that is off needs a reason: write it, or the value that it is to have',
            },
          ]
        : [],
    ),
    ...Object.keys(escs.reasons ?? {}).flatMap((name): Contradiction[] =>
      escs.settings[name] === 0 ? [] : [{ place: `escs.reasons.${name}`, why: 'this protection is not off: strike the reason' }],
    ),
    ...(spoken === undefined || escs.understands.includes(spoken)
      ? []
      : [
          {
            place: 'settings["esc.signal"]',
            why: `these ESCs do not understand ${spoken}: they understand ${escs.understands.join(', ')}`,
          },
        ]),
    ...escs.understands.flatMap((name, i): Contradiction[] =>
      isPulse(name) || kbitOf(name) !== null
        ? []
        : [
            {
              place: `escs.understands[${i}]`,
              why: `"${name}" is no signal that is known here: PWM, OneShot125, MultiShot or DShot with its rate`,
            },
          ],
    ),
    ...(isAnalogue(escs.understands) ? inOlderEscs(sheet) : []),
  ]
}

/** ESCs that only pulses reach say nothing of themselves: their range is measured by the KV of the motors. */
const inOlderEscs = (sheet: Sheet): Contradiction[] => [
  ...(sheet.rotor?.kv === undefined
    ? [{ place: 'rotor', why: 'the range of these ESCs is measured by how fast the motors turn: write their KV' }]
    : []),
  ...asksSpeeds.flatMap((id): Contradiction[] =>
    whyLeftOut(sheet, id) !== null
      ? []
      : [
          {
            place: 'leavesOut',
            why: `"${checkById(id)?.title ?? id}" asks how fast an ESC turns, and these do not say: leave ${id} out`,
          },
        ],
  ),
]

const plannedSensors = { altitude: 'barometer', position: 'position', returnHome: 'position', heading: 'compass' } as const

/** A function on a switch that wants a sensor which the type has not. */
const inPlannedSensors = ({ switchPlan = [], fitted = [] }: Sheet): Contradiction[] =>
  switchPlan.flatMap((row, i): Contradiction[] => {
    const sensor = plannedSensors[row.function as keyof typeof plannedSensors] as 'barometer' | 'position' | 'compass' | undefined
    return sensor === undefined || fitted.includes(sensor)
      ? []
      : [
          {
            place: `switchPlan[${i}]`,
            why: `"${row.function}" wants the ${sensor}, and none is fitted: add it to fitted, or strike the row`,
          },
        ]
  })

/** A time with throttle down after which it disarms, in a descent too. */
const inIdleOff = ({ settings, limits }: Sheet): Contradiction[] => {
  const { min = 0 } = limitFor({ limits }, 'disarming.idle')
  const set = settings['arm.idleOff'] ?? 0
  return set === 0 || set >= min
    ? []
    : [
        {
          place: 'settings["arm.idleOff"]',
          why: `after ${set} s with throttle down it would disarm in a descent: ${min} s or more, or 0 for never`,
        },
      ]
}

/** A way home that cannot be over what stands there and under what is allowed. */
const inHome = ({ home, settings, limits }: Sheet): Contradiction[] => {
  if (home === undefined) return []
  const least = home.obstaclesM + (limitFor({ limits }, 'home.over').min ?? 0)
  const most = home.mostHeightM ?? mostHomeM
  const set = settings['home.height']
  if (least > most)
    return [{ place: 'home.mostHeightM', why: `what stands in the way wants ${least} m, and no more than ${most} m are allowed` }]
  return set === undefined || (set >= least && set <= most)
    ? []
    : [
        {
          place: 'settings["home.height"]',
          why: `${set} m is not between ${least} m, over what stands in the way, and ${most} m`,
        },
      ]
}

const inPack = ({ pack, settings }: Sheet): Contradiction[] => {
  const set = settings['power.cells'] ?? 0
  return pack === undefined || set === 0 || set === pack.cells
    ? []
    : [{ place: 'pack.cells', why: `the board is set to ${set} cells: one of the two is wrong` }]
}

const inRotor = ({ rotor }: Sheet): Contradiction[] =>
  rotor?.props !== undefined && rotor.props.clockwise === rotor.props.anticlockwise
    ? [
        {
          place: 'rotor.props.anticlockwise',
          why: `both hands are marked "${rotor.props.clockwise}": nobody could tell them apart`,
        },
      ]
    : []

const inLimits = ({ limits: own }: Sheet): Contradiction[] => [
  ...limitsAgainst(own),
  ...limitsBeyondSense(own),
  ...limitsThatDecideNothing(own),
]

const inChecks = (sheet: Sheet): Contradiction[] => {
  const { leavesOut = {}, setAside = [], asks = [] } = sheet
  return [
    ...Object.keys(leavesOut).flatMap((id) => unknownCheck(`leavesOut["${id}"]`, id)),
    ...setAside.map((id, i) => ({
      place: `setAside[${i}]`,
      why: `"${id}" is left out without a reason: write it in leavesOut, with one`,
    })),
    ...asks.flatMap((id, i) => unknownCheck(`asks[${i}]`, id)),
    ...asks.flatMap((id, i) => (whyLeftOut(sheet, id) === null ? [] : [{ place: `asks[${i}]`, why: `"${id}" is left out too` }])),
    ...inMissing(sheet),
  ]
}

const unknownCheck = (place: string, id: string): Contradiction[] =>
  checkById(id) === undefined ? [{ place, why: `there is no check "${id}"` }] : []

/** A sheet that says something of every part: only what is in it counts, not what it says. */
const something = {
  board: { target: 'any', sockets: [], firmware: { name: 'any', approved: [{ version: '1' }] } },
  versions: [{ part: 'any', approved: ['1'] }],
  escs: { understands: ['DShot600'], settings: {} },
  rotor: { props: { clockwise: 'one', anticlockwise: 'other' } },
  switches: [{ name: 'any', channel: 5, positions: 2, atPowerUp: 1 }],
} satisfies Partial<Sheet>

/** A part of the sheet that says nothing would leave checks out that nobody decided to leave out. */
const inMissing = (sheet: Sheet): Contradiction[] => {
  const { board, versions = [], rotor } = sheet
  const filled = {
    ...something,
    ...sheet,
    board: { ...something.board, ...board },
    versions: versions.length > 0 ? versions : something.versions,
    rotor: { ...something.rotor, ...rotor },
  }
  const without: readonly (readonly [place: string, sheet: SheetPart])[] = [
    ['board', { ...filled, board }],
    ['board.firmware', { ...filled, board: { ...filled.board, firmware: board?.firmware } }],
    ['versions', { ...filled, versions }],
    ['escs', { ...filled, escs: sheet.escs }],
    ['rotor.props', { ...filled, rotor }],
    ['switches', { ...filled, switches: sheet.switches }],
  ]
  return without.flatMap(([place, rest]) => {
    const lost = checks.filter((check) => isNeeded(check, filled) && !isNeeded(check, rest))
    if (lost.length === 0 || (place === 'board.firmware' && board === undefined)) return []
    const names = lost.map(({ id, title }) => `"${title}" (${id})`).join(', ')
    return [{ place, why: `without it nothing is judged by ${names}: write it, or leave each out in leavesOut, with the reason` }]
  })
}
