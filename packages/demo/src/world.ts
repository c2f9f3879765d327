import type { BatchNoteRequest, BuiltPart, Geometry, Role, Sheet, SocketUse } from '@taraf/contract'
import { bindingByModel, flashByTarget, signalsByModel } from './partModels'

// The demo's world: a workshop on a tidal coast that builds for a saltmarsh and dune trust. All of it is made up.

/** Where the workshop stands. */
export const demoPlace = { lat: 54.2, lon: 7.9, heightM: 4 }

export const people: readonly { login: string; name: string; role: Role; password: string }[] = [
  { login: 'ines', name: 'Ines Aldermoor', role: 'technician', password: 'saltmarsh' },
  { login: 'joren', name: 'Joren Wadslag', role: 'technician', password: 'dunegrass' },
  { login: 'maud', name: 'Maud Terrell', role: 'lead', password: 'springtide' },
  { login: 'piet', name: 'Piet Oosterling', role: 'reader', password: 'oystercatcher' },
]

/** Single motors on booms, clockwise from the nose, turning in turns. */
const ring = (booms: readonly (readonly [name: string, bearingDeg: number])[], radiusM: number): Geometry['booms'] =>
  booms.map(([name, bearingDeg], i) => ({
    name,
    bearingDeg,
    radiusM,
    motors: [{ tier: 'only', output: i + 1, turn: i % 2 === 0 ? 'clockwise' : 'anticlockwise' }],
  }))

const quad = (spreadDeg: number) =>
  [
    ['front right', spreadDeg],
    ['rear right', 180 - spreadDeg],
    ['rear left', 180 + spreadDeg],
    ['front left', 360 - spreadDeg],
  ] as const
const hexa = ['front right', 'right', 'rear right', 'rear left', 'left', 'front left'].map(
  (name, i) => [name, 30 + 60 * i] as const,
)
const level = { 'board.roll': 0, 'board.pitch': 0, 'board.yaw': 0 }

/** What every type is told alike: a self-levelling craft that a survey technician flies. */
const told = {
  'curve.roll.rate': 400,
  'curve.pitch.rate': 400,
  'curve.yaw.rate': 400,
  'gain.roll.p': 0.06,
  'gain.pitch.p': 0.06,
  'gain.level': 6,
  'level.most': 45,
  'filter.gyro': 120,
  'radio.kind': 2,
  'arm.tiltMost': 25,
  'loss.act': 1,
  'power.warnCell': 3.5,
  'power.lowCell': 3.3,
  'log.use': 1,
}
/** Where the position antenna sits on every type that has one. */
const antenna = { 'position.antennaX': 0.02, 'position.antennaY': 0, 'position.antennaZ': -0.06 }
const firmware: NonNullable<Sheet['board']>['firmware'] = {
  name: 'shoreline',
  approved: [{ version: '3.2.0' }, { version: '3.1.2' }],
  bad: [{ version: '3.3.0', reason: 'its replies fail on every ESC; newer is not better here' }],
  features: ['position', 'compass', 'video', 'gimbal'],
}
/** What is built in alike, by motor count. */
const builtFrom = (motors: number): NonNullable<Sheet['parts']> =>
  fitted(motors).map((part) => {
    const [signals, binding] = [signalsByModel[part.model], bindingByModel[part.model]]
    return { ...part, ...(signals === undefined ? {} : { signals }), ...(binding === undefined ? {} : { binding }) }
  })
const fitted = (motors: number): NonNullable<Sheet['parts']> => [
  { part: 'board', model: 'Tideboard 4', count: 1 },
  { part: 'motor', model: 'Heron 2306', count: motors },
  { part: 'ESC', model: 'Knot 40', count: motors },
  { part: 'receiver', model: motors > 4 ? 'Gannet R8D' : 'Gannet R8', count: 1 },
  { part: 'regulator', model: 'Spar 5 V', count: 1 },
]
/** The ESCs of every type, by the data sheet of their maker. */
const escs: NonNullable<Sheet['escs']> = {
  understands: ['PWM', 'OneShot125', 'MultiShot', 'DShot150', 'DShot300', 'DShot600'],
  settings: { timingDeg: 16, switchingKHz: 24, startPower: 0.5, lockedRotorS: 2, heatLimitC: 110, ampLimit: 60 },
  badWith: [{ firmware: '16.9', board: '3.3.0', reason: 'its replies fail on every ESC' }],
}
/** ESCs of an older make: pulses alone reach them, whose ends they are taught, and they say nothing while they turn. */
const olderEscs: NonNullable<Sheet['escs']> = {
  understands: ['PWM', 'OneShot125', 'MultiShot'],
  settings: escs.settings,
}
/** What turns on the booms: the marks are moulded on the hub of each prop. */
const rotorOf = (kv: number): NonNullable<Sheet['rotor']> => ({
  kv,
  hover: 0.39,
  props: { clockwise: 'CW', anticlockwise: 'CCW' },
})
/** What sound airframes of a type shake in the air at the most: all their bells in step, and each a seventh heavier than usual. */
const shakes = (max: number): Sheet['limits'] => ({
  'hop.vibration': {
    max,
    reason: 'what sound ones of this type shake where their bells turn in step: a nick in a prop of a quad makes more',
  },
})
/** A heavy frame is shaken less by the same bell. */
const heavyFrame: Sheet['limits'] = {
  'smooth.atTurning': { max: 0.12, reason: 'the same bell shakes a frame of five kilograms a sixth as much' },
  'smooth.whole': { max: 0.14, reason: 'the same bearing shakes a frame of five kilograms a sixth as much' },
  ...shakes(0.24),
}
const versionsOf = (...parts: string[]): NonNullable<Sheet['versions']> =>
  parts.map((part) => ({
    part,
    approved: [{ receiver: '2.4', 'video transmitter': '1.7', 'position receiver': '5.1' }[part] ?? ''],
  }))
