import type { JobView } from '@taraf/contract'
import type { ComponentType } from 'react'

/** What a check shows of its own: its live reading against the limit, and words for its findings. */
export interface Panel {
  readonly Live: ComponentType<{ job: JobView }>
  readonly words: Readonly<Record<string, string>>
  /** Whether the airframe lies turned by half a turn in a segment, as its plan is drawn. */
  readonly turned: (segment: number) => boolean
}
