import type { Finding, Settings, Sheet } from '@taraf/contract'
import { checks, groupsOf, isNeeded, namesSetting, planOf, type Check } from '@taraf/core'
import { Rig, actOn, definitions, soundAirframe, soundSettings } from '@taraf/rig'
import { benchOf, lookedAt } from '../tests/heardRig'
import { drawnAt } from './draw'
import { demoShop, sheetOf } from './rigs'

jest.setTimeout(300_000)

/** The airframe that has every part; all that a sheet can ask for is asked. */
const whole: Sheet = { ...sheetOf('L4'), leavesOut: {}, asks: ['sensors.sixPoses'] }
/** What only ESCs that are taught need is looked at on a type that has such. */
const older = sheetOf('K4')
const sheetFor = (check: Check): Sheet => (isNeeded(check, whole) ? whole : older)
/** What is measured, and can be spoiled: a snapshot of what a board was as it came happened once. */
const measured = checks.filter(
  (c) => c.id !== 'board.asReceived' && isNeeded(c, sheetFor(c)) && planOf(c, sheetFor(c)).some((w) => w.kind !== 'answers'),
)
/** Settings that move a finding and are not read, each with why. */
const notRead: Readonly<Record<string, readonly string[]>> = {
  // A trim is a small angle, measured and proved by Level after Follow: only a trim that Level would never pass moves it.
  'orientation.follow': ['level.roll', 'level.pitch'],
  // What a board takes for a lean it pushes against all the while: that moves a jump by less than a point. Their own checks find them.
  'failsafe.response': ['gyro.*', 'accel.*', 'board.*', 'chip.*', 'level.*', 'radio.pitch.channel'],
  'failsafe.levels': ['gyro.*', 'accel.*', 'level.*', 'radio.yaw.channel'],
  'failsafe.waits': ['accel.*'],
  'failsafe.bySwitch': ['radio.pitch.channel', 'gyro.*'],
  'failsafe.finalForm': ['gyro.*', 'accel.*'],
  // The current in hover is shown beside the voltage, and nobody judges it here.
  'hover.hop': ['power.ampScale', 'power.ampOffset', 'power.ampDivides'],
}
/** Settings that are read though none moves a finding alone: a rule is broken by two together, a sheet sets what it needs. */
const onlyTogether: ReadonlySet<string> = new Set(['board.rules', 'board.baseline'])
/** Settings that are read though another value close by, or at the far end, moves nothing: each with why. */
const unmoved: Readonly<Record<string, readonly string[]>> = {
  // Its channel is left out of what is looked at: only one that a stick or a switch is on as well moves anything.
  'radio.order': ['radio.strengthChannel'],
  'radio.steadiness': ['radio.strengthChannel'],
  // Whichever motor an output drives, it runs as smoothly: only the name of its place is another.
  'motors.smooth': ['output.*'],
  // A larger gain pushes the same motors harder; one of zero pushes none.
  'motors.response': ['gain.*'],
  // A gate that is set higher lets the same throttle pass.
  'radio.ends': ['arm.throttleMost'],
  // What the sticks do counts where they arm it.
  'arming.arms': ['radio.yaw.*'],
  // Only an idle that turns no motor moves it; and where none turns when armed, none was seen to stop.
  'arming.disarms': ['motors.idle', 'motors.turnWhenArmed'],
  // Any position idles alike: only an output that drives none stands.
  'arming.idle': ['output.*'],
  // What a command lifts goes by them; the command itself does not.
  // Where none turns with throttle down, none was seen to stop there.
  'failsafe.response': ['motors.idle', 'motors.most', 'motors.turnWhenArmed', 'rotor.hover'],
  'failsafe.levels': ['motors.turnWhenArmed'],
  // Only what holds a height at loss goes by the hover that it is told of: this sheet has it sink.
  'failsafe.bySwitch': ['rotor.hover', 'motors.turnWhenArmed'],
  // A simulated frame has no ringing of its own that a filter would let through, and its loop keeps step at every rate.
  'hover.hop': ['filter.*', 'loop.rate'],
}

/** What a take finds where settings are changed; or why it ended, if only because it took twice the time of a sound one. */
const findingsOf = async (
  check: Check,
  change: Settings,
  seed = 11,
  mostS = Infinity,
): Promise<{ findings: readonly Finding[] | string; tookS: number }> => {
  const sheet = sheetFor(check)
  const airframe = soundAirframe(sheet, 'TB-1', 11, demoShop(drawnAt))
  airframe.fix.secondsToFix = 5
  // Another seed is the same airframe at another hour.
  const rig = new Rig({ seed, airframe, settings: soundSettings(sheet) })
  const wrong = rig.board.settings.write(change)
  if (wrong !== null) throw new Error(wrong)
  rig.board.settings.save()
  actOn(rig, { act: 'transmitter', on: true })
  rig.skip(3)
  // By the bench's clock: a board that starts again counts from zero.
  const { clock } = benchOf(rig)
  const tookS = () => clock.nowMs() / 1000
  const row = () => {
    if (tookS() > mostS) throw new Error('it takes too long')
    return 'keep' as const
  }
  try {
    return { findings: (await lookedAt(rig, check, sheet, { meddler: { row } }, 'TB-1')).findings, tookS: tookS() }
  } catch (error) {
    // What ends a take is another finding too.
    return { findings: error instanceof Error ? error.message : String(error), tookS: tookS() }
  }
}

