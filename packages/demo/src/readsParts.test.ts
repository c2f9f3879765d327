import type { Change, Finding } from '@taraf/contract'
import { checks, isNeeded, isOwn, namesSetting, planOf, spoils, type Check } from '@taraf/core'
import { Rig, actOn, definitions, soundAirframe, soundSettings } from '@taraf/rig'
import { lookedAt } from '../tests/heardRig'
import { drawnAt } from './draw'
import { demoShop, sheetOf } from './rigs'

jest.setTimeout(300_000)

const sheet = { ...sheetOf('L4'), leavesOut: {}, asks: ['sensors.sixPoses'] }
const measured = checks.filter(
  (c) => c.id !== 'board.asReceived' && isNeeded(c, sheet) && planOf(c, sheet).some((w) => w.kind !== 'answers'),
)

const rad = Math.PI / 180
const part = (name: string): Change => ({ what: 'part', part: name, act: 'replaced' })
/** Each thing that can be put in for another, done or written, as it moves the rig, and as it stands on a card. */
const moves: Readonly<Record<string, { readonly change: Change; readonly move: (rig: Rig) => void }>> = {
  compass: {
    change: part('compass'),
    move: ({ airframe }) => void Object.assign(airframe.compass, { hardIron: [25, -12, 8], perAmp: [0.9, 0, 0.4] }),
  },
  'compass that is dead': { change: part('compass'), move: ({ airframe }) => void (airframe.compass.dead = true) },
  barometer: { change: part('barometer'), move: ({ airframe }) => void Object.assign(airframe.baro, { noiseM: 0.25 }) },
  'barometer that is dead': { change: part('barometer'), move: ({ airframe }) => void (airframe.baro.dead = true) },
  'position receiver': {
    change: part('position receiver'),
    move: ({ airframe }) => void Object.assign(airframe.fix, { satellites: 5, dilution: 3, secondsToFix: 30 }),
  },
  'position receiver that is dead': {
    change: part('position receiver'),
    move: ({ airframe }) => void (airframe.fix.dead = true),
  },
  regulator: { change: part('regulator'), move: ({ airframe }) => void (airframe.power.railVolts = 4.6) },
  'power wiring': { change: part('power wiring'), move: ({ airframe }) => void (airframe.power.extraRestAmps = 0.9) },
  receiver: { change: part('receiver'), move: ({ airframe }) => void (airframe.receiver.boundTo = 3) },
  'receiver feed': {
    change: part('receiver feed'),
    move: ({ airframe }) => void (airframe.power.receiverOnBattery = false),
  },
  'receiver at loss': { change: part('receiver at loss'), move: ({ airframe }) => void (airframe.receiver.atLoss = 'last') },
  'receiver leads': { change: part('receiver leads'), move: ({ airframe }) => void (airframe.receiver.lead = false) },
  'receiver antenna': {
    change: part('receiver antenna'),
    move: ({ airframe }) => void Object.assign(airframe.receiver, { quality: 0.5, dropOuts: 0.15 }),
  },
  'telemetry wire': { change: part('telemetry wire'), move: ({ airframe }) => void (airframe.receiver.telemetry = false) },
  'another model of the transmitter': {
    change: { what: 'transmitter', words: 'another model chosen' },
    move: ({ airframe }) => void (airframe.transmitter.modelId = 3),
  },
  'travel of a stick': {
    change: {
      what: 'transmitter',
      words: 'travel set',
      set: [{ channel: 4, name: 'travelLow', from: 90, to: 70 }],
    },
    move: ({ airframe }) => Object.assign(airframe.transmitter.channels[3] ?? {}, { travelLow: 70 }) && undefined,
  },
  'travel of a switch': {
    change: {
      what: 'transmitter',
      words: 'travel set',
      set: [{ channel: 6, name: 'travelHigh', from: 100, to: 70 }],
    },
    move: ({ airframe }) => Object.assign(airframe.transmitter.channels[5] ?? {}, { travelHigh: 70 }) && undefined,
  },
  'plug of an ESC': {
    change: part('ESC'),
    move: ({ airframe }) => void Object.assign(airframe.drives[1]?.esc ?? {}, { plug: 'silent' }),
  },
  'ESC of an older make': {
    change: part('ESC'),
    move: ({ airframe }) => void Object.assign(airframe.drives[1]?.esc ?? {}, { understands: ['PWM'] }),
  },
  'ESC with a bad lead': {
    change: part('ESC'),
    move: ({ airframe }) => void Object.assign(airframe.drives[1]?.esc ?? {}, { replyErrors: 0.03 }),
  },
  'ESC that is set otherwise': {
    change: { what: 'escs', settings: [{ output: 2, name: 'timingDeg', from: 16, to: 22 }] },
    move: ({ airframe }) => {
      const esc = airframe.drives[1]?.esc
      if (esc !== undefined)
        Object.assign(esc, { settings: { ...esc.settings, timingDeg: 22 }, saved: { ...esc.saved, timingDeg: 22 } })
    },
  },
  'motor that is wired the other way': {
    change: part('motor'),
    move: ({ airframe }) => void Object.assign(airframe.drives[1] ?? {}, { leadsSwapped: true }),
  },
  'two leads of a motor': {
    change: { what: 'lead', words: 'two leads of a motor swapped' },
    move: ({ airframe }) => void Object.assign(airframe.drives[1] ?? {}, { leadsSwapped: true }),
  },
  motor: { change: part('motor'), move: ({ airframe }) => void Object.assign(airframe.drives[1]?.motor ?? {}, { poles: 12 }) },
  'motor of another winding': {
    change: part('motor'),
    move: ({ airframe }) => void Object.assign(airframe.drives[1]?.motor ?? {}, { kv: 1200, noLoadAmps: 4, imbalance: 9e-6 }),
  },
  'prop with a nick': {
    change: { what: 'prop', words: 'a prop replaced' },
    move: ({ airframe }) => void (airframe.frame.propSet[2] = 'damaged'),
  },
  sockets: {
    change: part('sockets'),
    move: ({ airframe }) => airframe.board.sockets.forEach((socket) => void (socket.plug = 'loose')),
  },
  'board remounted': {
    change: { what: 'remount' },
    move: ({ airframe }) => void (airframe.board.seating = { roll: 6 * rad, pitch: -4 * rad, yaw: 0 }),
  },
  'board of another make': {
    change: { what: 'board', from: 'TB-1', to: 'TB-9' },
    move: (rig) => {
      Object.assign(rig.airframe.board, { target: 'OTHER-1', extraLoad: 0.3, chip: { roll: 0, pitch: 0, yaw: 90 * rad } })
      Object.assign(rig.airframe.imu, { gyroBias: [2 * rad, 0, 0], accelScale: [1.05, 0.94, 1.06], accelBias: [0.6, 0.5, -0.7] })
      rig.replaceBoard()
      rig.board.settings.write({ 'socket.1.use': 1, 'socket.2.use': 2 })
      rig.board.settings.save()
    },
  },
  'another image': {
    change: { what: 'image', from: { name: 'shoreline', version: '3.2.0' }, to: { name: 'shoreline', version: '3.3.0' } },
    move: ({ airframe }) => void (airframe.board.firmware = { name: 'shoreline', version: '3.3.0', features: [] }),
  },
}

