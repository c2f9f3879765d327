import type { HandAct, Want } from '@taraf/contract'
import { armedUnder } from '@taraf/core'
import { actOn } from '@taraf/rig'
import { type Disturbance, acting, passing } from './disturbance'

/** The board may be armed, and is asked to or left alone. */
const mayBeArmed = (want: Want): boolean => want.kind === 'watch' && armedUnder(want) !== null
/** Moved by somebody, and put back a moment later. */
const moved = (act: HandAct, back: HandAct) =>
  acting(
    1,
    (rig) => void actOn(rig, act),
    (rig) => void actOn(rig, back),
  )

/** What can go wrong while it is tried what arms a board, and what does not. */
export const atArming: readonly Disturbance[] = [
  {
    id: 'the arm switch put on too soon',
    at: mayBeArmed,
    meddle: acting(0, (rig) => void actOn(rig, { act: 'switch', name: 'A', to: 1 })),
  },
  {
    id: 'the arm switch put off for a moment',
    at: mayBeArmed,
    meddle: moved({ act: 'switch', name: 'A', to: 0 }, { act: 'switch', name: 'A', to: 1 }),
  },
  {
    id: 'a bad contact of the arm switch',
    at: mayBeArmed,
    meddle: passing(
      7,
      (rig) => void (rig.transmitter.build.badContact = 'A'),
      (rig) => void (rig.transmitter.build.badContact = null),
    ),
  },
  {
    id: 'throttle moved and put back',
    at: mayBeArmed,
    meddle: moved({ act: 'stick', stick: 'throttle', to: -0.4 }, { act: 'stick', stick: 'throttle', to: -1 }),
  },
  {
    id: 'the transmitter off for a moment',
    at: mayBeArmed,
    meddle: moved({ act: 'transmitter', on: false }, { act: 'transmitter', on: true }),
  },
  { id: 'Stop all', at: mayBeArmed, meddle: acting(0, (rig) => void rig.board.stop('stop all')) },
]

/** The signal is taken away and given back in it. */
const losesSignal = (want: Want): boolean => want.kind === 'watch' && want.onlyAfter?.startsWith('loss:') === true

/** What can go wrong while the signal is taken away. */
export const atFailsafe: readonly Disturbance[] = [
  {
    id: 'the flight mode switched while the signal is taken away',
    at: losesSignal,
    meddle: acting(0, (rig) => void actOn(rig, { act: 'switch', name: 'B', to: 1 })),
  },
  {
    id: 'throttle moved while the signal is taken away',
    at: losesSignal,
    meddle: acting(0, (rig) => void actOn(rig, { act: 'stick', stick: 'throttle', to: -0.2 })),
  },
  {
    id: 'a drop-out before the loss',
    at: losesSignal,
    meddle: acting(0, (rig) => void actOn(rig, { act: 'block signal', seconds: 0.25 })),
  },
  {
    id: 'a stick pushed while the signal is taken away',
    at: losesSignal,
    meddle: passing(
      1.5,
      (rig) => void actOn(rig, { act: 'stick', stick: 'roll', to: 0.6 }),
      (rig) => void actOn(rig, { act: 'stick', stick: 'roll', to: 0 }),
    ),
  },
  {
    id: 'the switch of failsafe put on',
    at: mayBeArmed,
    meddle: passing(
      1,
      (rig) => void actOn(rig, { act: 'switch', name: 'D', to: 1 }),
      (rig) => void actOn(rig, { act: 'switch', name: 'D', to: 0 }),
    ),
  },
  {
    id: 'a battery that sags',
    at: mayBeArmed,
    meddle: passing(
      1.5,
      ({ airframe }) => void (airframe.power.pack.cellResistance += 0.03),
      ({ airframe }) => void (airframe.power.pack.cellResistance -= 0.03),
    ),
  },
  {
    id: 'held askew while the signal is taken away',
    at: losesSignal,
    meddle: acting(0, (rig) => void actOn(rig, { act: 'tilt', rollDeg: 15, pitchDeg: 0, yawDeg: 0 })),
  },
]

const flies = (want: Want): boolean => want.kind === 'watch' && want.permit === 'flight'
/** What goes wrong in the air. */
export const atHover: readonly Disturbance[] = [
  {
    id: 'let down at once',
    at: flies,
    meddle: acting(0, (rig) => {
      rig.pilot = null
      actOn(rig, { act: 'stick', stick: 'throttle', to: -1 })
    }),
  },
  {
    id: 'the signal gone in the air',
    at: flies,
    meddle: acting(0, (rig) => void actOn(rig, { act: 'block signal', seconds: 2 })),
  },
  {
    id: 'something falls off in the air',
    at: flies,
    meddle: passing(
      60,
      ({ airframe: { frame } }) => void (frame.massKg *= 0.75),
      ({ airframe: { frame } }) => void (frame.massKg /= 0.75),
    ),
  },
]
