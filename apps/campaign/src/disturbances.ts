import type { AskBody, HandAct, Settings, Want } from '@taraf/contract'
import { armedUnder } from '@taraf/core'
import type { Handled, Meddler } from '@taraf/demo'
import { Transmitter, actOn, stepS, type Random, type Rig } from '@taraf/rig'

/** One thing that goes wrong while a take runs. Every station adds its own. */
export interface Disturbance {
  readonly id: string
  /** Where it can happen: in a want of a take, or as something is written. */
  readonly at: (want: Want) => boolean
  /** Makes it happen once: in that want, from that row of its samples on. */
  readonly meddle: (target: Target) => Meddler
}
export interface Target {
  readonly want: Want
  readonly row: number
  readonly random: Random
}

type Sampled = Extract<Want, { streams: unknown }>
const isSampled = (want: Want): want is Sampled => 'streams' in want
/** What comes from the board, and not from the meter of the bench. */
const fromBoard = (want: Want): boolean => isSampled(want) && want.streams.some((name) => name !== 'meter')
const hasStream =
  (...names: Sampled['streams'][number][]) =>
  (want: Want): boolean =>
    isSampled(want) && names.some((name) => want.streams.includes(name))
const isPose = (want: Want): boolean => want.kind === 'pose'
const isStill = (want: Want): boolean => isSampled(want) && want.kind !== 'turn' && want.still !== undefined

const isIt = (want: Want, target: Target): boolean => want.label === target.want.label && want.kind === target.want.kind
const after = (seconds: number): number => Math.round(seconds / stepS)

/** Something done to the rig at the row, and perhaps undone so many seconds later. */
const acting =
  (seconds: number, begin: (rig: Rig, target: Target) => void, end: (rig: Rig, target: Target) => void = () => {}) =>
  (target: Target): Meddler => ({
    row: (rig, want, row, happened) => {
      if (!isIt(want, target)) return 'keep'
      if (row === target.row) {
        begin(rig, target)
        happened?.()
      }
      if (row === target.row + after(seconds)) end(rig, target)
      return 'keep'
    },
  })

/** The same, undone at the latest when the take is over. */
const passing =
  (seconds: number, begin: (rig: Rig, target: Target) => void, end: (rig: Rig, target: Target) => void) =>
  (target: Target): Meddler => {
    let [isOn, done] = [false, false]
    return {
      ...acting(
        seconds,
        (rig) => {
          if (done) return
          done = true
          isOn = true
          begin(rig, target)
        },
        (rig) => {
          if (isOn) end(rig, target)
          isOn = false
        },
      )(target),
      after: (rig) => {
        if (isOn) end(rig, target)
        isOn = false
      },
    }
  }

/** What becomes of the rows from the one on, for so long. */
const fate =
  (what: 'lose' | 'repeat', least: number, most: number) =>
  (target: Target): Meddler => {
    const last = target.row + after(target.random.between(least, most))
    return {
      row: (_rig, want, row, happened) => {
        if (!isIt(want, target) || row < target.row || row >= last) return 'keep'
        happened?.()
        return what
      },
    }
  }

/** At the row of a sampled want, or before a board is asked for its reports. */
const atBoard =
  (act: (rig: Rig, target: Target) => void) =>
  (target: Target): Meddler => ({
    ...acting(0, act)(target),
    reports: (rig, want, happened) => {
      if (!isIt(want, target)) return
      act(rig, target)
      happened?.()
    },
  })

const heldAs =
  (how: (handled: Handled, target: Target) => Handled) =>
  (target: Target): Meddler => ({ handled: (want, handled) => (isIt(want, target) ? how(handled, target) : handled) })

const hold = (rig: Rig, turn: { roll?: number; pitch?: number; yaw?: number }): void => {
  const { roll, pitch, yaw } = rig.motion.pose.angles
  rig.motion.pose.hold({ roll: roll + (turn.roll ?? 0), pitch: pitch + (turn.pitch ?? 0), yaw: yaw + (turn.yaw ?? 0) })
}
const deg = Math.PI / 180

