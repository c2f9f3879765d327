import type { JobView } from '@taraf/contract'
import { triesOf } from '@taraf/core'
import { CableOut } from '../../parts/CableOut'

/** What is done on the battery alone, one after the other. */
export const AloneLive = ({ job }: { job: JobView }) => (
  <CableOut
    check="failsafe.finalForm"
    acts={triesOf('failsafe.finalForm', job.sheet).map(({ words }) => words)}
    warns="Stop all does not reach it now. Keep a hand at the battery."
  />
)