const switchPlan: NonNullable<Sheet['switchPlan']> = [
  { function: 'arm', channel: 5, from: 1700, to: 2100 },
  { function: 'selfLevel', channel: 6, from: 900, to: 1650 },
  { function: 'rate', channel: 6, from: 1700, to: 2100 },
  { function: 'sounder', channel: 7, from: 1700, to: 2100 },
  { function: 'failsafe', channel: 8, from: 1700, to: 2100 },
]
const oneSwitch = (name: string, channel: number, positions = 2) => ({ name, channel, positions, atPowerUp: 1 })
/** The switches of the trust's transmitter, by the letters on its face. */
const switches: NonNullable<Sheet['switches']> = [
  oneSwitch('A', 5),
  { ...oneSwitch('B', 6, 3), alike: 'two modes are enough for survey work' },
  oneSwitch('C', 7),
  oneSwitch('D', 8),
]
/** Of what flies over water: the middle of the mode switch brings it home. */
const homeSwitchPlan: NonNullable<Sheet['switchPlan']> = [
  ...switchPlan.map((row) => (row.function === 'selfLevel' ? { ...row, to: 1250 } : row)),
  { function: 'returnHome', channel: 6, from: 1350, to: 1650 },
]
const homeSwitches = switches.map(({ name, channel, positions, atPowerUp }) => ({ name, channel, positions, atPowerUp }))
const contents = ['two packs', 'set of spare props', 'handover sheet']
const flash = flashByTarget['TIDEBOARD-4']
const socketsOf = (...uses: SocketUse[]): NonNullable<Sheet['board']> => ({
  target: 'TIDEBOARD-4',
  ...(flash === undefined ? {} : { flash }),
  firmware,
  sockets: uses.map((use, i) => ({ socket: i + 1, use })),
})

export const sheets: readonly Sheet[] = [
  {
    type: 'N4',
    version: 3,
    title: 'Nest counter, small quad',
    geometry: { booms: ring(quad(45), 0.125), body: { lengthM: 0.16, widthM: 0.07 }, propDiameterM: 0.127 },
    parts: builtFrom(4),
    escs,
    rotor: rotorOf(2300),
    pack: { cells: 4 },
    versions: versionsOf('receiver', 'video transmitter'),
    switchPlan,
    switches,
    contents,
    board: socketsOf('receiver', 'free', 'video'),
    settings: { ...level, ...told },
    limits: shakes(5.2),
  },
  {
    type: 'K4',
    version: 1,
    title: 'Kelp trainer, quad of an older make',
    geometry: { booms: ring(quad(45), 0.16), body: { lengthM: 0.2, widthM: 0.09 }, propDiameterM: 0.152 },
    parts: builtFrom(4).map((part) => (part.part === 'ESC' ? { ...part, model: 'Reed 25' } : part)),
    escs: olderEscs,
    rotor: rotorOf(1400),
    pack: { cells: 4 },
    versions: versionsOf('receiver'),
    switchPlan,
    switches,
    contents,
    board: socketsOf('receiver'),
    settings: { ...level, ...told, 'esc.signal': 1, 'esc.replies': 0 },
    leavesOut: Object.fromEntries(
      ['escs.data', 'motors.start', 'motors.smooth', 'motors.heat'].map((id) => [id, 'these ESCs do not say how fast they turn']),
    ),
    limits: shakes(3.2),
  },
  {
    type: 'L4',
    version: 2,
    title: 'Shoreline runner, long-range quad',
    geometry: { booms: ring(quad(52), 0.19), body: { lengthM: 0.3, widthM: 0.1 }, propDiameterM: 0.178 },
    parts: builtFrom(4),
    escs,
    rotor: rotorOf(1500),
    pack: { cells: 4 },
    versions: versionsOf('receiver', 'video transmitter', 'position receiver'),
    switchPlan,
    switches,
    contents,
    board: socketsOf('receiver', 'position', 'video'),
    settings: { ...level, ...told, ...antenna, 'telemetry.use': 1 },
    fitted: ['compass', 'barometer', 'position'],
    asks: ['sensors.sixPoses'],
    hoverAmps: 14,
    indoors: true,
    limits: {
      ...shakes(1.35),
      'level.offset': { max: 0.3, reason: 'long straight runs: a lean of half a degree shows as drift on the survey lines' },
    },
  },
  {
    type: 'H6',
    version: 1,
    title: 'Water sampler, hexa',
    geometry: { booms: ring(hexa, 0.34), body: { lengthM: 0.28, widthM: 0.24 }, propDiameterM: 0.28 },
    parts: builtFrom(6),
    escs,
    rotor: rotorOf(700),
    pack: { cells: 6 },
    versions: versionsOf('receiver', 'position receiver'),
    switchPlan: homeSwitchPlan,
    switches: homeSwitches,
    home: { obstaclesM: 18, mostHeightM: 60, mostDistanceM: 800, below: 'open mud, and one causeway' },
    contents,
    board: socketsOf('receiver', 'position'),
    settings: { ...level, ...told, ...antenna },
    fitted: ['compass', 'barometer', 'position'],
    hoverAmps: 22,
    indoors: true,
    limits: {
      ...heavyFrame,
      'gyroRest.noise': { max: 0.35, reason: 'the pump bracket hums; accepted for this frame by the lead' },
    },
  },
  {
    type: 'Y6',
    version: 1,
    title: 'Marsh seeder, coaxial Y6',
    geometry: {
      booms: [60, 180, 300].map((bearingDeg, i) => ({
        name: ['front right', 'tail', 'front left'][i] ?? '',
        bearingDeg,
        radiusM: 0.3,
        motors: [
          { tier: 'upper', output: 2 * i + 1, turn: 'clockwise' },
          { tier: 'lower', output: 2 * i + 2, turn: 'anticlockwise' },
        ],
      })),
      body: { lengthM: 0.3, widthM: 0.2 },
      propDiameterM: 0.305,
    },
    parts: builtFrom(6),
    escs,
    rotor: rotorOf(650),
    pack: { cells: 6 },
    versions: versionsOf('receiver', 'position receiver'),
    switchPlan,
    switches,
    contents,
    board: socketsOf('receiver', 'position'),
    fitted: ['compass', 'barometer', 'position'],
    hoverAmps: 26,
    indoors: true,
    settings: { ...level, ...told, ...antenna },
    limits: heavyFrame,
  },
]

