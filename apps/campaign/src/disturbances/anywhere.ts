import type { AskBody, Settings } from '@taraf/contract'
import type { Meddler } from '@taraf/demo'
import { actOn } from '@taraf/rig'
import {
  type Disturbance,
  type Target,
  isSampled,
  fromBoard,
  hasStream,
  isPose,
  isStill,
  acting,
  fate,
  atBoard,
  heldAs,
  hold,
  deg,
} from './disturbance'

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
/** What can go wrong at any station. */
export const anywhere: readonly Disturbance[] = [
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
