import { CsvError, parse } from 'csv-parse/sync'
import { ProblemError } from './problem'

export interface CsvRow {
  readonly cells: string[]
  /** The line of the file in which it ends, from 1. */
  readonly line: number
}

const wrong = (why: string) => new ProblemError('file-wrong', why)

/** The text of a file, which must be in UTF-8. */
export const textIn = (bytes: Buffer): string => {
  let text: string
  try {
    text = new TextDecoder('utf-8', { fatal: true }).decode(bytes)
  } catch {
    throw wrong('The file is not in UTF-8: save it anew as UTF-8.')
  }
  if (text.includes('\0')) throw wrong('The file holds noughts: it is no text.')
  return text
}

/** The rows of a CSV file (RFC 4180). Rows may differ in length; empty lines are none. Throws a problem where the quoting is wrong. */
export const csvRows = (text: string): CsvRow[] => {
  try {
    const found = parse(text, { info: true, relax_column_count: true, skip_empty_lines: true, bom: true }) as unknown as {
      record: string[]
      info: { lines: number }
    }[]
    return found.map(({ record, info }) => ({ cells: record, line: info.lines }))
  } catch (error) {
    if (error instanceof CsvError) throw wrong(`The quoting is wrong: ${error.message}.`)
    throw error
  }
}
