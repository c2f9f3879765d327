import type { Column, Evidence, Segment } from '@taraf/contract'

/** Rules for arming by which a pass is impossible, written apart from the core. */

type Rule = (document: Evidence) => string | null
type Named = Readonly<Record<string, Column | undefined>>
interface Told {
  readonly t: number
  readonly what: string
  readonly reasons?: readonly string[]
  readonly cause?: string
}

const segmentOf = ({ segments }: Evidence, label: string): Segment | undefined => segments.find((s) => s.label === label)
const toldIn = (segment: Segment | undefined): readonly Told[] => (segment?.events ?? []) as readonly Told[]

/** Why each step of the refusals must have been refused: the word of the board for it. */
const reasonOf: Readonly<Record<string, string>> = {
  throttle: 'throttle',
  'tilt-right': 'tilt',
  'tilt-left': 'tilt',
  'tilt-nose-up': 'tilt',
  'tilt-nose-down': 'tilt',
  calibration: 'not calibrated',
  'power-up': 'switch on at power-up',
  battery: 'low battery',
}

/** How far it leans in the last tenth of a second before a time, deg from level: whatever way. */
const leanAt = ({ streams: { imu } }: Segment, at: number): number => {
  if (imu === undefined) return 0
  let [flat, whole, n] = [0, 0, 0]
  for (let i = 0; i < imu.t.length; i++) {
    if ((imu.t[i] as number) < at - 0.1 || (imu.t[i] as number) > at) continue
    flat += Math.hypot(imu.ax[i] as number, imu.ay[i] as number)
    whole += -(imu.az[i] as number)
    n += 1
  }
  return n === 0 ? 0 : (Math.atan2(flat, whole) * 180) / Math.PI
}

const refusesRule: Rule = (document) => {
  for (const segment of document.segments) {
    const told = toldIn(segment)
    if (told.some(({ what }) => what === 'armed')) return `it armed in ${segment.label}`
    const wanted = reasonOf[segment.label]
    if (wanted === undefined) continue
    const last = told.filter(({ what }) => what === 'refusing').at(-1)
    if (last?.reasons?.join() !== wanted) return `${segment.label} refused for ${last?.reasons?.join() ?? 'nothing'}`
    if (segment.label.startsWith('tilt-') && leanAt(segment, last.t) < 15)
      return `${segment.label} refused at ${leanAt(segment, last.t)} deg`
  }
  const off = toldIn(segmentOf(document, 'radio')).some(
    ({ what, reasons }) => what === 'gates' && reasons?.includes('no radio') === true,
  )
  return off ? null : 'it never said that there was no radio'
}

const armsRule: Rule = (document) =>
  toldIn(segmentOf(document, 'arm')).some(({ what }) => what === 'armed') ? null : 'it never armed'

/** Seconds of frames with yaw over to the left and throttle up, all together. */
const flownFor = ({ board: { settings = {} } }: Evidence, { streams: { radio } }: Segment): number => {
  if (radio === undefined) return 0
  const usOf = (stick: string, row: number) => {
    const us = (radio as unknown as Named)[`ch${settings[`radio.${stick}.channel`] ?? 0}`]?.[row] ?? 1500
    return settings[`radio.${stick}.reversed`] === 1 ? 3000 - us : us
  }
  let seconds = 0
  for (let row = 1; row < radio.t.length; row++)
    if (usOf('yaw', row) < 1150 && usOf('throttle', row) > 1450)
      seconds += (radio.t[row] as number) - (radio.t[row - 1] as number)
  return seconds
}

const disarmsRule: Rule = (document) => {
  for (const way of ['flight', 'switch', 'stop', 'sticks', 'idle']) {
    const off = segmentOf(document, `off-${way}`)
    if (off === undefined) continue
    if (way === 'flight' && flownFor(document, off) < 1) return 'nobody held yaw over while it flew'
    const told = toldIn(off).find(({ what }) => what === 'disarmed')
    if (told === undefined) return `${way} did not disarm it`
    const { outputs } = off.streams
    if (outputs === undefined) return `${way}: nothing was told of the outputs`
    const last = outputs.t.length - 1
    for (const [name, column] of Object.entries(outputs as Named))
      if (/^o\d+$/.test(name) && ((column?.[last] as number) ?? 0) > 0) return `${way}: ${name} is driven to the end`
  }
  return null
}

const idleRule: Rule = (document) => {
  if (document.sheet.settings?.['motors.turnWhenArmed'] === 0) return null
  const { escs } = segmentOf(document, 'idle')?.streams ?? {}
  if (escs === undefined) return null
  for (const output of (document.sheet.geometry?.booms ?? []).flatMap((boom) => boom.motors.map((motor) => motor.output))) {
    const rpm = Array.from((escs as Named)[`rpm${output}`] ?? [])
    const turning = rpm.filter((one) => one > 290).length
    if (turning < rpm.length / 2 || rpm.length === 0) return `output ${output} stood for half of the time`
  }
  return null
}

export const ofArming: Readonly<Record<string, Rule>> = {
  'arming.refuses': refusesRule,
  'arming.arms': armsRule,
  'arming.disarms': disarmsRule,
  'arming.idle': idleRule,
}
