import { z } from 'zod'

/** What simulated hands can do at the rig. A real bench has no such interface. */
const us = z.number().min(-300).max(300)
const stick = z.enum(['roll', 'pitch', 'throttle', 'yaw'])
const way = z.number().min(-1).max(1)
const channel = z.int().min(1).max(16)
const output = z.int().min(1).max(12)
const angle = z.number().min(-180).max(180)

/** What of one transmitter channel can be set. Travel is in percent, 100 being 500 us. */
export const channelSetup = z.strictObject({
  stick: stick.optional(),
  trimUs: us.optional(),
  subTrimUs: us.optional(),
  travelLow: z.number().min(0).max(150).optional(),
  travelHigh: z.number().min(0).max(150).optional(),
  inverted: z.boolean().optional(),
  mix: z.strictObject({ from: channel, share: way }).nullable().optional(),
})

/** Parts that a hand can put a new one in for. */
export const replaceableParts = [
  'board',
  'compass',
  'barometer',
  'position receiver',
  'receiver',
  'regulator',
  'camera',
  'sounder',
  'lights',
  'payload',
] as const

export const handAct = z.discriminatedUnion('act', [
  z.strictObject({ act: z.literal('lay'), way: z.enum(['forward', 'reversed']) }),
  z.strictObject({
    act: z.literal('tilt'),
    rollDeg: angle,
    pitchDeg: z.number().min(-90).max(90),
    yawDeg: angle.optional(),
    dragged: z.boolean().optional(),
  }),
  z.strictObject({ act: z.literal('stand'), axis: z.enum(['roll', 'pitch']), tiltDeg: z.number().min(-40).max(40) }),
  z.strictObject({ act: z.literal('turn all ways') }),
  z.strictObject({ act: z.literal('put out') }),
  z.strictObject({ act: z.literal('hop') }),
  z.strictObject({ act: z.literal('knock') }),
  z.strictObject({ act: z.literal('fasten') }),

  z.strictObject({ act: z.literal('cable'), in: z.boolean() }),
  z.strictObject({ act: z.literal('battery'), source: z.enum(['none', 'pack', 'supply']) }),
  z.strictObject({ act: z.literal('supply'), volts: z.number().min(0).max(60) }),
  z.strictObject({ act: z.literal('limiter'), in: z.boolean() }),
  z.strictObject({ act: z.literal('charge') }),
  z.strictObject({ act: z.literal('props'), on: z.boolean() }),
  z.strictObject({ act: z.literal('nuts'), on: z.boolean() }),
  z.strictObject({ act: z.literal('mount prop'), position: z.int().min(1).max(12), prop: z.enum(['right', 'wrong', 'none']) }),
  z.strictObject({ act: z.literal('lay prop'), output }),

  z.strictObject({ act: z.literal('transmitter'), on: z.boolean() }),
  z.strictObject({ act: z.literal('stick'), stick, to: way }),
  z.strictObject({ act: z.literal('switch'), name: z.string(), to: z.int().min(0).max(2) }),
  z.strictObject({ act: z.literal('channel'), channel, set: channelSetup }),
  z.strictObject({ act: z.literal('stick calibration') }),
  z.strictObject({ act: z.literal('mend transmitter') }),
  z.strictObject({ act: z.literal('loss'), receiver: z.enum(['silent', 'preset', 'last']) }),
  z.strictObject({ act: z.literal('block signal'), seconds: z.number().min(0.05).max(60) }),
  z.strictObject({ act: z.literal('bind') }),
  z.strictObject({ act: z.literal('receiver lead'), in: z.boolean() }),
  z.strictObject({ act: z.literal('feed receiver') }),
  z.strictObject({ act: z.literal('receiver antenna') }),
  z.strictObject({ act: z.literal('telemetry wire'), in: z.boolean() }),
  z.strictObject({ act: z.literal('model'), id: z.int().min(0).max(99) }),

  z.strictObject({ act: z.literal('swap leads'), output }),
  z.strictObject({ act: z.literal('swap outputs'), a: output, b: output }),
  z.strictObject({ act: z.literal('reseat esc'), output }),
  z.strictObject({ act: z.literal('reseat socket'), socket: z.int().min(1).max(6) }),
  z.strictObject({ act: z.literal('rewire socket'), socket: z.int().min(1).max(6) }),
  z.strictObject({ act: z.literal('move plug'), from: z.int().min(1).max(6), to: z.int().min(1).max(6) }),
  z.strictObject({ act: z.literal('turn board'), rollDeg: angle, pitchDeg: angle, yawDeg: angle }),
  z.strictObject({ act: z.literal('seat board') }),
  z.strictObject({
    act: z.literal('replace'),
    part: z.enum(replaceableParts),
  }),
  z.strictObject({ act: z.literal('replace motor'), output }),
  z.strictObject({ act: z.literal('replace esc'), output }),
  z.strictObject({ act: z.literal('turn camera') }),
  z.strictObject({ act: z.literal('fit video antenna') }),
  z.strictObject({ act: z.literal('unplug past the board') }),
  z.strictObject({ act: z.literal('clear short') }),
  z.strictObject({ act: z.literal('update part'), part: z.string() }),
  z.strictObject({ act: z.literal('change pack') }),
  z.strictObject({ act: z.literal('take load off') }),
  z.strictObject({ act: z.literal('move antenna'), forwardM: z.number(), rightM: z.number(), downM: z.number() }),
  z.strictObject({ act: z.literal('sky'), open: z.boolean() }),
])

