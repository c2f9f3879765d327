import type { HandAct } from '@taraf/contract'
import { controls, type Control } from '../board/definitions'
import type { Rig } from '../rig'
import { typeFacts } from '../sound'
import { wrongSettings, type Fault } from './fault'

const channelUs = (rig: Rig, channel: number): number => rig.transmitter.channels()[channel - 1] ?? 0
/** A stick held somewhere for a look, and put back. */
const withStick = <T>(rig: Rig, stick: (typeof controls)[number], at: number, look: () => T): T => {
  const { sticks } = rig.transmitter
  const before = sticks[stick]
  sticks[stick] = at
  const seen = look()
  sticks[stick] = before
  return seen
}
/** The stick that drives the channel from which the board takes a control. */
const stickOn = ({ board, airframe }: Rig, control: Control): Control | null => {
  const source = airframe.transmitter.channels[board.settings.get(`radio.${control}.channel`) - 1]?.source ?? null
  return source !== null && 'stick' in source ? source.stick : null
}
/** What the board takes a control to be while its stick is held at an end or at rest, us. */
const controlUs = (rig: Rig, control: Control, at: number): number => {
  const { settings } = rig.board
  const us = withStick(rig, control, at, () => channelUs(rig, settings.get(`radio.${control}.channel`)))
  return settings.isOn(`radio.${control}.reverse`) ? 3000 - us : us
}
const set = (channel: number, values: Extract<HandAct, { act: 'channel' }>['set']): HandAct => ({
  act: 'channel',
  channel,
  set: values,
})

