import { byEye } from './byEye'
import { firstPower } from './firstPower'
import { forWhom } from './forWhom'
import { identity } from './identity'
import { incoming } from './incoming'
import { pastBoard } from './pastBoard'
import { rails } from './rails'

export const intake = [identity, forWhom, incoming, byEye, pastBoard, firstPower, rails]
