import type { Want } from '@taraf/contract'
import { Transmitter, type Rig } from '@taraf/rig'
import { type Disturbance, type Target, isSampled, acting, passing } from './disturbance'

const isHeard = (want: Want): boolean => isSampled(want) && want.streams.includes('radio') && want.kind !== 'watch'
const isControl = (want: Want): boolean => want.kind === 'control'
const sticks = ['roll', 'pitch', 'yaw', 'throttle'] as const
const someStick = ({ random }: Target) => sticks[random.below(sticks.length)] ?? 'roll'
/** A channel of a stick or of a switch as the transmitter sends it, moved by so much. */
const shiftChannel = (rig: Rig, { row }: Target, us: number): void => {
  const channel = rig.transmitter.build.channels[row % 8]
  if (channel !== undefined) channel.subTrimUs += us
}

/** What can go wrong while sticks and switches are looked at. */
export const atTheRadio: readonly Disturbance[] = [
  {
    id: 'the transmitter switched off and on',
    at: isHeard,
    meddle: passing(
      1.5,
      (rig) => void (rig.transmitter.on = false),
      (rig) => void (rig.transmitter.on = true),
    ),
  },
  {
    id: 'a second transmitter on the same model',
    at: isHeard,
    meddle: passing(
      2,
      (rig) => {
        const build = structuredClone(rig.transmitter.build)
        for (const one of build.switches) one.at = one.positions - 1
        rig.receiver.rival = Object.assign(new Transmitter(build), { on: true })
        rig.receiver.rival.sticks.throttle = 0.2
      },
      (rig) => void (rig.receiver.rival = null),
    ),
  },
  {
    id: 'another model chosen for a moment',
    at: isHeard,
    meddle: passing(
      1,
      (rig) => void (rig.transmitter.build.modelId += 1),
      (rig) => void (rig.transmitter.build.modelId -= 1),
    ),
  },
  {
    id: 'the signal blocked',
    at: isHeard,
    meddle: acting(0, (rig, { random }) => void (rig.receiver.blockedUntil = rig.clock + random.between(0.1, 2))),
  },
  {
    id: 'the lead of the receiver pulled and put back',
    at: isHeard,
    meddle: passing(
      0.6,
      (rig) => void (rig.airframe.receiver.lead = false),
      (rig) => void (rig.airframe.receiver.lead = true),
    ),
  },
  {
    id: 'another stick moved',
    at: isHeard,
    meddle: passing(
      0.7,
      (rig, target) => void (rig.transmitter.sticks[someStick(target)] = target.random.between(-1, 1)),
      (rig) => Object.assign(rig.transmitter.sticks, { roll: 0, pitch: 0, yaw: 0, throttle: -1 }) && undefined,
    ),
  },
  {
    id: 'a switch moved meanwhile',
    at: isHeard,
    meddle: passing(
      0.7,
      (rig, { row }) => {
        const one = rig.transmitter.build.switches[row % rig.transmitter.build.switches.length]
        if (one !== undefined) one.at = (one.at + 1) % one.positions
      },
      (rig) => {
        for (const one of rig.transmitter.build.switches) one.at = 0
      },
    ),
  },
  {
    id: 'a channel that leaps',
    at: isHeard,
    meddle: passing(
      0.03,
      (rig, target) => shiftChannel(rig, target, 320),
      (rig, target) => shiftChannel(rig, target, -320),
    ),
  },
  {
    id: 'a mix for a moment',
    at: isControl,
    meddle: passing(
      1,
      (rig) => Object.assign(rig.transmitter.build.channels[3] ?? {}, { mix: { from: 1, share: 0.4 } }) && undefined,
      (rig) => Object.assign(rig.transmitter.build.channels[3] ?? {}, { mix: null }) && undefined,
    ),
  },
]
