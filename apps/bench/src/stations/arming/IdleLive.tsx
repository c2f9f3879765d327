import type { JobView } from '@taraf/contract'
import { escsTell } from '@taraf/core'
import { speedsLive } from '../escs/SpeedsLive'
import { armingLive } from './ArmingLive'

const says = 'Armed, with throttle down: each as fast as its neighbours, and none hunting.'
const Told = speedsLive('arming.idle', () => says)
const Seen = armingLive('arming.idle', `${says} These ESCs do not say how fast they turn: look at every motor.`)

/** How fast each motor idles, where its ESC says so; else only whether it is armed. */
export const IdleLive = ({ job }: { job: JobView }) => (escsTell(job.sheet) ? <Told job={job} /> : <Seen job={job} />)
