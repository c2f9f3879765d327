import type { Panel } from '../panel'
import { asReceived, baseline, boardSockets, firmware, identity, loop, rules, sensorsAnswer, versions } from './panels'

export const board: Readonly<Record<string, Panel>> = {
  'board.asReceived': asReceived,
  'board.identity': identity,
  'board.firmware': firmware,
  'board.versions': versions,
  'board.baseline': baseline,
  'board.rules': rules,
  'board.sockets': boardSockets,
  'board.sensors': sensorsAnswer,
  'board.loop': loop,
}
