import type { Panel } from '../panel'
import { gyroRest } from './gyroRest'

export const sensors: Readonly<Record<string, Panel>> = { 'sensors.gyroRest': gyroRest }
