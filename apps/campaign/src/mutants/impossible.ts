import type { Column, Evidence, Reports, Segment, SheetPart } from '@taraf/contract'
import { ofArming } from './impossibleOfArming'
import { ofFailsafe } from './impossibleOfFailsafe'
import { ofEscs } from './impossibleOfEscs'
import { ofHover } from './impossibleOfHover'
import { ofMotors } from './impossibleOfMotors'
import { onAir } from './impossibleOnAir'

/**
 * Rules by which a pass is impossible, written apart from the core: plain arithmetic on the document, with limits of its own (the
 * shop's, as docs/ and work.md have them) and some room, so that only a pass that nothing can explain breaks one.
 */
export const impossible = (document: Evidence): string | null => inAny(document) ?? byCheck[document.check]?.(document) ?? null

type Rule = (document: Evidence) => string | null

const defaults: Readonly<Record<string, { min?: number; max?: number }>> = {
  'gyroRest.bias': { max: 0.2 },
  'gyroRest.noise': { max: 0.3 },
  'level.offset': { max: 0.5 },
  'firstPower.amps': { max: 0.6 },
  'firstPower.volts': { min: 5 },
  'rails.volts': { min: 4.9, max: 5.25 },
  'barometer.noise': { max: 0.3 },
  'barometer.drift': { max: 1 },
  'compass.residual': { max: 0.04 },
  'compassShift.shift': { max: 10 },
  'sixPoses.inForce': { max: 0.15 },
  'position.wait': { max: 120 },
  'position.lasts': { min: 0.98 },
  'loop.load': { max: 0.7 },
  'loop.jitter': { max: 0.05 },
  'sockets.receiverFrames': { min: 20 },
  'follow.yaw': { max: 15 },
  'follow.tilt': { max: 5 },
}
const most = ({ limits }: SheetPart, name: string): number => limits?.[name]?.max ?? defaults[name]?.max ?? Infinity
const least = ({ limits }: SheetPart, name: string): number => limits?.[name]?.min ?? defaults[name]?.min ?? -Infinity

const average = (x: Column): number => {
  let sum = 0
  for (const v of x) sum += v
  return sum / x.length
}
const deviation = (x: Column): number => {
  const m = average(x)
  let sum = 0
  for (const v of x) sum += (v - m) ** 2
  return Math.sqrt(sum / Math.max(1, x.length - 1))
}
const deg = (rad: number) => (rad * 180) / Math.PI
const segmentOf = ({ segments }: Evidence, label: string): Segment | undefined => segments.find((s) => s.label === label)
const tilt = ({ ax, ay, az }: NonNullable<Segment['streams']['imu']>) => {
  const [x, y, z] = [average(ax), average(ay), average(az)]
  return { roll: deg(Math.atan2(-y, -z)), pitch: deg(Math.atan2(x, Math.hypot(y, z))) }
}
/** Means of whole seconds one after the other. */
const secondsOf = (t: Column, x: Column): number[] => {
  const sums = new Map<number, [number, number]>()
  for (let i = 0; i < t.length; i++) {
    const second = Math.floor((t[i] as number) - (t[0] as number) + 1e-9)
    const [sum, n] = sums.get(second) ?? [0, 0]
    sums.set(second, [sum + (x[i] as number), n + 1])
  }
  return [...sums.values()].filter(([, n]) => n > 9).map(([sum, n]) => sum / n)
}
const span = (t: Column): number => (t[t.length - 1] as number) - (t[0] as number)

