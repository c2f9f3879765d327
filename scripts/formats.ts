// npm run formats: writes the JSON Schemas of the open formats into docs/formats/.
import { mkdirSync, writeFileSync } from 'node:fs'
import { jsonSchemas } from '../packages/contract/src/formats'

mkdirSync('docs/formats', { recursive: true })
for (const [file, schema] of Object.entries(jsonSchemas()))
  writeFileSync(`docs/formats/${file}`, `${JSON.stringify(schema, null, 2)}\n`)
