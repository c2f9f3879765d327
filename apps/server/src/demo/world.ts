import type { Geometry, Role, Sheet } from '@taraf/contract'

/** The demo's world: a workshop on a tidal coast that builds for a saltmarsh and dune trust. All of it is made up. */
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

export const sheets: readonly Sheet[] = [
  {
    type: 'N4',
    version: 3,
    title: 'Nest counter, small quad',
    geometry: { booms: ring(quad(45), 0.125), body: { lengthM: 0.16, widthM: 0.07 }, propDiameterM: 0.127 },
    settings: level,
    limits: {},
  },
  {
    type: 'L4',
    version: 2,
    title: 'Shoreline runner, long-range quad',
    geometry: { booms: ring(quad(52), 0.19), body: { lengthM: 0.3, widthM: 0.1 }, propDiameterM: 0.178 },
    settings: level,
    limits: {
      'level.offset': { max: 0.3, reason: 'long straight runs: a lean of half a degree shows as drift on the survey lines' },
    },
  },
  {
    type: 'H6',
    version: 1,
    title: 'Water sampler, hexa',
    geometry: { booms: ring(hexa, 0.34), body: { lengthM: 0.28, widthM: 0.24 }, propDiameterM: 0.28 },
    settings: level,
    limits: { 'gyroRest.noise': { max: 0.35, reason: 'the pump bracket hums; accepted for this frame by the lead' } },
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
    settings: level,
    limits: {},
  },
]

/** How far the history of an airframe goes. */
export type Story = 'none' | 'open' | 'fail' | 'stale' | 'ready' | 'passed' | 'failed'

/** Airframes off the benches, by type: the story of each in turn. */
export const stories: Readonly<Record<string, readonly Story[]>> = {
  N4: [
    'passed',
    'passed',
    'passed',
    'stale',
    'passed',
    'open',
    'passed',
    'fail',
    'passed',
    'none',
    'passed',
    'ready',
    'passed',
    'none',
  ],
  L4: ['passed', 'failed', 'passed', 'passed', 'open', 'passed', 'fail', 'none'],
  H6: ['passed', 'passed', 'stale', 'none', 'passed', 'ready'],
  Y6: ['passed', 'failed', 'open', 'passed', 'none'],
}

/** What lies on the benches: the board names the airframe. */
export const benched: readonly { bench: string; name: string; tag: string; type: string; board: string }[] = [
  { bench: 'north', name: 'North bench', tag: 'N4-031', type: 'N4', board: 'FB-2041' },
  { bench: 'south', name: 'South bench', tag: 'L4-014', type: 'L4', board: 'FB-2047' },
  { bench: 'window', name: 'Window bench', tag: 'N4-032', type: 'N4', board: 'FB-2052' },
  { bench: 'corner', name: 'Corner bench', tag: 'H6-009', type: 'H6', board: 'FB-2058' },
  { bench: 'lathe', name: 'Lathe bench', tag: 'Y6-006', type: 'Y6', board: 'FB-2063' },
  { bench: 'tide door', name: 'Tide door bench', tag: 'L4-015', type: 'L4', board: 'FB-2070' },
]
