import type { ReactNode } from 'react'

/** What is read like a page: in two columns where both find room. A child that is not to be torn says so (`unbroken`). */
export const TwoColumns = ({ least, children }: { least: number; children: ReactNode }) => (
  <div style={{ columns: `2 ${least}px`, columnGap: 24 }}>{children}</div>
)

export const unbroken = { breakInside: 'avoid' } as object
