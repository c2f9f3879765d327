import type { HandAct, HandsState, Observation, Side, Want, WantedState, WantOf } from '@taraf/contract'

/** What a person does for a want: before it begins, and once it runs. */
export interface Handled {
  readonly before: readonly HandAct[]
  /** One after the other. */
  readonly during?: HandAct | readonly HandAct[]
}

const laid: HandAct = { act: 'lay', way: 'forward' }
const noBattery: HandAct = { act: 'battery', source: 'none' }
/** Nobody plugs a battery in with props on. */
const batteryIn: readonly HandAct[] = [
  { act: 'props', on: false },
  { act: 'nuts', on: false },
  { act: 'battery', source: 'pack' },
]

const throttle = (to: number): HandAct => ({ act: 'stick', stick: 'throttle', to })
/** Armed and held at a tilt with throttle down; then up a little. */
const tilted = (rollDeg: number, pitchDeg: number): Handled => ({
  before: [throttle(-1), { act: 'tilt', rollDeg, pitchDeg, yawDeg: 0 }],
  during: throttle(-0.5),
})
/** Armed and level with throttle down; then up a little, and turned. */
const turned = (yawDeg: number): Handled => ({
  before: [laid, throttle(-1)],
  during: [throttle(-0.5), { act: 'tilt', rollDeg: 0, pitchDeg: 0, yawDeg }],
})

/** Roll and pitch that turn an edge of a board at an eighth down, where a pose names a side of the airframe. */
const edges: Readonly<Record<string, readonly [number, number]>> = {
  'nose-up': [-90, 45],
  'nose-down': [90, -45],
  'left-down': [-90, -45],
  'right-down': [90, 45],
}

const armedOnly: ReadonlySet<string> = new Set(['level'])

/** What is done for the samples of a label, where it is more than to lay the airframe down. */
const forLabel: Readonly<Record<string, Handled>> = {
  power: {
    before: [laid, noBattery, { act: 'props', on: false }, { act: 'nuts', on: false }, { act: 'limiter', in: true }],
    during: { act: 'battery', source: 'pack' },
  },
  warm: { before: [laid, noBattery, { act: 'limiter', in: false }, ...batteryIn] },
  second: { before: [{ act: 'lay', way: 'reversed' }] },
  turn: { before: [laid], during: { act: 'turn all ways' } },
  still: { before: [laid, ...batteryIn] },
  'nose-right': { before: [laid], during: { act: 'tilt', rollDeg: 0, pitchDeg: 0, yawDeg: 90 } },
  heard: { before: [laid, { act: 'transmitter', on: true }] },
  ready: { before: [throttle(-1), { act: 'switch', name: 'A', to: 0 }] },
  arm: { before: [laid, throttle(-1), { act: 'switch', name: 'A', to: 1 }] },
  disarm: { before: [laid, throttle(-1), { act: 'switch', name: 'A', to: 0 }] },
  level: { before: [laid, throttle(-1)], during: throttle(-0.5) },
  'right-down': tilted(20, 0),
  'left-down': tilted(-20, 0),
  'nose-up': tilted(0, 20),
  'nose-down': tilted(0, -20),
  'turn-right': turned(70),
  'turn-left': turned(-70),
  'transmitter-off': { before: [{ act: 'transmitter', on: false }] },
  'transmitter-on': { before: [{ act: 'transmitter', on: true }] },
  'power-off': { before: [noBattery] },
  teach: { before: [laid, { act: 'props', on: false }, { act: 'nuts', on: false }] },
  sky: { before: [laid, { act: 'sky', open: false }], during: { act: 'sky', open: true } },
}

/** What a person at the simulated bench does for a want. `byEdges`: a board at an eighth is held by its own edges. */
export const handled = (want: Want, byEdges = false): Handled => {
  switch (want.kind) {
    case 'pose': {
      const [rollDeg, pitchDeg] = (byEdges ? edges[want.label] : undefined) ?? [want.rollDeg, want.pitchDeg]
      return { before: [{ act: 'tilt', rollDeg, pitchDeg, yawDeg: 0 }] }
    }
    case 'reports':
      return {
        before: [
          laid,
          { act: 'transmitter', on: want.of.includes('sockets') },
          ...(want.state?.battery === true ? batteryIn : []),
        ],
      }
    case 'capture':
      // A label that is held still elsewhere is held armed here.
      if (want.permit === undefined && armedOnly.has(want.label)) return { before: [laid] }
      if (want.atOnce === true && forLabel[want.label] === undefined)
        return { before: [], ...(want.during === undefined ? {} : { during: { act: 'turn all ways' } }) }
      return forLabel[want.label] ?? { before: [laid, ...(want.state === undefined ? [] : statesActs(want.state))] }
    case 'turn':
      return { before: want.state?.battery === true ? batteryIn : [] }
    case 'control':
      return { before: [laid, { act: 'transmitter', on: true }] }
    case 'watch':
      return { before: forLabel[want.label]?.before ?? [] }
    case 'state':
      return {
        before:
          want.state.battery === true
            ? [
                ...(forLabel[want.label]?.before ?? []),
                ...batteryIn,
                ...statesActs({ ...want.state, props: undefined, battery: undefined }),
              ]
            : statesActs(want.state),
      }
    default:
      return { before: [] }
  }
}

const statesActs = ({ battery, cable, props, transmitter }: WantedState): HandAct[] => [
  ...(props === undefined ? [] : [{ act: 'props', on: props === 'on' } as const]),
  ...(battery === undefined ? [] : [{ act: 'battery', source: battery ? 'pack' : 'none' } as const]),
  ...(cable === undefined ? [] : [{ act: 'cable', in: cable } as const]),
  ...(transmitter === undefined ? [] : [{ act: 'transmitter', on: transmitter } as const]),
]

/** What a person at the bench says of a want that asks for it; of a pose what points up, by how it was held where that is another. */
export const said = (want: Want, look: Pick<HandsState, 'antenna' | 'motors'>, held: readonly HandAct[] = []): Observation[] => {
  if (!('says' in want) || want.says === undefined) return []
  const { label: segment } = want
  switch (want.says) {
    case 'antenna':
      return look.antenna === null ? [] : [{ segment, antenna: look.antenna }]
    case 'up':
      return want.kind === 'pose' ? [{ segment, up: upOf(held.find((act) => act.act === 'tilt') ?? want) }] : []
    case 'motor': {
      const turning = look.motors.find((m) => m.turn !== 'still')
      return turning === undefined || turning.turn === 'still'
        ? [{ segment, position: 'none', turn: 'none' }]
        : [{ segment, position: turning.position, turn: turning.turn }]
    }
  }
}

const upOf = ({ rollDeg, pitchDeg }: Pick<WantOf<'pose'>, 'rollDeg' | 'pitchDeg'>): Side =>
  pitchDeg > 0 ? 'front' : pitchDeg < 0 ? 'rear' : rollDeg > 0 ? 'left' : 'right'
