import type { answers } from './answers'

type Answers = typeof answers
type AnswerOf<Name extends keyof Answers> = Answers[Name]['_zod']['output']

/** What the query library asks of a schema (Standard Schema, version 1), as far as it is used here. */
interface AnswerSchema<Answer> {
  readonly '~standard': {
    readonly version: 1
    readonly vendor: string
    readonly validate: (value: unknown) => Promise<Awaited<ReturnType<Answers[keyof Answers]['~standard']['validate']>>>
    readonly types?: { readonly input: unknown; readonly output: Answer }
  }
}

/**
 * The schema of an answer, fetched with the first answer that it proves: the sign-in is shown before all schemas are there.
 * The answer comes out frozen at its root: nobody changes it, and so the store need not walk through all of it to see to that.
 */
export const answeredAs = <Name extends keyof Answers>(name: Name): AnswerSchema<AnswerOf<Name>> => ({
  '~standard': {
    version: 1,
    vendor: 'taraf',
    validate: async (value) => {
      const proved = await (await import('./answers')).answers[name]['~standard'].validate(value)
      if (proved.issues === undefined) Object.freeze(proved.value)
      return proved
    },
  },
})
