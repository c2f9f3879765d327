import { ProblemError, type Observation, type Question } from '@taraf/contract'

/** Throws a problem where something is answered that is not asked. */
export const wantAsked = (questions: readonly Question[], observations: readonly Observation[]): void => {
  const stranger = observations.find((o) => !questions.some((q) => q.id === o.item))
  if (stranger !== undefined) throw new ProblemError('malformed', `observations: "${stranger.item ?? ''}" is not asked here.`)
}
