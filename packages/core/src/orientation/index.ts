import { level } from './level'

export const orientation = [level]