/** What the demo's people have found bad, and what is looked at since. */
export const batchNotes: readonly BatchNoteRequest[] = [
  {
    part: 'regulator',
    lotFrom: 'R7',
    lotTo: 'R9',
    defect: 'sags once it is warm',
    inspection: 'Feel it and measure the rail after two minutes on the battery; replace it where it falls below 4.9 V.',
  },
  {
    part: 'receiver',
    lotFrom: 'G31',
    lotTo: 'G31',
    defect: 'antenna plugs were crimped too lightly',
    inspection: 'Pull each antenna gently; one that moves goes back.',
  },
]

/** Serials and lots of an airframe of a type, the n-th that was built. */
export const builtPartsOf = (type: string, n: number): BuiltPart[] => {
  const motors = sheets.find((s) => s.type === type)?.geometry.booms.reduce((count, b) => count + b.motors.length, 0) ?? 4
  return builtFrom(motors).flatMap(({ part, model }): BuiltPart[] => {
    if (part === 'regulator') return [{ part, model, serial: `SP-${4000 + 3 * n}`, lot: `R${6 + (n % 6)}` }]
    if (part === 'receiver') return [{ part, model, serial: `GR-${700 + n}`, lot: `G${29 + (n % 9)}` }]
    return part === 'motor' ? [{ part, model, serial: null, lot: `H${120 + Math.floor(n / 4)}` }] : []
  })
}

/** How far the history of an airframe goes. */
export type Story = 'none' | 'open' | 'fail' | 'stale' | 'ready' | 'passed' | 'failed'

/** Airframes off the benches, by type: the story of each in turn. */
export const stories: Readonly<Record<string, readonly Story[]>> = {
  N4: ['passed', 'passed', 'open', 'stale', 'none', 'open', 'none', 'fail', 'passed', 'none', 'none', 'ready', 'none', 'none'],
  L4: ['passed', 'failed', 'open', 'passed', 'open', 'none', 'fail', 'none'],
  H6: ['passed', 'open', 'none', 'none', 'none', 'none'],
  Y6: ['passed', 'failed', 'open', 'none', 'none'],
}

/** What is on the benches: the board names the airframe. */
export const benched: readonly { bench: string; name: string; tag: string; type: string; board: string }[] = [
  { bench: 'north', name: 'North bench', tag: 'N4-031', type: 'N4', board: 'FB-2041' },
  { bench: 'south', name: 'South bench', tag: 'L4-014', type: 'L4', board: 'FB-2047' },
  { bench: 'window', name: 'Window bench', tag: 'N4-032', type: 'N4', board: 'FB-2052' },
  { bench: 'corner', name: 'Corner bench', tag: 'H6-009', type: 'H6', board: 'FB-2058' },
  { bench: 'lathe', name: 'Lathe bench', tag: 'Y6-006', type: 'Y6', board: 'FB-2063' },
  { bench: 'tide door', name: 'Tide door bench', tag: 'L4-015', type: 'L4', board: 'FB-2070' },
  { bench: 'slipway', name: 'Slipway bench', tag: 'K4-003', type: 'K4', board: 'FB-2077' },
]
