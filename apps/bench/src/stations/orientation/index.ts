import type { Panel } from '../panel'
import { board } from './board'
import { follow } from './follow'
import { level } from './level'

export const orientation: Readonly<Record<string, Panel>> = {
  'orientation.board': board,
  'orientation.follow': follow,
  'orientation.level': level,
}
