import type { z } from 'zod'
import type * as answers from './answers'

type Named = typeof answers
type AnswerName = { [Name in keyof Named]: Named[Name] extends z.ZodType ? Name : never }[keyof Named]
type AnswerOf<Name extends AnswerName> = z.output<Named[Name]>

/** What the query library asks of a schema (Standard Schema, version 1), as far as it is used here. */
interface AnswerSchema<Answer> {
  readonly '~standard': {
    readonly version: 1
    readonly vendor: string
    readonly validate: (value: unknown) => Promise<Awaited<ReturnType<z.ZodType['~standard']['validate']>>>
    readonly types?: { readonly input: unknown; readonly output: Answer }
  }
}

/**
 * The schema of an answer, fetched with the first answer that it proves: the sign-in is shown before all schemas are there.
 * The answer comes out frozen at its root: nobody changes it, and so the store need not walk through all of it to see to that.
 */
export const answeredAs = <Name extends AnswerName>(name: Name): AnswerSchema<AnswerOf<Name>> => ({
  '~standard': {
    version: 1,
    vendor: 'taraf',
    validate: async (value) => {
      const schemas: Readonly<Record<AnswerName, z.ZodType>> = await import('./answers')
      const proved = await schemas[name]['~standard'].validate(value)
      if (proved.issues === undefined) Object.freeze(proved.value)
      return proved
    },
  },
})