/** What no check passes, whatever it looks at. */
const inAny: Rule = ({ segments, sheet }) => {
  if (new Set(segments.map((s) => s.label)).size < segments.length) return 'a label is there twice'
  for (const [name, { min, max }] of Object.entries(sheet.limits ?? {})) {
    const has = defaults[name]
    if (has === undefined) continue
    if ((min !== undefined && has.min === undefined) || (max !== undefined && has.max === undefined)) return `the side of ${name}`
  }
  for (const { label, streams } of segments)
    for (const name of ['imu', 'mag', 'baro'] as const) {
      const stream = streams[name]
      if (stream === undefined) continue
      const { t } = stream
      let longest = 0
      for (let i = 1; i < t.length; i++) longest = Math.max(longest, (t[i] as number) - (t[i - 1] as number))
      if (longest > (name === 'imu' ? 0.0515 : 0.6)) return `a gap in ${name} of "${label}"`
      for (const [key, column] of Object.entries(stream))
        // A gyro that is dead is told where it is what is measured.
        if (
          typeof column === 'object' &&
          (!key.startsWith('g') || label === 'rest') &&
          t.length > 60 &&
          span(t) > 1.2 &&
          deviation(column as Column) === 0
        )
          return `${key} of ${name} of "${label}" stands`
    }
  return null
}

const gyroRest: Rule = (document) => {
  const imu = segmentOf(document, document.written === undefined ? 'rest' : 'proof')?.streams.imu
  if (imu === undefined || span(imu.t) < 4.8) return 'no five seconds of rest'
  for (const x of [imu.gx, imu.gy, imu.gz]) {
    if (Math.abs(deg(average(x))) > most(document.sheet, 'gyroRest.bias') + 0.005) return 'a bias'
    if (deg(deviation(x)) > most(document.sheet, 'gyroRest.noise') + 0.005) return 'a noise'
  }
  return null
}

/** For small leans: the reading is the offset and the plate's lean as it is seen from where the airframe is turned to. */
const level: Rule = (document) => {
  const [a, b] = [segmentOf(document, 'first'), segmentOf(document, 'second')]
  if (a?.streams.imu?.stage !== 'body' || b?.streams.imu?.stage !== 'body') return 'not two placements in body axes'
  const [first, second] = [tilt(a.streams.imu), tilt(b.streams.imu)]
  const [from, to] = [a.streams.attitude?.yaw, b.streams.attitude?.yaw]
  const turned =
    from === undefined || to === undefined ? Math.PI : (to[to.length >> 1] as number) - (from[from.length >> 1] as number)
  const [c, s] = [Math.cos(turned), Math.sin(turned)]
  if (c > Math.cos((140 * Math.PI) / 180)) return 'no half turn'
  // second - first = (T - 1) plate, with T the turn of the lean (roll, pitch) as the airframe turns to the right.
  const [dr, dp] = [second.roll - first.roll, second.pitch - first.pitch]
  const det = (c - 1) ** 2 + s * s
  const plate = { roll: ((c - 1) * dr - s * dp) / det, pitch: ((c - 1) * dp + s * dr) / det }
  const offset = { roll: first.roll - plate.roll, pitch: first.pitch - plate.pitch }
  const size = Math.max(Math.abs(first.roll), Math.abs(first.pitch), Math.abs(second.roll), Math.abs(second.pitch))
  const room = 0.05 + 0.01 * size * size
  const limit = most(document.sheet, 'level.offset')
  const proof = segmentOf(document, 'proof')?.streams.imu
  const left =
    document.written === undefined || proof === undefined
      ? offset
      : { roll: tilt(proof).roll - second.roll + offset.roll, pitch: tilt(proof).pitch - second.pitch + offset.pitch }
  return Math.max(Math.abs(left.roll), Math.abs(left.pitch)) > limit + room ? `leans by ${left.roll} and ${left.pitch}` : null
}

const firstPower: Rule = (document) => {
  const meter = segmentOf(document, 'power')?.streams.meter
  if (meter === undefined) return 'no meter'
  const { t, volts, amps, rail } = meter
  const on = Array.from(volts).findIndex((v) => v > 5)
  if (on < 0) return 'no power'
  const from = Array.from(t).findIndex((at) => at - (t[on] as number) > 1)
  if (from < 0 || (t[t.length - 1] as number) - (t[on] as number) < 3.4) return 'too short'
  const part = (x: Column) => Array.from(x).slice(from)
  if (part(volts).some((v) => v < least(document.sheet, 'firstPower.volts'))) return 'no voltage'
  const seconds = secondsOf(part(t), part(amps))
  if (seconds.some((a) => a > most(document.sheet, 'firstPower.amps') * 1.02 + 0.01)) return 'a second draws too much'
  if (part(amps).some((a) => a < -0.5)) return 'current runs backwards'
  return secondsOf(part(t), part(rail)).some(
    (v) => v < least(document.sheet, 'rails.volts') - 0.02 || v > most(document.sheet, 'rails.volts') + 0.02,
  )
    ? 'the rail is off'
    : null
}

