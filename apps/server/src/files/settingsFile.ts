import { settingsFile, type Settings } from '@taraf/contract'
import { firstIssue } from '@taraf/contract/firstIssue'
import { csvRows, textIn } from './csv'
import { ProblemError } from '@taraf/contract'

const nameIs = /^[a-z]+(\.[a-zA-Z0-9]+)+$/
const mostRows = 5_000
const wrong = (why: string) => new ProblemError('file-wrong', why)

export interface ReadFile {
  /** Null where the file does not say. */
  readonly firmware: string | null
  readonly values: Settings
}

/**
 * Settings of a file in UTF-8: JSON as this application writes it or as an object of names and numbers, or CSV (RFC 4180) whose first two
 * columns are name and value. Throws a problem with the place where it is none.
 */
export const settingsIn = (bytes: Buffer): ReadFile => {
  const text = textIn(bytes)
  const found = /^\s*\{/.test(text) ? fromJson(text) : fromCsv(text)
  if (Object.keys(found.values).length === 0) throw wrong('The file holds no settings.')
  return found
}

const fromJson = (text: string): ReadFile => {
  let json: object
  try {
    json = JSON.parse(text) as object
  } catch (error) {
    throw wrong(`It is not whole JSON: ${error instanceof Error ? error.message : 'unreadable'}.`)
  }
  if ('format' in json) {
    const file = settingsFile.safeParse(json)
    if (!file.success) throw wrong(`${firstIssue(file.error)}.`)
    return { firmware: file.data.firmware, values: file.data.settings }
  }
  const bad = Object.entries(json).find(
    ([name, value]) => !nameIs.test(name) || typeof value !== 'number' || !Number.isFinite(value),
  )
  if (bad !== undefined) throw wrong(`"${bad[0]}": expected the name of a setting and a number, found ${JSON.stringify(bad[1])}.`)
  return { firmware: null, values: json as Settings }
}

const fromCsv = (text: string): ReadFile => {
  const values: Record<string, number> = {}
  const rows = csvRows(text, mostRows)
  const column = rows[0]?.cells.indexOf('firmware') ?? -1
  for (const [i, { cells }] of rows.entries()) {
    const [name = '', value = ''] = cells
    if (i === 0 && !nameIs.test(name)) continue
    if (!nameIs.test(name) || value.trim() === '' || !Number.isFinite(Number(value)))
      throw wrong(`Row ${i + 1}: expected the name of a setting and a number, found "${name}" and "${value}".`)
    if (values[name] !== undefined) throw wrong(`Row ${i + 1}: "${name}" is there twice.`)
    values[name] = Number(value)
  }
  return { firmware: rows[1]?.cells[column] ?? null, values }
}
