import type { HandAct, ImuStage, Settings, Sheet } from '@taraf/contract'
import { Rig, actOn, injectFaults, soundAirframe, soundSettings, type Airframe, type Mend, type Sample, type Shop } from '../src'
import type { PermitKind } from '../src/board/permits'

/** A shop for tests: level plate, a field that points north and down. */
export const plainShop = (): Shop => ({
  gravity: 9.81,
  field: [18, 0, 46],
  plate: { roll: 0, pitch: 0 },
  temperatureC: 20,
  outdoors: false,
})

const boom = (name: string, bearingDeg: number, output: number, turn: 'clockwise' | 'anticlockwise') => ({
  name,
  bearingDeg,
  radiusM: 0.125,
  motors: [{ tier: 'only' as const, output, turn }],
})
export const quad: Pick<Sheet, 'type' | 'geometry' | 'settings'> = {
  type: 'N4',
  geometry: {
    booms: [
      boom('front right', 45, 1, 'clockwise'),
      boom('rear right', 135, 2, 'anticlockwise'),
      boom('rear left', 225, 3, 'clockwise'),
      boom('front left', 315, 4, 'anticlockwise'),
    ],
    body: { lengthM: 0.16, widthM: 0.07 },
    propDiameterM: 0.127,
  },
  settings: {},
}

/** A larger quad that has every part: compass, position receiver, video. */
export const longRange: typeof quad = {
  ...quad,
  type: 'L4',
  geometry: { ...quad.geometry, booms: quad.geometry.booms.map((b) => ({ ...b, radiusM: 0.19 })), propDiameterM: 0.178 },
}

export interface Order {
  readonly seed?: number
  readonly sheet?: typeof quad
  readonly faults?: readonly string[]
  readonly spoil?: (airframe: Airframe, settings: Settings) => void
}

/** A simulated airframe for a test: sound but for what is ordered. */
export const rigFor = ({ seed = 5, sheet = quad, faults = [], spoil }: Order = {}): Rig => {
  const airframe = soundAirframe(sheet, 'FB-1', seed, plainShop())
  const settings = soundSettings(sheet)
  injectFaults(airframe, settings, faults, seed)
  spoil?.(airframe, settings)
  return new Rig({ seed, airframe, settings })
}

/** Takes every spread out of the sensors, so that what is left can be compared with a formula. */
export const exact = ({ imu, board, shop }: Airframe): void => {
  Object.assign(imu, {
    gyroBias: [0, 0, 0],
    gyroDrift: [0, 0, 0],
    gyroScale: [1, 1, 1],
    accelBias: [0, 0, 0],
    accelScale: [1, 1, 1],
    accelCross: 0,
    accelDrift: [0, 0, 0],
  })
  board.seating = { roll: 0, pitch: 0, yaw: 0 }
  shop.plate = { roll: 0, pitch: 0 }
}

export const run = (rig: Rig, seconds: number, stage: ImuStage = 'body'): Sample[] =>
  Array.from({ length: Math.round(seconds * 200) }, () => rig.step(stage))

/** Does acts one after the other; throws where one cannot be done. */
export const doAll = (rig: Rig, ...acts: HandAct[]): void => {
  for (const act of acts) {
    const wrong = actOn(rig, act)
    if (wrong !== null) throw new Error(`${act.act}: ${wrong}`)
  }
}

/** Battery on, props off, transmitter on and heard, throttle low. */
export const readyToArm = (rig: Rig): void => {
  doAll(rig, { act: 'battery', source: 'pack' }, { act: 'transmitter', on: true })
  run(rig, 0.3)
}

export const permit = (rig: Rig, kind: PermitKind, props: 'off' | 'on' = 'off'): string => {
  const { powerId } = rig.state()
  const found = rig.board.grant(kind, props, powerId, rig.power)
  if (!('token' in found)) throw new Error(`no permit: ${found.refused}`)
  return found.token
}

export const arm = (rig: Rig): void => {
  permit(rig, 'armed-bench')
  doAll(rig, { act: 'switch', name: 'A', to: 1 })
  run(rig, 0.1)
}

/** Does what repairs a fault, as hands and link would. */
export const mend = (rig: Rig, { acts = [], settings, escs, image, calibrate }: Mend): void => {
  doAll(rig, ...acts)
  if (settings !== undefined) {
    const wrong = rig.board.settings.write(settings)
    if (wrong !== null) throw new Error(wrong)
    rig.board.settings.save()
  }
  if (escs !== undefined) {
    doAll(rig, { act: 'battery', source: 'pack' })
    const done = rig.writeEscs(escs.outputs, escs.settings as Record<string, number>)
    if (typeof done === 'string') throw new Error(done)
    doAll(rig, { act: 'battery', source: 'none' })
  }
  if (image !== undefined) rig.airframe.board.firmware = image
  if (calibrate !== undefined) {
    rig.board.beginCalibration()
    for (let i = 0; i < 600 && rig.board.calibrationResult() === null; i++) rig.step('raw')
    rig.board.settings.save()
  }
}