const rails: Rule = (document) => {
  const meter = segmentOf(document, 'warm')?.streams.meter
  if (meter === undefined || span(meter.t) < 118) return 'no two minutes'
  if (Array.from(meter.volts).some((v) => v < 4)) return 'the battery was out'
  return secondsOf(meter.t, meter.rail).some(
    (v) => v < least(document.sheet, 'rails.volts') - 0.02 || v > most(document.sheet, 'rails.volts') + 0.02,
  )
    ? 'a second of the rail is off'
    : null
}

const barometer: Rule = (document) => {
  const baro = segmentOf(document, 'rest')?.streams.baro
  if (baro === undefined || span(baro.t) < 19) return 'no rest'
  const { t, height } = baro
  const [tm, hm] = [average(t), average(height)]
  let [tt, th] = [0, 0]
  for (let i = 0; i < t.length; i++) {
    tt += ((t[i] as number) - tm) ** 2
    th += ((t[i] as number) - tm) * ((height[i] as number) - hm)
  }
  const slope = th / tt
  const left = Array.from(height, (h, i) => h - hm - slope * ((t[i] as number) - tm))
  if (deviation(left) > most(document.sheet, 'barometer.noise') * 1.03 + 0.003) return 'noise'
  return Math.abs(slope * 300) > most(document.sheet, 'barometer.drift') * 1.02 + 0.01 ? 'drift' : null
}

/** The field in force must keep one length, and not be seen in a mirror. */
const compass: Rule = (document) => {
  const mag = segmentOf(document, document.written === undefined ? 'turn' : 'proof')?.streams.mag
  const settings = document.written ?? document.board.settings
  if (mag === undefined) return 'no field'
  if (settings?.['compass.hardX'] === undefined) return null
  const s = (name: string) => settings[`compass.${name}`] ?? (name === 'softXX' || name === 'softYY' || name === 'softZZ' ? 1 : 0)
  const soft = [
    [s('softXX'), s('softXY'), s('softXZ')],
    [s('softXY'), s('softYY'), s('softYZ')],
    [s('softXZ'), s('softYZ'), s('softZZ')],
  ] as [number[], number[], number[]]
  const sizes = Array.from(mag.mx, (x, i) => {
    const raw = [x - s('hardX'), (mag.my[i] as number) - s('hardY'), (mag.mz[i] as number) - s('hardZ')]
    return Math.hypot(...soft.map((row) => row.reduce((sum, v, k) => sum + v * (raw[k] as number), 0)))
  })
  if (deviation(sizes) / average(sizes) > most(document.sheet, 'compass.residual') + 0.01)
    return 'what is in force leaves too much'
  // Of a correction that points where the field points, every axis keeps its sign.
  return [0, 1, 2].some((i) => (soft[i]?.[i] ?? 1) <= 0) ? 'an axis is turned round' : null
}

const compassShift: Rule = (document) => {
  const [still, turning] = [segmentOf(document, 'still')?.streams, segmentOf(document, 'turning')?.streams]
  if (!still?.mag || !turning?.mag || !still.power || !turning.power) return 'a stream is missing'
  const amps = average(turning.power.amps) - average(still.power.amps)
  return amps < 0.35 ? 'nothing was drawn' : null
}

const position: Rule = (document) => {
  const fix = segmentOf(document, 'sky')?.streams.fix
  if (fix === undefined || fix.t.length === 0) return 'nothing said'
  const first = Array.from(fix.fixed).findIndex((v) => v >= 0.5)
  if (first <= 0) return 'no fix, or one from the start'
  if ((fix.t[first] as number) - (fix.t[0] as number) > most(document.sheet, 'position.wait') + 0.01) return 'too late'
  const since = Array.from(fix.fixed).slice(first)
  return since.filter((v) => v >= 0.5).length / since.length < least(document.sheet, 'position.lasts') - 1e-9
    ? 'lost again'
    : null
}

