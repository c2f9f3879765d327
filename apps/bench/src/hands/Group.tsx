import type { ReactNode } from 'react'
import { Column, Words } from '../parts/type'

/** Acts with one thing in hand. */
export const Group = ({ title, children }: { title: string; children: ReactNode }) => (
  <Column role="group" aria-label={title} gap="$2" paddingTop="$2" borderTopWidth={1} borderColor="$line">
    <Words kind="strong">{title}</Words>
    {children}
  </Column>
)
