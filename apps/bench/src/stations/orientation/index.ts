import type { Panel } from '../panel'
import { level } from './level'

export const orientation: Readonly<Record<string, Panel>> = { 'orientation.level': level }