const poseLabels = ['top', 'bottom', 'nose-up', 'nose-down', 'left-down', 'right-down', 'oblique']
const sixPoses: Rule = (document) => {
  const settings = document.written ?? document.board.settings
  if (settings?.['accel.biasX'] === undefined) return null
  const s = (name: string, otherwise: number) => settings[`accel.${name}`] ?? otherwise
  for (const label of poseLabels) {
    const imu = segmentOf(document, label)?.streams.imu
    if (imu?.stage !== 'raw') return `no raw samples of "${label}"`
    const size = Math.hypot(
      s('scaleX', 1) * (average(imu.ax) - s('biasX', 0)),
      s('scaleY', 1) * (average(imu.ay) - s('biasY', 0)),
      s('scaleZ', 1) * (average(imu.az) - s('biasZ', 0)),
    )
    // Gravity at the shop is within 0.03 of the standard one.
    if (Math.abs(size - 9.81) > most(document.sheet, 'sixPoses.inForce') + 0.05) return `"${label}" reads ${size.toFixed(2)}`
  }
  return null
}

const board: Rule = (document) => {
  const { orientation: told, chip = { roll: 0, pitch: 0, yaw: 0 } } = document.board
  const streams = ['level', 'nose-up', 'right-down'].map((label) => segmentOf(document, label)?.streams.imu)
  if (streams.some((imu) => imu === undefined || imu.stage === 'body')) return 'not three poses in the axes of the sensor'
  const marks = (label: string) => document.observations?.filter((o) => o.segment === label).at(-1)?.up
  if (marks('nose-up') !== 'front' || marks('right-down') !== 'left') return 'what points up was not as asked'
  if (told === undefined) return null
  const turn = (v: number[], { roll, pitch, yaw }: typeof told): number[] => {
    const [r, p, y] = [roll, pitch, yaw].map((a) => (a * Math.PI) / 180) as [number, number, number]
    const [a, b, c] = v as [number, number, number]
    const [b1, c1] = [b * Math.cos(r) - c * Math.sin(r), b * Math.sin(r) + c * Math.cos(r)]
    const [a2, c2] = [a * Math.cos(p) + c1 * Math.sin(p), c1 * Math.cos(p) - a * Math.sin(p)]
    return [a2 * Math.cos(y) - b1 * Math.sin(y), a2 * Math.sin(y) + b1 * Math.cos(y), c2]
  }
  const body = streams.map((imu) => {
    const f = imu === undefined ? [0, 0, 0] : [average(imu.ax), average(imu.ay), average(imu.az)]
    const size = Math.hypot(...f)
    return turn(turn(f, chip), told).map((v) => v / size)
  }) as [number[], number[], number[]]
  if ((body[0][2] ?? 0) > -0.97) return 'told so, it does not lie level'
  if ((body[1][0] ?? 0) < 0.3 || Math.abs(body[1][1] ?? 0) > (body[1][0] ?? 0) * 0.75) return 'told so, its nose is not up'
  return (body[2][1] ?? 0) > -0.3 || Math.abs(body[2][0] ?? 0) > -(body[2][1] ?? 0) * 0.75
    ? 'told so, its left side is not up'
    : null
}

const follow: Rule = (document) => {
  const at = (label: string) => segmentOf(document, label)?.streams
  const [flat, nose, right, turned] = [at('level'), at('nose-up'), at('right-down'), at('nose-right')]
  if (!flat?.attitude || !nose?.attitude || !right?.attitude || !turned?.attitude || !turned.imu) return 'a segment is missing'
  if ([flat, nose, right, turned].some((s) => s.imu?.stage !== 'body')) return 'not in body axes'
  if (deg(average(nose.attitude.pitch) - average(flat.attitude.pitch)) < 15) return 'no nose up'
  const roll = deg(average(right.attitude.roll) - average(flat.attitude.roll))
  if (roll < 15 && roll > -345) return 'no right side down'
  const { t, yaw } = turned.attitude
  if (t.length < 2) return 'no turn'
  let said = 0
  for (let i = 1; i < yaw.length; i++) {
    const step = (yaw[i] as number) - (yaw[i - 1] as number)
    said += step - 2 * Math.PI * Math.round(step / (2 * Math.PI))
  }
  return said < 0.3 ? 'no nose right' : null
}

