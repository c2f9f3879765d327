import type { JobView } from '@taraf/contract'
import { hopActs, hoverProof } from '@taraf/core'
import { CableOut } from '../../parts/CableOut'

/** What the pilot does, one after the other: nobody hears the board while it flies. */
export const HopLive = ({ job }: { job: JobView }) => (
  <CableOut check={hoverProof} acts={hopActs(job.sheet)} warns="Stop all does not reach it now. Only the arm switch stops it." />
)