/** What a finding says, as numbers and words that can be compared. */
const said = (findings: readonly Finding[] | string): Map<string, string | number> =>
  typeof findings === 'string'
    ? new Map([['ended', findings]])
    : new Map(
        findings.flatMap(({ key, value, verdict, limit }): [string, string | number][] => [
          [`${key} verdict`, verdict],
          [`${key} limit`, JSON.stringify(limit?.equals ?? null)],
          ...numbersIn(value).map((v, i): [string, string | number] => [`${key} ${i}`, v]),
        ]),
      )
const numbersIn = (value: Finding['value']): (string | number)[] =>
  typeof value === 'object' ? Object.values(value).flat(2) : [value]

const isRefused = (found: Map<string, string | number>): boolean =>
  found.has('ended') || found.get('refused verdict') === 'refused'

/** Whether what is said differs by more than the noise of the sensors and the clock of a take let it. */
const differs = (
  a: Map<string, string | number>,
  b: Map<string, string | number>,
  spread: ReadonlyMap<string, number>,
): boolean =>
  a.size !== b.size ||
  [...a].some(([key, value]) => {
    const other = b.get(key)
    return typeof value !== 'number' || typeof other !== 'number'
      ? value !== other
      : Math.abs(value - other) > Math.max(1e-6, 8 * (spread.get(key) ?? 0))
  })

/** Another value than the one that is set: close by, or at the far end of the range. */
const other = (name: string, now: number, how: How): number => {
  const { min, max, choices } = definitions.find((d) => d.name === name) ?? { min: 0, max: 0 }
  if (how === 'far') return max - now > now - min ? max : min
  const whole = choices !== undefined || (max - min >= 2 && [min, max, now].every(Number.isInteger))
  const step = whole ? 1 : (max - min) / 20
  return now + step <= max ? now + step : now - step
}
type How = 'near' | 'far'
/** What comes of changing settings: another finding, a take that proves nothing, or what was found before. */
const lookAtChanges = async (check: Check) => {
  const { findings, tookS } = await findingsOf(check, {})
  const base = said(findings)
  expect(isRefused(base)).toBe(false)
  const again: Map<string, string | number>[] = []
  for (const seed of [12, 13, 14]) again.push(said((await findingsOf(check, {}, seed)).findings))
  const spread = new Map(
    [...base].map(([key, value]) => [
      key,
      typeof value === 'number' ? Math.max(...again.map((s) => Math.abs(value - Number(s.get(key) ?? value)))) : 0,
    ]),
  )
  const now = { ...Object.fromEntries(definitions.map((d) => [d.name, d.factory])), ...soundSettings(sheetFor(check)) }
  return async (names: readonly string[], how: How): Promise<'moved' | 'refused' | 'same'> => {
    const change = Object.fromEntries(names.map((name) => [name, other(name, now[name] ?? 0, how)]))
    const found = said((await findingsOf(check, change, 11, 2 * tookS)).findings)
    return isRefused(found) ? 'refused' : differs(base, found, spread) ? 'moved' : 'same'
  }
}

const names = definitions.map((d) => d.name)

describe.each(measured.map((c) => [c.id, c] as const))('%s', (_id, check) => {
  test('reads every setting that moves what it finds, and names none that moves nothing', async () => {
    const { settings } = check.reads
    const cameOf = await lookAtChanges(check)
    /** Those of some that move what is found: what moves nothing when all of it is changed is not looked at one by one. */
    const movingOf = async (some: readonly string[], how: How): Promise<string[]> => {
      const came = some.length === 0 ? 'same' : await cameOf(some, how)
      if (came === 'same') return []
      // A take that proves nothing spoils nothing; what else was changed with it is looked at all the same.
      if (some.length === 1) return came === 'moved' ? [...some] : []
      const half = some.length >> 1
      return [...(await movingOf(some.slice(0, half), how)), ...(await movingOf(some.slice(half), how))]
    }
    const isRead = (name: string) => settings.some((wanted) => namesSetting(wanted, name))
    const unread = names.filter(
      (name) => !isRead(name) && notRead[check.id]?.some((wanted) => namesSetting(wanted, name)) !== true,
    )
    // At the far end of their ranges many settings keep a board from arming: those are looked at group by group.
    const far: string[] = []
    for (const [, group] of groupsOf(unread)) far.push(...(await movingOf(group, 'far')))
    const moves = async (wanted: string) => {
      for (const name of names.filter((one) => namesSetting(wanted, one)))
        for (const how of ['near', 'far'] as const) if ((await cameOf([name], how)) !== 'same') return true
      return false
    }
    const readInVain: string[] = []
    for (const wanted of onlyTogether.has(check.id) ? [] : settings)
      if (unmoved[check.id]?.includes(wanted) !== true && !(await moves(wanted))) readInVain.push(wanted)
    expect({ notRead: [...new Set([...(await movingOf(unread, 'near')), ...far])], readInVain }).toEqual({
      notRead: [],
      readInVain: [],
    })
  })
})