const reportsOf = ({ segments }: Evidence): Reports => Object.assign({}, ...segments.map((s) => s.reports ?? {})) as Reports
const plain = (version: string) => version.replace(/(\.0+)+$/, '')

const byCheck: Readonly<Record<string, Rule>> = {
  'sensors.gyroRest': gyroRest,
  'sensors.sixPoses': sixPoses,
  'sensors.compass': compass,
  'sensors.compassShift': compassShift,
  'sensors.barometer': barometer,
  'sensors.position': position,
  ...onAir,
  ...ofEscs,
  ...ofMotors,
  ...ofArming,
  ...ofFailsafe,
  ...ofHover,
  'orientation.board': board,
  'orientation.follow': follow,
  'orientation.level': level,
  'intake.firstPower': firstPower,
  'intake.rails': rails,
  'board.loop': (document) => {
    const { loop } = reportsOf(document)
    if (loop === undefined || loop.load < 0 || loop.jitter < 0) return 'no loop'
    return loop.load > most(document.sheet, 'loop.load') || loop.jitter > most(document.sheet, 'loop.jitter') ? 'its loop' : null
  },
  'board.identity': (document) => {
    const { identity } = reportsOf(document)
    if (identity === undefined || identity.loader || identity.firmware === null) return 'nothing runs'
    const target = document.sheet.board?.target
    return target !== undefined && identity.target !== target ? 'another target' : null
  },
  'board.firmware': (document) => {
    const firmware = reportsOf(document).identity?.firmware
    const wanted = document.sheet.board?.firmware
    if (!firmware || wanted === undefined || firmware.name !== wanted.name) return 'another firmware'
    if (!wanted.approved.some((a) => plain(a.version) === plain(firmware.version))) return 'not approved'
    if (wanted.bad?.some((b) => plain(b.version) === plain(firmware.version)) === true) return 'known bad'
    return (wanted.features ?? []).every((f) => firmware.features.includes(f)) ? null : 'a feature is missing'
  },
  'board.sensors': (document) => {
    const { sensors = [] } = reportsOf(document)
    const found = (name: string) => sensors.some((s) => s.name === name && s.found)
    const wanted = ['imu', ...(document.sheet.fitted ?? []).map((f) => (f === 'barometer' ? 'baro' : f))]
    return wanted.every(found) ? null : 'a sensor is silent'
  },
  'board.sockets': (document) => {
    const { sockets = [] } = reportsOf(document)
    const [first, last] = [sockets[0], sockets.at(-1)]
    if (!first || !last || !(last.t > first.t)) return 'not listed twice'
    for (const { socket, use } of document.sheet.board?.sockets ?? []) {
      const [was, is] = [first.sockets.find((s) => s.socket === socket), last.sockets.find((s) => s.socket === socket)]
      if (!was || !is || is.use !== use) return `socket ${socket}`
      const rate = (is.goodFrames - was.goodFrames) / (last.t - first.t)
      if (use === 'receiver' && rate < least(document.sheet, 'sockets.receiverFrames')) return 'the receiver is not heard'
    }
    return null
  },
  'board.baseline': ({ board: { settings = {} }, sheet }) =>
    Object.entries(sheet.settings ?? {}).some(
      ([name, value]) =>
        !/^(gyro|accel|level\.(roll|pitch)|board|chip|compass\.(hard|soft)|power\.(voltScale|ampScale|ampOffset)|rotor\.hover)/.test(
          name,
        ) && Math.abs((settings[name] ?? NaN) - value) > 1e-3 * Math.max(1, Math.abs(value)),
    )
      ? 'a setting is another'
      : null,
}