/** Settings that somebody else may set: of what the checks of these stations read. */
const elsewhere: readonly (readonly [name: string, value: number])[] = [
  ['level.roll', 3],
  ['level.pitch', -2],
  ['board.yaw', 90],
  ['gyro.biasX', 1.5],
  ['accel.biasZ', 0.6],
  ['compass.hardX', 25],
  ['filter.gyro', 190],
  ['socket.4.use', 3],
  ['radio.lowGate', 1080],
  ['radio.yaw.reverse', 1],
  ['switch.rate.low', 1500],
  ['radio.strengthChannel', 9],
  ['esc.poles', 12],
  ['esc.signal', 6],
]
const someSetting = ({ random }: Target): Settings => {
  const [name, value] = elsewhere[random.below(elsewhere.length)] ?? ['level.roll', 3]
  return { [name]: value }
}

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
const atTheRadio: readonly Disturbance[] = [
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

const someEsc = (rig: Rig, { row }: Target) => {
  const drives = rig.airframe.drives.flatMap((drive) => (drive === null ? [] : [drive.esc]))
  return drives[row % drives.length]
}
const isRead = (want: Want): boolean => want.kind === 'reports' && want.of.includes('escs')

/** What can go wrong while ESCs are read and listened to. */
const atTheEscs: readonly Disturbance[] = [
  {
    id: 'the plug of an ESC works loose',
    at: isRead,
    meddle: atBoard((rig, target) => void Object.assign(someEsc(rig, target) ?? {}, { plug: 'silent' })),
  },
  {
    id: 'an ESC set from elsewhere',
    at: isRead,
    meddle: atBoard((rig, target) => {
      const esc = someEsc(rig, target)
      if (esc === undefined) return
      esc.settings = { ...esc.settings, timingDeg: 4 }
      esc.saved = { ...esc.settings }
    }),
  },
  {
    id: 'replies of an ESC lost for a moment',
    at: hasStream('escs'),
    meddle: passing(
      0.5,
      (rig, target) => void Object.assign(someEsc(rig, target) ?? {}, { replyErrors: 1 }),
      (rig, target) => void Object.assign(someEsc(rig, target) ?? {}, { replyErrors: 0.0005 }),
    ),
  },
]

const isTurn = (want: Want): boolean => want.kind === 'turn'
/** A hand turns them, or an armed board. */
const turnsMotors = (want: Want): boolean => isTurn(want) || (want.kind === 'capture' && want.permit === 'armed-bench')
/** For good, from the beginning of a turn on: what breaks in its last moment is the next take's to find. */
const early =
  (act: (rig: Rig, target: Target) => void) =>
  (target: Target): Meddler =>
    acting(0, act)({ ...target, row: Math.min(target.row, after(0.1)) })

/** What can go wrong while motors turn. */
const atTheMotors: readonly Disturbance[] = [
  { id: 'the hand lets go', at: isTurn, meddle: acting(0, (rig) => void rig.board.stop('let go')) },
  {
    id: 'a motor falls out of step',
    at: isTurn,
    meddle: passing(
      0.4,
      (rig, target) => void Object.assign(someEsc(rig, target) ?? {}, { startAt: 2 }),
      (rig, target) => void Object.assign(someEsc(rig, target) ?? {}, { startAt: 0.045 }),
    ),
  },
  {
    id: 'the battery out while ESCs are taught',
    at: (want) => want.kind === 'watch' && want.permit === 'teach',
    meddle: (target) =>
      acting(0, (rig) => void actOn(rig, { act: 'battery', source: 'none' }))({ ...target, row: 400 + (target.row % 2000) }),
  },
  {
    id: 'a bell that something locks',
    at: turnsMotors,
    meddle: early((rig, target) => {
      const drives = rig.airframe.drives.flatMap((drive) => drive ?? [])
      Object.assign(drives[target.row % drives.length]?.motor ?? {}, { rub: 5 })
    }),
  },
  {
    id: 'an ESC that says nothing any more',
    at: turnsMotors,
    meddle: early((rig, target) => void Object.assign(someEsc(rig, target) ?? {}, { plug: 'silent' })),
  },
  {
    id: 'disarmed in the middle',
    at: (want) => want.kind === 'capture' && want.permit !== undefined,
    meddle: acting(0, (rig) => void actOn(rig, { act: 'switch', name: 'A', to: 0 })),
  },
  {
    id: 'two motors tapped in exchange',
    at: (want) => want.kind === 'turn' && want.says === 'motor',
    meddle: () => ({
      said: ({ airframe: { positions } }, _want, observations, happened) => {
        // Of two that turn alike, whose flags look the same.
        const first = positions[0]
        const other = positions.findLast((p) => p.turn === first?.turn && p.tier === first.tier)
        if (first === undefined || other === undefined) return observations
        const name = ({ boom, tier }: typeof first) => (tier === 'only' ? boom : `${boom} ${tier}`)
        const pair = [name(first), name(other)]
        return observations.map((one) => {
          const at = pair.indexOf(one.position ?? '')
          if (at < 0) return one
          happened?.()
          return { ...one, position: pair[1 - at] ?? '' }
        })
      },
    }),
  },
  {
    id: 'the frame struck again and again',
    at: isTurn,
    meddle: (target) => ({
      row: (rig, want, row, happened) => {
        if (!isIt(want, target) || row < target.row || (row - target.row) % after(0.3) !== 0) return 'keep'
        actOn(rig, { act: 'knock' })
        happened?.()
        return 'keep'
      },
    }),
  },
]

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
const atArming: readonly Disturbance[] = [
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
const atFailsafe: readonly Disturbance[] = [
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
const atHover: readonly Disturbance[] = [
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

export const disturbances: readonly Disturbance[] = [
  ...atHover,
  ...atTheRadio,
  ...atTheEscs,
  ...atTheMotors,
  ...atArming,
  ...atFailsafe,
  {
    id: 'battery pulled and put back',
    at: (want) => isSampled(want) && (want.state?.battery === true || want.streams.includes('meter')),
    meddle: acting(
      0.4,
      (rig) => rig.connect('none'),
      (rig) => rig.connect('pack'),
    ),
  },
  {
    id: 'cable pulled and put back',
    at: fromBoard,
    meddle: acting(
      0.5,
      (rig) => rig.plugCable(false),
      (rig) => rig.plugCable(true),
    ),
  },
  { id: 'a knock', at: fromBoard, meddle: acting(0, (rig) => void actOn(rig, { act: 'knock' })) },
  {
    id: 'a slow turn',
    at: isStill,
    meddle: acting(0, (rig, { random }) => {
      hold(rig, { yaw: random.between(1, 6) * deg, roll: random.between(0.3, 2) * deg })
      // On the plate no hand trembles: it slides.
      rig.motion.pose.held = 'plate'
    }),
  },
  {
    id: 'a turn about the vertical',
    at: isStill,
    meddle: acting(0, (rig, { random }) => {
      hold(rig, { yaw: random.between(1, 8) * deg })
      rig.motion.pose.held = 'plate'
    }),
  },
  {
    id: 'a hand on the frame',
    at: isStill,
    meddle: acting(
      0.8,
      (rig, { random }) => hold(rig, { roll: random.between(0.4, 2) * deg, pitch: random.between(0, 1) * deg }),
      (rig, { random }) => hold(rig, { roll: -random.between(0.3, 1.5) * deg }),
    ),
  },
  {
    id: 'the wrong pose',
    at: isPose,
    meddle: heldAs((handled) => ({
      ...handled,
      before: handled.before.map((act) =>
        act.act === 'tilt' && Math.abs(act.pitchDeg - act.rollDeg) > 1 && Math.abs(act.rollDeg) <= 90
          ? { ...act, rollDeg: act.pitchDeg, pitchDeg: act.rollDeg }
          : act,
      ),
    })),
  },
  {
    id: 'the wrong end up',
    at: isPose,
    meddle: heldAs((handled) => ({
      ...handled,
      before: handled.before.map((act) =>
        act.act === 'tilt' ? { ...act, rollDeg: -act.rollDeg, pitchDeg: -act.pitchDeg } : act,
      ),
    })),
  },
  {
    id: 'laid the wrong way',
    at: (want) => want.kind === 'capture' && isStill(want),
    meddle: heldAs((handled, { random }) => {
      const how = random.below(3)
      return {
        ...handled,
        before: handled.before.map((act) => {
          if (act.act !== 'lay') return act
          if (how === 0) return { act: 'tilt', rollDeg: 180, pitchDeg: 0, yawDeg: 0 }
          if (how === 1) return { act: 'lay', way: act.way === 'forward' ? 'reversed' : 'forward' }
          return { act: 'tilt', rollDeg: 0, pitchDeg: 0, yawDeg: random.between(20, 175) }
        }),
      }
    }),
  },
  {
    id: 'another board put in',
    at: (want) => fromBoard(want) || want.kind === 'reports',
    meddle: atBoard((rig) => rig.replaceBoard()),
  },
  { id: 'a stream that freezes', at: hasStream('imu', 'mag', 'baro'), meddle: fate('repeat', 0.1, 3) },
  { id: 'a stream that loses samples', at: isSampled, meddle: fate('lose', 0.1, 3) },
  {
    id: 'a write kept otherwise',
    at: (want) => want.kind === 'write' || want.kind === 'calibrate',
    meddle: () => keptOtherwise(),
  },
  {
    id: 'a setting changed from elsewhere',
    at: (want) => fromBoard(want) || want.kind === 'reports',
    meddle: atBoard((rig, target) => {
      rig.board.settings.write(someSetting(target))
      rig.board.settings.save()
    }),
  },
  {
    id: 'a second client sets without saving',
    at: (want) => fromBoard(want) || want.kind === 'reports',
    meddle: atBoard((rig, target) => void rig.board.settings.write(someSetting(target))),
  },
  {
    id: 'a second client restarts the board',
    at: fromBoard,
    meddle: acting(0, (rig) => void rig.restart()),
  },
  {
    id: 'another image of the same version',
    at: (want) => fromBoard(want) || want.kind === 'reports',
    meddle: atBoard((rig) => {
      const { firmware } = rig.airframe.board
      rig.airframe.board.firmware = { ...firmware, features: firmware.features.slice(1) }
      rig.restart()
    }),
  },
]

/** Once, of what is written, one value is kept otherwise. */
export const keptOtherwise = (): Meddler => {
  let done = false
  return {
    ask: (body): AskBody => {
      if (done || body.ask !== 'settings.write') return body
      // Of a choice there is no half.
      const [name, value] = Object.entries(body.values).find(([, v]) => !Number.isInteger(v)) ?? []
      if (name === undefined || value === undefined) return body
      done = true
      return { ...body, values: { ...body.values, [name]: value / 2 } }
    },
  }
}