const said = async (check: Check, move: (rig: Rig) => void, seed: number): Promise<Map<string, string | number>> => {
  const airframe = soundAirframe(sheet, 'TB-1', 11, demoShop(drawnAt))
  airframe.fix.secondsToFix = 5
  const rig = new Rig({ seed, airframe, settings: soundSettings(sheet) })
  rig.board.settings.save()
  move(rig)
  actOn(rig, { act: 'transmitter', on: true })
  rig.skip(3)
  let findings: readonly Finding[]
  try {
    findings = (await lookedAt(rig, check, sheet, {}, 'TB-1')).findings
  } catch (error) {
    return new Map([['ended', error instanceof Error ? error.message : String(error)]])
  }
  return new Map(
    findings.flatMap(({ key, value, verdict }): [string, string | number][] => [
      [`${key} verdict`, verdict],
      ...(typeof value === 'object' ? Object.values(value).flat(2) : [value]).map((v, i): [string, string | number] => [
        `${key} ${i}`,
        v,
      ]),
    ]),
  )
}

const known = new Map<string, Map<string, string | number>[]>()
const soundOf = async (check: Check): Promise<Map<string, string | number>[]> => {
  const before = known.get(check.id)
  if (before !== undefined) return before
  const found: Map<string, string | number>[] = []
  for (const seed of [11, 12, 13, 14, 15, 16]) found.push(await said(check, () => {}, seed))
  known.set(check.id, found)
  return found
}

