import { board } from './board'
import { follow } from './follow'
import { level } from './level'

export const orientation = [board, follow, level]
