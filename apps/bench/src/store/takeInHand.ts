import type { TakeTell, Want } from '@taraf/contract'
import { useLive } from './store'

type Phase = TakeTell['phase']
const atStep: readonly Phase[] = ['capturing', 'waiting']
const ended: readonly Phase[] = ['stored', 'aborted']

/** The take of this check that runs, with the step that it is at or what is made of it; null where none does. */
export const useRunningTake = (check: string | null): TakeTell | null => {
  return useLive(({ take }) => (take !== null && take.check === check && !ended.includes(take.phase) ? take : null))
}

/** The same, while one of its steps is in hand: not while it is judged or written. */
export const useTakeAtStep = (check: string | null): TakeTell | null => {
  const running = useRunningTake(check)
  return running !== null && atStep.includes(running.phase) ? running : null
}

export interface PlanStep {
  readonly want: Want
  readonly isDone: boolean
  readonly isNow: boolean
}

/** The steps of a plan as a take stands that may leave it, or do one again: found by their labels. Nothing is done or in hand where none runs. */
export const stepsOf = (plan: readonly Want[], take: TakeTell | null): PlanStep[] =>
  plan.map((want) => {
    const isNow = take?.want?.label === want.label
    return { want, isNow, isDone: !isNow && take !== null && take.done.includes(want.label) }
  })
