import { lazy, Suspense } from 'react'
import { Words } from './type'
import type { LongListProps } from './VirtualRows'

const Rows = lazy(async () => ({ default: (await import('./VirtualRows')).VirtualRows }))

/** A list of which only the rows in sight are drawn, however long it is. */
export const LongList = (props: LongListProps) => (
  <Suspense fallback={<Words kind="faint">…</Words>}>
    <Rows {...props} />
  </Suspense>
)
