import { z } from 'zod'
import { campaignReport } from './campaign'
import { evidence } from './evidence'
import { findings, findingsError } from './findings'
import { settingsFile } from './http'
import { entry } from './job'
import { sheet } from './sheet'

const documents = {
  settings: settingsFile,
  evidence,
  findings: z.union([findings, findingsError]),
  sheet,
  'job-entry': entry,
  campaign: campaignReport,
}

/** JSON Schemas of the open formats, by the name of their file in `docs/formats/`. */
export const jsonSchemas = (): Record<string, unknown> =>
  Object.fromEntries(
    Object.entries(documents).map(([name, schema]) => [
      `${name}.schema.json`,
      z.toJSONSchema(schema, {
        io: 'input',
        unrepresentable: 'any',
        // In JSON a column is a plain list; typed arrays live in CBOR alone.
        override: ({ zodSchema, jsonSchema }) => {
          if (z.globalRegistry.get(zodSchema)?.title !== 'column') return
          delete jsonSchema.anyOf
          Object.assign(jsonSchema, { type: 'array', items: { type: 'number' } })
        },
      }),
    ]),
  )
