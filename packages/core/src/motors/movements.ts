import type { MixRow } from '../geometry'

/** A tilt or a turn, and what must push against it. */
export interface Movement {
  readonly label: string
  readonly words: string
  /** What a board that levels wants against it: of each axis, -1 or 1. */
  readonly against: (row: MixRow, mirrored: boolean) => number
  /** The side whose motors must run faster, where it is one. */
  readonly faster?: string
  readonly ask: string
}

/** Every tilt. */
export const tilts: readonly Movement[] = [
  { label: 'right-down', words: 'Right side down', against: (row) => -row.roll, faster: 'right', ask: 'its right side down' },
  { label: 'left-down', words: 'Left side down', against: (row) => row.roll, faster: 'left', ask: 'its left side down' },
  { label: 'nose-up', words: 'Nose up', against: (row) => -row.pitch, faster: 'rear', ask: 'its nose up' },
  { label: 'nose-down', words: 'Nose down', against: (row) => row.pitch, faster: 'front', ask: 'its nose down' },
]

/** The collective over which a board corrects: below it, it idles. */
export const raised = 0.04
