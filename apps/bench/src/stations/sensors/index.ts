import type { Panel } from '../panel'
import { barometer } from './barometer'
import { compass } from './compass'
import { compassShift } from './compassShift'
import { gyroRest } from './gyroRest'
import { position } from './position'
import { sixPoses } from './sixPoses'

export const sensors: Readonly<Record<string, Panel>> = {
  'sensors.gyroRest': gyroRest,
  'sensors.sixPoses': sixPoses,
  'sensors.compass': compass,
  'sensors.compassShift': compassShift,
  'sensors.barometer': barometer,
  'sensors.position': position,
}
