import { CsvError, parse } from 'csv-parse/sync'
import { stringify } from 'csv-stringify/sync'
import { ProblemError } from '@taraf/contract'

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
    throw wrong('The file is not in UTF-8: save it again as UTF-8.')
  }
  if (text.includes('\0')) throw wrong('The file holds noughts: it is no text.')
  return text
}

const mostColumns = 200
const mostRowChars = 20_000

/**
 * The rows of a CSV file (RFC 4180). Rows may differ in length; empty lines are none. Throws a problem where the quoting is wrong, or there
 * are more rows, columns or characters in a row than a list of this shop can have: such a file is not read to its end.
 */
export const csvRows = (text: string, mostRows: number): CsvRow[] => {
  try {
    const found = parse(text, {
      info: true,
      relax_column_count: true,
      skip_empty_lines: true,
      bom: true,
      max_record_size: mostRowChars,
      to: mostRows + 1,
    }) as unknown as {
      record: string[]
      info: { lines: number }
    }[]
    if (found.length > mostRows) throw wrong(`The file has more than ${mostRows} rows.`)
    const wide = found.find(({ record }) => record.length > mostColumns)
    if (wide !== undefined) throw wrong(`Line ${wide.info.lines} has ${wide.record.length} cells; ${mostColumns} at most.`)
    return found.map(({ record, info }) => ({ cells: record.map(plainCell), line: info.lines }))
  } catch (error) {
    if (error instanceof CsvError && error.code === 'CSV_MAX_RECORD_SIZE')
      throw wrong(`A row has more than ${mostRowChars} characters.`)
    if (error instanceof CsvError) throw wrong(`The quoting is wrong: ${error.message}.`)
    throw error
  }
}

/** What a table program would take for a formula (OWASP, CSV Injection). */
const asksToBeRun = /^[=+\-@\t\r]/
const isNumber = (cell: string) => /^[+-]?\d+(\.\d+)?(e[+-]?\d+)?$/i.test(cell)

/** A cell that no table program runs: an apostrophe goes before what looks like a formula, and before what begins with one. */
const harmlessCell = (cell: string | number): string | number =>
  typeof cell === 'string' && !isNumber(cell) && (asksToBeRun.test(cell) || /^'+[=+\-@\t\r]/.test(cell)) ? `'${cell}` : cell

/** The cell as it was before `harmlessCell`. */
const plainCell = (cell: string): string => (/^'+[=+\-@\t\r]/.test(cell) ? cell.slice(1) : cell)

/** Rows as a CSV file that `csvRows` reads back as they were, and that runs nothing where a table program opens it. */
export const csvText = (rows: readonly (readonly (string | number)[])[]): string =>
  stringify(
    rows.map((row) => row.map(harmlessCell)),
    { record_delimiter: 'windows', quoted_match: /[\r\n]/ },
  )
