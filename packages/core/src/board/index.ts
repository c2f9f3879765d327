import { asReceived } from './asReceived'
import { baseline } from './baseline'
import { firmware } from './firmware'
import { identity } from './identity'
import { loop } from './loop'
import { settingRules } from './settingRules'
import { sensorsAnswer } from './sensorsAnswer'
import { sockets } from './sockets'
import { versions } from './versions'

export const board = [asReceived, identity, firmware, versions, baseline, settingRules, sockets, sensorsAnswer, loop]
