import type { HandAct, HandsState, Observation, Side, Want, WantedState, WantOf } from '@taraf/contract'
import { atLoss } from './atLoss'

/** An act of the hands, or a flight mode that is chosen by its switch, or left. */
export type Done = HandAct | { readonly choose: string; readonly on: boolean }

/** What a person does for a want: before it begins, and once it runs. */
export interface Handled {
  readonly before: readonly HandAct[]
  /** One after the other. */
  readonly during?: HandAct | readonly HandAct[]
  /** Of a step that is watched: one small act after the other, until what the step leads by is told; then the rest. */
  readonly approach?: readonly HandAct[]
  readonly then?: readonly Done[]
  /** A moment after an event of a step that is watched. */
  readonly onEvent?: { readonly event: string; readonly acts: readonly HandAct[] }
  /** Stop all is pressed after a moment. */
  readonly stopsAll?: true
  /** While the link is lost; the cable goes out before these and comes back after them. */
  readonly unlinked?: readonly HandAct[]
  /**
   * While the link is lost, one after the other: each once so many seconds have passed, where it says so once every motor stands or it has
   * landed; what it led to is seen before the next.
   */
  readonly alone?: readonly {
    readonly afterS: number
    readonly onceStill?: true
    readonly onceLanded?: true
    readonly act: HandAct
  }[]
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

const arm = (to: 0 | 1): HandAct => ({ act: 'switch', name: 'A', to })
const yawLeft: HandAct = { act: 'stick', stick: 'yaw', to: -1 }
const disarmed: readonly HandAct[] = [laid, throttle(-1), arm(0)]
const steps = (from: number, to: number, by: number): number[] =>
  Array.from({ length: Math.round(Math.abs(to - from) / by) + 1 }, (_, i) => from + Math.sign(to - from) * i * by)

/** Tilted one way from level, slowly, and armed there. */
const leant = (roll: -1 | 0 | 1, pitch: -1 | 0 | 1): Handled => {
  const tilt = (deg: number): HandAct => ({ act: 'tilt', rollDeg: roll * deg, pitchDeg: pitch * deg, yawDeg: 0, dragged: true })
  return { before: [throttle(-1), arm(0), tilt(5)], approach: steps(7, 77, 2).map(tilt), then: [arm(1)] }
}

/** Volts of a supply in place of a pack of so many cells. */
const supply = (cells: number, cell: number): HandAct => ({ act: 'supply', volts: Math.round(cells * cell * 100) / 100 })

/** How an arming is tried that must be refused, by the label of its step. */
const tries = (cells: number): Readonly<Record<string, Handled>> => ({
  throttle: { before: disarmed, approach: steps(-1, -0.1, 0.01).map(throttle), then: [throttle(0), arm(1)] },
  'tilt-right': leant(1, 0),
  'tilt-left': leant(-1, 0),
  'tilt-nose-up': leant(0, 1),
  'tilt-nose-down': leant(0, -1),
  calibration: { before: disarmed, then: [arm(1)] },
  fix: { before: disarmed, approach: [{ act: 'sky', open: false }], then: [arm(1)] },
  radio: { before: disarmed, approach: [{ act: 'transmitter', on: false }], then: [arm(1), { act: 'transmitter', on: true }] },
  'powered-anew': { before: [laid, throttle(-1), arm(0)], unlinked: [noBattery, arm(1), { act: 'battery', source: 'pack' }] },
  battery: { before: disarmed, approach: steps(4.05, 3, 0.02).map((cell) => supply(cells, cell)), then: [arm(1)] },
})

/** Roll and pitch that turn an edge of a board at an eighth down, where a pose names a side of the airframe. */
const edges: Readonly<Record<string, readonly [number, number]>> = {
  'nose-up': [-90, 45],
  'nose-down': [90, -45],
  'left-down': [-90, -45],
  'right-down': [90, 45],
}

/** Carried out with its props on, armed, flown and disarmed; then its battery out, and in again. */
const hop: Readonly<Record<string, Handled>> = {
  'hop-out': { before: [...disarmed, noBattery] },
  'hop-ready': {
    before: [
      { act: 'put out' },
      { act: 'props', on: true },
      { act: 'nuts', on: true },
      { act: 'transmitter', on: true },
      { act: 'battery', source: 'pack' },
      { act: 'cable', in: true },
    ],
  },
  flight: {
    before: [],
    alone: [
      { afterS: 1, act: arm(1) },
      { afterS: 1, act: { act: 'hop' } },
      { afterS: 1, onceLanded: true, act: arm(0) },
    ],
  },
  'hop-done': { before: [throttle(-1), arm(0), noBattery, { act: 'props', on: false }, { act: 'nuts', on: false }, laid] },
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
  ready: { before: [throttle(-1), arm(0), { act: 'switch', name: 'D', to: 0 }] },
  arm: { before: disarmed, then: [arm(1)] },
  disarm: { before: disarmed },
  stand: { before: disarmed },
  'arm-switch': { before: disarmed, then: [arm(1)] },
  'off-flight': {
    before: [],
    then: [throttle(0.05), yawLeft, yawLeft, yawLeft, yawLeft, { act: 'stick', stick: 'yaw', to: 0 }, arm(0)],
  },
  'throttle-down': { before: [], then: [throttle(-0.5), throttle(-1)] },
  'arm-sticks': { before: disarmed, then: [arm(1)] },
  'off-sticks': { before: [], then: [yawLeft] },
  'off-stop': { before: [], stopsAll: true },
  'arm-stop': { before: [{ act: 'stick', stick: 'yaw', to: 0 }, ...disarmed], then: [arm(1)] },
  'arm-idle': { before: disarmed, then: [arm(1)] },
  idle: { before: [] },
  'arm-covered': { before: [...disarmed, { act: 'sky', open: false }], then: [arm(1)] },
  'arming-done': { before: [...disarmed, noBattery] },
  'failsafe-done': { before: [...disarmed, noBattery] },
  // As in flight, and then fully down.
  down: { before: [laid, throttle(-1)], during: [throttle(0.05), throttle(0.05), throttle(0.05), throttle(-1)] },
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

/**
 * What a person at the simulated bench does for a want.
 *
 * @param byEdges a board at an eighth is held by its own edges
 * @param cells of the pack that it flies with: a supply is set by them
 */
export const handled = (want: Want, byEdges = false, cells = 4): Handled => {
  const flies = want.kind === 'state' || want.kind === 'watch' ? hop[want.label] : undefined
  if (flies !== undefined) return flies
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
      if (want.label.startsWith('sky-')) return { before: [{ act: 'sky', open: true }] }
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
      if (want.label.startsWith('arm-')) return { before: disarmed, then: [arm(1)], ...forLabel[want.label] }
      return atLoss(want) ?? tries(cells)[want.label] ?? forLabel[want.label] ?? { before: [] }
    case 'state':
      if (want.label.startsWith('disarm-')) return { before: disarmed }
      if (want.label === 'supply-in')
        return {
          before: [
            supply(cells, 4.1),
            { act: 'props', on: false },
            { act: 'nuts', on: false },
            { act: 'battery', source: 'supply' },
          ],
        }
      return {
        before:
          want.state.battery === true
            ? [
                ...(forLabel[want.label]?.before ?? []),
                ...batteryIn,
                ...statesActs({ ...want.state, props: undefined, battery: undefined }),
              ]
            : [...(forLabel[want.label]?.before ?? []), ...statesActs(want.state)],
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