export const radioFaults: readonly Fault[] = [
  {
    id: 'radio.notBound',
    station: 'radio',
    where: 'receiver, bound to no transmitter or another one',
    shows: 'its light blinks with the transmitter on, and no frame arrives',
    caughtBy: 'board.sockets',
    remedy: 'bind by the steps of its part',
    likelihood: 0.04,
    inject: ({ airframe }) => void (airframe.receiver.boundTo = null),
    isIn: ({ airframe: { receiver, transmitter } }) => receiver.boundTo !== transmitter.modelId,
    mend: () => ({ acts: [{ act: 'transmitter', on: true }, { act: 'bind' }] }),
  },
  {
    id: 'radio.otherModel',
    station: 'radio',
    where: 'model memory of the transmitter',
    shows: 'bound and not heard: another model is chosen',
    caughtBy: 'board.sockets',
    remedy: 'choose the model that the receiver is bound to',
    likelihood: 0.01,
    inject: ({ airframe }) => void (airframe.transmitter.modelId = 3),
    isIn: ({ airframe: { receiver, transmitter } }) => receiver.boundTo !== transmitter.modelId,
    mend: ({ airframe }) => ({ acts: [{ act: 'model', id: airframe.receiver.boundTo ?? 7 }] }),
  },
  wrongSettings(
    {
      id: 'radio.wrongKind',
      station: 'radio',
      where: "kind of the receiver's signal",
      shows: 'the receiver hears, no good frames arrive',
      caughtBy: 'radio.link',
    },
    { 'radio.kind': 1 },
    { 'radio.kind': 2 },
  ),
  {
    id: 'radio.leadOut',
    station: 'radio',
    where: "the receiver's lead",
    shows: 'no frame arrives although its light is steady',
    caughtBy: 'board.sockets',
    remedy: "plug the receiver's lead in",
    likelihood: 0.01,
    inject: ({ airframe }) => void (airframe.receiver.lead = false),
    isIn: ({ airframe }) => !airframe.receiver.lead,
    mend: () => ({ acts: [{ act: 'receiver lead', in: true }] }),
  },
  wrongSettings(
    {
      id: 'radio.order',
      station: 'radio',
      where: "the board's channel map",
      shows: 'roll and yaw answer to each other',
      caughtBy: 'radio.order',
    },
    { 'radio.roll.channel': 4, 'radio.yaw.channel': 1 },
    { 'radio.roll.channel': 1, 'radio.yaw.channel': 4 },
  ),
  {
    id: 'radio.stickOrder',
    station: 'radio',
    where: "order of the transmitter's sticks",
    shows: 'throttle and pitch answer to each other',
    caughtBy: 'radio.order',
    remedy: 'set the map, or the stick order of the transmitter',
    likelihood: 0.02,
    inject: ({ airframe: { transmitter } }) => {
      const [, second, third] = transmitter.channels
      if (second && third) [second.source, third.source] = [third.source, second.source]
    },
    isIn: (rig) => controls.some((control) => stickOn(rig, control) !== control),
    mend: () => ({ acts: [set(2, { stick: 'pitch' }), set(3, { stick: 'throttle' })] }),
  },
  {
    id: 'radio.reversed',
    station: 'radio',
    where: 'one channel of the transmitter',
    shows: 'stick forward falls instead of rising',
    caughtBy: 'radio.order',
    remedy: 'invert channel 2 on the transmitter',
    likelihood: 0.03,
    inject: ({ airframe }) => void Object.assign(airframe.transmitter.channels[1] ?? {}, { inverted: true }),
    isIn: (rig) => controls.some((control) => stickOn(rig, control) === control && controlUs(rig, control, 1) < 1500),
    mend: () => ({ acts: [set(2, { inverted: false })] }),
  },
  wrongSettings(
    {
      id: 'radio.reversedBoard',
      station: 'radio',
      where: 'reversing of yaw on the board',
      shows: 'yaw right falls instead of rising',
      caughtBy: 'radio.order',
    },
    { 'radio.yaw.reverse': 1 },
    { 'radio.yaw.reverse': 0 },
  ),
  {
    id: 'radio.offCentre',
    station: 'radio',
    where: 'sub-trim of roll',
    shows: 'roll rests over 3 us beside 1500',
    caughtBy: 'radio.centre',
    remedy: 'take the sub-trim of channel 1 back by what was measured',
    likelihood: 0.05,
    inject: ({ airframe, random, beyond }) =>
      void Object.assign(airframe.transmitter.channels[0] ?? {}, {
        subTrimUs: (random.uniform() < 0.5 ? -1 : 1) * beyond(5, 0.5, 6),
      }),
    isIn: (rig) => (['roll', 'pitch', 'yaw'] as const).some((control) => Math.abs(controlUs(rig, control, 0) - 1500) > 3.5),
    mend: () => ({ acts: [set(1, { subTrimUs: 0 })] }),
  },
  {
    id: 'radio.stickRest',
    station: 'radio',
    where: 'pitch stick of the transmitter, worn',
    shows: 'it rests beside its middle with all trims at zero',
    caughtBy: 'radio.centre',
    remedy: 'calibrate the sticks of the transmitter',
    likelihood: 0.01,
    inject: ({ airframe }) => void (airframe.transmitter.stickReach.pitch.rest = 0.03),
    isIn: (rig) => Math.abs(controlUs(rig, 'pitch', 0) - 1500) > 3.5,
    mend: () => ({ acts: [{ act: 'stick calibration' }] }),
  },
  {
    id: 'radio.shortTravel',
    station: 'radio',
    where: 'travel of yaw to the left',
    shows: 'the stick does not pass its low gate',
    caughtBy: 'radio.ends',
    remedy: 'set the travel of that side to travel x (target - centre) / (measured - centre)',
    likelihood: 0.05,
    inject: ({ airframe, random }) =>
      void Object.assign(airframe.transmitter.channels[3] ?? {}, { travelLow: random.between(70, 84) }),
    isIn: (rig) => controls.some((control) => controlUs(rig, control, -1) > 1060),
    mend: () => ({ acts: [set(4, { travelLow: 90 })] }),
  },
  {
    id: 'radio.wornStick',
    station: 'radio',
    where: 'throttle stick of the transmitter',
    shows: 'it does not pass its high gate, and the travel cannot be raised that far',
    caughtBy: 'radio.ends',
    remedy: 'calibrate the sticks of the transmitter',
    likelihood: 0.01,
    inject: ({ airframe: { transmitter } }) => {
      transmitter.stickReach.throttle.high = 0.68
      transmitter.mostTravel = 120
    },
    isIn: (rig) => controls.some((control) => controlUs(rig, control, 1) < 1940),
    mend: () => ({ acts: [{ act: 'stick calibration' }] }),
  },
  {
    id: 'radio.badContact',
    station: 'radio',
    where: 'contact of a switch of the transmitter',
    shows: 'it opens for a moment now and then: what it switches flickers, arming too',
    caughtBy: 'radio.order',
    remedy: 'repair the switch of the transmitter',
    likelihood: 0.01,
    inject: ({ airframe: { transmitter }, random }) => void (transmitter.badContact = ['A', 'B'][random.below(2)] as string),
    isIn: ({ airframe: { transmitter } }) => transmitter.badContact !== null,
    mend: () => ({ acts: [{ act: 'mend transmitter' }] }),
  },
  {
    id: 'radio.throttleHigh',
    station: 'radio',
    where: 'trim of throttle',
    shows: 'throttle at rest is above the arming gate',
    caughtBy: 'radio.ends',
    remedy: 'take the trim of channel 3 back',
    likelihood: 0.03,
    inject: ({ airframe }) => void Object.assign(airframe.transmitter.channels[2] ?? {}, { trimUs: 40 }),
    isIn: (rig) => controls.some((control) => controlUs(rig, control, -1) > 1060),
    mend: () => ({ acts: [set(3, { trimUs: 0 })] }),
  },
  {
    id: 'radio.mixLeft',
    station: 'radio',
    where: 'a mix left in the model memory',
    shows: 'yaw moves along when roll is moved',
    caughtBy: 'radio.order',
    remedy: 'take the mix of channel 4 out',
    likelihood: 0.02,
    inject: ({ airframe }) => void Object.assign(airframe.transmitter.channels[3] ?? {}, { mix: { from: 1, share: 0.3 } }),
    isIn: (rig) =>
      Math.abs(withStick(rig, 'roll', 1, () => channelUs(rig, 4)) - withStick(rig, 'roll', -1, () => channelUs(rig, 4))) > 20,
    mend: () => ({ acts: [set(4, { mix: null })] }),
  },
  {
    id: 'radio.unsteady',
    station: 'radio',
    where: 'receiver',
    shows: 'channels shake by over 2 us rms at rest',
    caughtBy: 'radio.steadiness',
    remedy: 'replace the receiver and bind it',
    likelihood: 0.015,
    inject: ({ airframe, beyond }) => void (airframe.receiver.jitterUs = beyond(2, 0.15, 2)),
    isIn: ({ airframe: { receiver } }) => receiver.jitterUs > 2,
    mend: () => ({ acts: [{ act: 'replace', part: 'receiver' }, { act: 'transmitter', on: true }, { act: 'bind' }] }),
  },
  {
    id: 'radio.dropOuts',
    station: 'radio',
    where: "the receiver's antenna, pressed against carbon",
    shows: 'frames are missed close by',
    caughtBy: 'radio.steadiness',
    remedy: "place the receiver's antenna clear of the frame",
    likelihood: 0.03,
    inject: ({ airframe, random }) =>
      void Object.assign(airframe.receiver, { dropOuts: random.between(0.05, 0.2), quality: 0.88 }),
    isIn: ({ airframe: { receiver } }) => receiver.dropOuts > 0.01 || !receiver.antenna,
    mend: () => ({ acts: [{ act: 'receiver antenna' }] }),
  },
  wrongSettings(
    {
      id: 'radio.strengthChannel',
      station: 'radio',
      where: 'number of the strength channel',
      shows: 'strength is read from another channel: counted after the sticks instead of from the first',
      caughtBy: 'radio.link',
    },
    { 'radio.strengthChannel': 8 },
    { 'radio.strengthChannel': 12 },
  ),
  {
    id: 'radio.telemetryWire',
    station: 'radio',
    where: 'telemetry wire of the receiver',
    shows: 'the transmitter shows no voltage although telemetry is on',
    caughtBy: 'radio.link',
    remedy: 'push the telemetry wire in',
    likelihood: 0.02,
    fits: ({ type }) => typeFacts(type).telemetry,
    inject: ({ airframe }) => void (airframe.receiver.telemetry = false),
    isIn: ({ airframe }) => !airframe.receiver.telemetry,
    mend: () => ({ acts: [{ act: 'telemetry wire', in: true }] }),
  },
  {
    id: 'radio.weakLink',
    station: 'radio',
    where: "the receiver's antenna, its plug half out",
    shows: 'a metre away a third of each frame is lost',
    caughtBy: 'radio.link',
    remedy: "push the plug of the receiver's antenna in",
    likelihood: 0.015,
    inject: ({ airframe, random }) => void Object.assign(airframe.receiver, { quality: random.between(0.4, 0.65) }),
    isIn: ({ airframe: { receiver } }) => receiver.quality < 0.8,
    mend: () => ({ acts: [{ act: 'receiver antenna' }] }),
  },
]
