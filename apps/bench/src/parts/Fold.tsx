import { useState, type ReactNode } from 'react'
import { Act } from './Act'
import { Column } from './type'

interface FoldProps {
  /** What is folded away, as it follows "Show" and "Hide". */
  readonly what: string
  readonly open?: boolean
  readonly children: ReactNode
}

/** What is looked at when somebody wants to know: a line until then. */
export const Fold = ({ what, open: first = false, children }: FoldProps) => {
  const [open, setOpen] = useState(first)
  return (
    <Column alignItems="stretch">
      <Column alignItems="flex-start">
        <Act kind="quiet" label={`${open ? 'Hide' : 'Show'} ${what}`} expanded={open} onPress={() => setOpen(!open)} />
      </Column>
      {open && children}
    </Column>
  )
}
