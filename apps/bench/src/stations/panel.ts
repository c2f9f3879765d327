import type { JobView, StoredEntry, TakeBody } from '@taraf/contract'
import type { ComponentType } from 'react'

export interface ResultProps {
  readonly job: JobView
  readonly take: StoredEntry & { body: TakeBody }
}

/** What a check shows of its own: its live reading against the limit, and what it found, drawn. */
export interface Panel {
  readonly Live?: ComponentType<{ job: JobView }>
  /** What a take found, drawn, where a list of values does not show it. */
  readonly Result?: ComponentType<ResultProps>
  /** Whether there is anything of a take to draw; always where it is not said. */
  readonly draws?: (take: TakeBody) => boolean
  /** Whether the airframe lies turned by half a turn in a step of a take, by its label, as its plan is drawn. */
  readonly turned: (step: string | null) => boolean
}
