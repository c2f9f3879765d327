import type { PlanStep } from '../store/takeInHand'
import { Row, Words } from './type'

interface StepsLineProps {
  readonly label: string
  readonly steps: readonly PlanStep[]
  /** What a step is called, by its label. */
  readonly name?: (label: string) => string
}

/** The steps of a take in a line: those that are done ticked, the one in hand strong. */
export const StepsLine = ({ label, steps, name = (step) => step }: StepsLineProps) => (
  <Row flexWrap="wrap" gap="$2" role="list" aria-label={label}>
    {steps.map(({ want, isNow, isDone }) => (
      <Words key={want.label} kind={isNow ? 'strong' : 'small'} role="listitem">
        {isDone ? '✓ ' : ''}
        {name(want.label)}
      </Words>
    ))}
  </Row>
)
