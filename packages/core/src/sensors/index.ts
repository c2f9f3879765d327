import { barometer } from './barometer'
import { compass } from './compass'
import { compassShift } from './compassShift'
import { gyroRest } from './gyroRest'
import { position } from './position'
import { sixPoses } from './sixPoses'

export const sensors = [gyroRest, sixPoses, compass, compassShift, barometer, position]
