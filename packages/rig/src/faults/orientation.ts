import { degrees, fromAngles, inverse, multiply, radians, tiltOf, toAngles, type Angles } from '@taraf/core/rotation'
import type { Rig } from '../rig'
import { wrongSettings, type Fault } from './fault'

const none: Angles = { roll: 0, pitch: 0, yaw: 0 }
const angles = (roll: number, pitch: number, yaw: number): Angles => ({
  roll: radians(roll),
  pitch: radians(pitch),
  yaw: radians(yaw),
})

/** The rotation that the board is told, both layers, against the one in which board and chip truly sit (seating left out). */
const mountingOff = ({ airframe: { board }, board: { settings: s } }: Rig): number => {
  const told = multiply(
    fromAngles(angles(s.get('board.roll'), s.get('board.pitch'), s.get('board.yaw'))),
    fromAngles(angles(s.get('chip.roll'), s.get('chip.pitch'), s.get('chip.yaw'))),
  )
  const true_ = multiply(fromAngles(board.mounting), fromAngles(board.chip))
  const off = multiply(inverse(told), true_)
  return degrees(Math.acos(Math.max(-1, Math.min(1, (off[0][0] + off[1][1] + off[2][2] - 1) / 2))))
}
const isTurned = (rig: Rig) => mountingOff(rig) > 1
/** What the board would report, laid truly level and with all noise averaged away, deg. */
const leanLaidLevel = ({ board: { sensors }, airframe: { shop } }: Rig): { roll: number; pitch: number } => {
  const chip = sensors.quiet({ force: [0, 0, -shop.gravity], rate: [0, 0, 0] })
  const { roll, pitch } = tiltOf(sensors.inBody(sensors.calibrated(chip)).force)
  return { roll: degrees(roll), pitch: degrees(pitch) }
}
const seatingTilt = ({ airframe: { board } }: Rig) => degrees(Math.hypot(board.seating.roll, board.seating.pitch))

const turned = (id: string, where: string, to: Angles, likelihood: number): Fault => ({
  id,
  station: 'orientation',
  where,
  shows: 'tilts are reported about other axes or the other way',
  caughtBy: 'orientation.board',
  remedy: "write the board's turn",
  likelihood,
  inject: ({ airframe }) => void (airframe.board.mounting = to),
  isIn: isTurned,
  mend: ({ airframe: { board } }) => {
    const { roll, pitch, yaw } = toAngles(fromAngles(board.mounting))
    return { settings: { 'board.roll': degrees(roll), 'board.pitch': degrees(pitch), 'board.yaw': degrees(yaw) } }
  },
})

export const orientationFaults: readonly Fault[] = [
  turned('orientation.quarterLeft', 'board turned a quarter left so that its plug reaches', angles(0, 0, -90), 0.04),
  turned('orientation.halfTurn', 'board turned end for end', angles(0, 0, 180), 0.03),
  turned('orientation.eighth', 'board turned an eighth right', angles(0, 0, 45), 0.02),
  turned('orientation.upsideDown', 'board upside down under the deck', angles(180, 0, 0), 0.02),
  turned('orientation.upright', 'board standing on its edge', angles(0, 90, 0), 0.01),
  {
    ...wrongSettings(
      {
        id: 'orientation.toldTurned',
        station: 'orientation',
        where: 'a turn left over from another build',
        shows: 'the board sits straight and is set as if it did not',
        caughtBy: 'orientation.board',
      },
      { 'board.yaw': 90 },
      { 'board.yaw': 0 },
    ),
    isIn: isTurned,
  },
  {
    id: 'orientation.chipLayer',
    station: 'orientation',
    where: 'sensor turned on the board, which is set as straight',
    shows: 'as if the board were turned: two layers judged as one',
    caughtBy: 'orientation.board',
    remedy: 'write the turn in one of the layers',
    likelihood: 0.01,
    inject: ({ airframe }) => void (airframe.board.chip = angles(0, 0, 180)),
    isIn: isTurned,
    mend: () => ({ settings: { 'chip.yaw': 180 } }),
  },
  {
    id: 'orientation.seating',
    station: 'orientation',
    where: 'board askew on its posts',
    shows: 'the fit is over 3 deg beside the named mounting',
    caughtBy: 'orientation.board',
    remedy: 'seat the board square on its posts',
    likelihood: 0.015,
    inject: ({ airframe, beyond, random }) => {
      const tilt = radians(beyond(3, 0.35, 1.6))
      const about = 2 * Math.PI * random.uniform()
      airframe.board.seating = { ...none, roll: tilt * Math.cos(about), pitch: tilt * Math.sin(about) }
    },
    isIn: (rig) => seatingTilt(rig) > 3,
    mend: () => ({ acts: [{ act: 'seat board' }] }),
  },
  {
    id: 'orientation.levelOffset',
    station: 'orientation',
    where: 'board a little askew, level trim never measured',
    shows: 'laid level it reports a lean',
    caughtBy: 'orientation.level',
    remedy: 'write the level trim found by reversal',
    likelihood: 0.1,
    inject: ({ airframe, beyond, random }) => {
      const tilt = radians(beyond(0.72, 0.03, 2))
      const [roll, pitch] = random.uniform() < 0.5 ? [tilt, 0] : [0, -tilt]
      const { seating } = airframe.board
      airframe.board.seating = { roll: seating.roll + roll, pitch: seating.pitch + pitch, yaw: seating.yaw }
    },
    isIn: (rig) => {
      const lean = leanLaidLevel(rig)
      return Math.max(Math.abs(lean.roll), Math.abs(lean.pitch)) > 0.5
    },
    mend: (rig) => {
      const { roll, pitch } = leanLaidLevel(rig)
      const { settings } = rig.board
      return { settings: { 'level.roll': settings.get('level.roll') + roll, 'level.pitch': settings.get('level.pitch') + pitch } }
    },
  },
]