/** Whether a take finds something else than sound ones do among themselves. */
const isMoved = async (check: Check, move: (rig: Rig) => void): Promise<boolean> => {
  const sound = await soundOf(check)
  const [base] = sound as [Map<string, string | number>]
  const found = await said(check, move, 11)
  if (found.size !== base.size) return true
  return [...base].some(([key, value]) => {
    const other = found.get(key)
    if (typeof value !== 'number' || typeof other !== 'number') return value !== other
    const spread = Math.max(...sound.map((s) => Math.abs(value - Number(s.get(key) ?? value))))
    return Math.abs(value - other) > Math.max(1e-6, 8 * spread)
  })
}

/** Moves what a check finds, and spoils nothing of it: each with why. */
const spoilsNothing: Readonly<Record<string, readonly string[]>> = {
  // What keeps an airframe on the ground, or delays the pilot by a frame, moves nothing of what was flown before.
  'hover.hop': ['receiver', 'receiver antenna', 'receiver feed', 'receiver leads', 'another model of the transmitter', 'sockets'],
  // A motor that turns faster shakes the frame more, and a jump by a point of the eight that it may have: Smooth running looks at that.
  'failsafe.waits': ['motor of another winding'],
}

describe.each(measured.map((c) => [c.id, c] as const))('%s', (_id, check) => {
  test('is spoiled by every part, act and image that moves what it finds', async () => {
    const missed: string[] = []
    for (const [name, { change, move }] of Object.entries(moves))
      if (!spoils(change, check, sheet) && !spoilsNothing[check.id]?.includes(name) && (await isMoved(check, move)))
        missed.push(name)
    expect(missed).toEqual([])
  })
})

/** Parts that a check reads though no move of the rig shows why. */
const inWords: Readonly<Record<string, readonly string[]>> = {
  // What hangs on the wiring loads the regulator; the rig's own rail does not sag with what is drawn at rest.
  'power wiring': ['intake.rails', 'arming.refuses', 'failsafe.finalForm'],
  // Only a sheet that wants a fix has it tried without one.
  'position receiver': ['arming.refuses'],
  // Firmware of a receiver can send channels otherwise; that of the rig does not.
  'part firmware': [
    'radio.link',
    'radio.order',
    'radio.ends',
    'radio.centre',
    'radio.steadiness',
    'switches.table',
    'arming.refuses',
    'arming.arms',
    'arming.disarms',
    'arming.idle',
    'failsafe.response',
    'failsafe.levels',
    'failsafe.waits',
    'failsafe.bySwitch',
    'failsafe.motorCut',
    'failsafe.finalForm',
  ],
  // What feeds the receiver without the cable may fail under load; that of the rig does not.
  regulator: ['failsafe.finalForm'],
  // What a command lifts goes by the ESCs; the command itself does not.
  ESC: ['failsafe.response'],
  // Another motor may turn the other way: what the outputs ask of it is the same.
  motor: ['motors.response'],
  // One that hears badly loses the signal sooner; here the signal is taken away whole.
  'receiver antenna': ['failsafe.response'],
  // What a frame weighs more is drawn as a fault of the rig, and caught there.
  payload: ['hover.hop'],
}

test('every part that a measured check names moves what it finds, or says why it is named all the same', async () => {
  const named = measured.flatMap((check) =>
    check.reads.parts
      .filter((name) => inWords[name]?.includes(check.id) !== true && name !== 'board')
      .map((name) => [check, name] as const),
  )
  const inVain: string[] = []
  for (const [check, name] of named) {
    let moved = false
    for (const { change, move } of Object.values(moves))
      if (!moved && change.what === 'part' && change.part === name) moved = await isMoved(check, move)
    if (!moved) inVain.push(`${check.id} ${name}`)
  }
  expect(inVain).toEqual([])
})

test('what a sheet can set and compares, its check reads: every setting of a board but what is the airframe’s own', () => {
  const { settings } = checks.find((c) => c.id === 'board.baseline')?.reads ?? { settings: [] }
  const isRead = (name: string) => settings.some((wanted) => namesSetting(wanted, name))
  expect(definitions.flatMap(({ name }) => (isOwn(name) || isRead(name) ? [] : [name]))).toEqual([])
  expect(definitions.flatMap(({ name }) => (isOwn(name) && isRead(name) ? [name] : []))).toEqual([])
})
