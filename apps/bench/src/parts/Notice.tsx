import type { Problem } from '@taraf/contract'
import { Act } from './Act'
import { Column, Paper, Words } from './type'

interface NoticeProps {
  readonly title: string
  readonly detail?: string
  readonly todo?: string
  readonly act?: { label: string; onPress: () => void }
}

/** What is empty, missing or wrong, and what to do about it. */
export const Notice = ({ title, detail, todo, act }: NoticeProps) => (
  <Paper role="status" aria-live="polite" borderLeftWidth={4} borderLeftColor="$mark">
    <Words kind="heading">{title}</Words>
    {detail !== undefined && <Words>{detail}</Words>}
    {todo !== undefined && <Words kind="faint">{todo}</Words>}
    {act !== undefined && (
      <Column alignItems="flex-start">
        <Act {...act} />
      </Column>
    )}
  </Paper>
)

export const ProblemNotice = ({ problem, act }: { problem: Problem | null; act?: NoticeProps['act'] }) =>
  problem === null ? null : <Notice title={problem.title} detail={problem.detail} todo={problem.todo} act={act} />

export const Loading = ({ what }: { what: string }) => (
  <Column padding="$6" alignItems="center" role="status">
    <Words kind="faint">Reading {what} …</Words>
  </Column>
)
