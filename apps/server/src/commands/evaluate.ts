import { readFile } from 'node:fs/promises'
import { evaluateDocument } from '@taraf/core/evaluate'

/** Prints the findings of each evidence file, one JSON document a line, in the order given. Exit 1 where one was unreadable. */
const files = process.argv.slice(2)
if (files.length === 0) {
  console.error('usage: npm run -s evaluate -- FILE...')
  process.exit(1)
}
for (const file of files) {
  const text = await readFile(file, 'utf8').catch((error: NodeJS.ErrnoException) => error)
  const result =
    typeof text === 'string'
      ? evaluateDocument(file, text)
      : {
          format: 'taraf-findings/1' as const,
          error: `${file}: cannot be read (${text.code ?? text.message}); expected an evidence document`,
        }
  if ('error' in result) process.exitCode = 1
  console.log(JSON.stringify(result))
}