/** How fast the clock of a simulated bench runs. While a permit is held or anything turns it runs as every clock does. */
export const paceAct = z.strictObject({ act: z.literal('pace'), times: z.number().min(1).max(50) })
/** What can be asked of the simulated bench: what hands do, and its clock. */
export const benchAct = z.union([handAct, paceAct])

/** What a person at the simulated bench sees, hears, feels and reads. */
export const handsState = z.strictObject({
  held: z.enum(['plate', 'hand', 'stand', 'out']),
  way: z.enum(['forward', 'reversed']),
  rollDeg: z.number(),
  pitchDeg: z.number(),
  yawDeg: z.number(),
  heightM: z.number(),
  moving: z.boolean(),
  boardScrews: z.enum(['tight', 'loose']),
  bubbleDeg: z.strictObject({ roll: z.number(), pitch: z.number() }),
  cable: z.boolean(),
  battery: z.enum(['none', 'pack', 'supply']),
  limiter: z.boolean(),
  supplyVolts: z.number(),
  meter: z.strictObject({ volts: z.number(), amps: z.number(), chargedMah: z.number() }),
  props: z.enum(['off', 'on', 'some']),
  nuts: z.boolean(),
  transmitter: z.strictObject({
    on: z.boolean(),
    modelId: z.int(),
    volts: z.number().nullable().describe('of the airframe, as its display shows them by telemetry'),
    sticks: z.strictObject({ roll: z.number(), pitch: z.number(), throttle: z.number(), yaw: z.number() }),
    switches: z.array(z.strictObject({ name: z.string(), positions: z.int(), at: z.int() })),
    channels: z.array(
      z.strictObject({
        source: z.string(),
        trimUs: z.number(),
        subTrimUs: z.number(),
        travelLow: z.number(),
        travelHigh: z.number(),
        inverted: z.boolean(),
        mixed: z.boolean(),
      }),
    ),
  }),
  receiver: z.strictObject({
    light: z.enum(['off', 'steady', 'blinking', 'blinking slowly', 'binding']),
    lead: z.boolean(),
    atLoss: z.string(),
  }),
  /** By output: how its flag turns, how fast as the eye tells, how warm the motor is to the touch. */
  motors: z.array(
    z.strictObject({
      output: z.int(),
      position: z.string(),
      turn: z.enum(['still', 'clockwise', 'anticlockwise']),
      speed: z.enum(['still', 'slow', 'fast']),
      heatC: z.number(),
      rpm: z.number().describe('as an ear tells it, to the nearest fifty'),
      sound: z.enum(['quiet', 'stutters', 'grates']),
    }),
  ),
  lights: z.string(),
  tone: z.string(),
  picture: z.string(),
  sockets: z.array(
    z.strictObject({
      socket: z.int(),
      plugged: z.string(),
      plug: z.enum(['home', 'loose', 'wires swapped']).describe('as it is felt, and as its wires compare with the wiring sheet'),
    }),
  ),
  sky: z.boolean(),
  antenna: z.strictObject({ forwardM: z.number(), rightM: z.number(), downM: z.number() }).nullable(),
  /** What a close look at the frame shows. */
  eye: z.strictObject({
    videoAntenna: z.enum(['fitted', 'missing', 'none']),
    rubbing: z.array(z.string()).describe('motor positions whose bell rubs when it is turned by hand'),
    props: z
      .array(z.strictObject({ position: z.string(), turn: z.enum(['clockwise', 'anticlockwise']), whole: z.boolean() }))
      .describe('as they lie ready beside the booms'),
    pastBoard: z.array(z.strictObject({ channel: z.int(), what: z.string() })),
    versions: z.record(z.string(), z.string()),
  }),
  incidents: z.int(),
})
export type HandAct = z.infer<typeof handAct>
export type HandsState = z.infer<typeof handsState>
export type ChannelSetupChange = z.infer<typeof channelSetup>
