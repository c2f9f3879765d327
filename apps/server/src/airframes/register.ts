import { randomUUID } from 'node:crypto'
import type { ImportPreview, NewAirframe } from '@taraf/contract'
import { newAirframe } from '@taraf/contract'
import { firstIssue } from '@taraf/core'
import { isDuplicate, type Database } from '../database/database'
import { csvRows, textIn } from '../http/csv'
import { ProblemError } from '../http/problem'

interface Known {
  /** By type and version, and the newest of each type by its type alone. */
  readonly sheets: ReadonlyMap<string, { id: string; models: ReadonlyMap<string, string> }>
  readonly tags: ReadonlySet<string>
  readonly boards: ReadonlySet<string>
  readonly serials: ReadonlySet<string>
}

const known = async (db: Database): Promise<Known> => {
  const sheets = await db.select<{ id: string; type: string; version: number; parts: { part: string; model: string }[] | null }>(
    `SELECT id, type, version, body->'parts' AS parts FROM sheets ORDER BY type, version`,
  )
  const airframes = await db.select<{ tag: string; board: string }>('SELECT tag, board FROM airframes')
  const parts = await db.select<{ serial: string }>(
    `SELECT part || '/' || model || '/' || serial AS serial FROM airframe_parts WHERE serial IS NOT NULL`,
  )
  return {
    sheets: new Map(
      sheets.flatMap(({ id, type, version, parts: built }) => {
        const found = { id, models: new Map((built ?? []).map(({ part, model }) => [part, model])) }
        return [
          [`${type}/${version}`, found],
          [type, found],
        ]
      }),
    ),
    tags: new Set(airframes.map((a) => a.tag.toUpperCase())),
    boards: new Set(airframes.map((a) => a.board)),
    serials: new Set(parts.map((p) => p.serial)),
  }
}

/** What is wrong with each of a list of airframes, against what is registered and against one another. */
const wrongWith = (airframes: readonly NewAirframe[], { sheets, tags, boards, serials }: Known): string[][] => {
  const seen = { tags: new Map<string, number>(), boards: new Map<string, number>(), serials: new Map<string, number>() }
  const twice = (where: Map<string, number>, key: string, i: number, words: string): string[] => {
    const before = where.get(key)
    if (before === undefined) where.set(key, i)
    return before === undefined ? [] : [`${words} is on row ${before + 1} of the list too`]
  }
  return airframes.map(({ tag, type, version, board, parts }, i) => [
    ...(sheets.has(version === undefined ? type : `${type}/${version}`)
      ? []
      : [`there is no build sheet ${type}${version === undefined ? '' : ` version ${version}`}`]),
    ...(tags.has(tag.toUpperCase()) ? [`tag ${tag} is registered already`] : []),
    ...(boards.has(board) ? [`board ${board} is in another airframe`] : []),
    ...twice(seen.tags, tag.toUpperCase(), i, `tag ${tag}`),
    ...twice(seen.boards, board, i, `board ${board}`),
    ...parts.flatMap(({ part, model, serial }) => {
      if (serial === null) return []
      const key = `${part}/${model}/${serial}`
      return [
        ...(serials.has(key) ? [`${part} ${serial} is in another airframe`] : []),
        ...twice(seen.serials, key, i, `${part} ${serial}`),
      ]
    }),
  ])
}

/** Registers airframes, all or none. */
export const register = async (db: Database, airframes: readonly NewAirframe[]): Promise<string[]> => {
  const knows = await known(db)
  const wrong = wrongWith(airframes, knows)
  const first = wrong.findIndex((w) => w.length > 0)
  if (first >= 0) throw new ProblemError('airframe-wrong', `${airframes[first]?.tag ?? ''}: ${wrong[first]?.join('; ') ?? ''}.`)
  const rows = airframes.map((a) => ({ id: randomUUID(), ...a }))
  try {
    await db.within(async (transaction) => {
      await db.airframes.bulkCreate(
        rows.map(({ id, tag, type, version, board }) => ({
          id,
          tag,
          sheetId: knows.sheets.get(version === undefined ? type : `${type}/${version}`)?.id ?? '',
          board,
          boardSettings: null,
          touchedAt: new Date(),
        })),
        { transaction, returning: false },
      )
      const parts = rows.flatMap(({ id, parts: built }) => built.map((part, place) => ({ airframeId: id, place, ...part })))
      if (parts.length > 0) await db.airframeParts.bulkCreate(parts, { transaction, returning: false })
    })
  } catch (error) {
    if (isDuplicate(error)) throw new ProblemError('airframe-wrong', 'Somebody registered one of these just now.')
    throw error
  }
  return airframes.map((a) => a.tag)
}

const needed = ['tag', 'type', 'board']
const partColumn = /^(?<part>.+) (?<what>serial|lot)$/
const mostRows = 5_000

interface CsvRow {
  readonly line: number
  readonly airframe: NewAirframe | null
  readonly raw: Readonly<Record<string, string>>
  readonly wrong: string[]
}

/**
 * Reads a CSV file (RFC 4180, UTF-8) of airframes: columns tag, type, board, optionally version, and for any part of the sheet
 * `<part> serial` and `<part> lot`. Throws a problem where the file as a whole cannot be read.
 */
const readCsv = (bytes: Buffer, { sheets }: Known): CsvRow[] => {
  const wrong = (why: string) => new ProblemError('file-wrong', why)
  const rows = csvRows(textIn(bytes))
  const header = rows.shift()?.cells.map((c) => c.trim()) ?? []
  const missing = needed.filter((c) => !header.includes(c))
  if (missing.length > 0)
    throw wrong(
      `The first row must name the columns; missing: ${missing.join(', ')}. It reads: ${header.join(', ').slice(0, 120)}`,
    )
  const doubled = header.find((c, i) => header.indexOf(c) < i)
  if (doubled !== undefined) throw wrong(`The column "${doubled}" is there twice.`)
  const unknown = header.find((c) => !needed.includes(c) && c !== 'version' && !partColumn.test(c))
  if (unknown !== undefined)
    throw wrong(`The column "${unknown}" is unknown: use tag, type, version, board, and "<part> serial" or "<part> lot".`)
  if (rows.length === 0) throw wrong('The file has no row below its first.')
  if (rows.length > mostRows) throw wrong(`The file has ${rows.length} rows; ${mostRows} at most.`)
  return rows.map(({ cells, line }) => {
    const raw = Object.fromEntries(header.map((column, i) => [column, (cells[i] ?? '').trim()]))
    if (cells.length !== header.length)
      return {
        line,
        airframe: null,
        raw,
        wrong: [`it has ${cells.length} cells where the first row has ${header.length}`],
      }
    const version = raw.version === undefined || raw.version === '' ? {} : { version: Number(raw.version) }
    const models = sheets.get(raw.type ?? '')?.models
    const named = [...new Set(header.flatMap((c) => partColumn.exec(c)?.groups?.part ?? []))]
    const parts = named.flatMap((part) => {
      const [serial, lot] = [raw[`${part} serial`] || null, raw[`${part} lot`] || null]
      return serial === null && lot === null ? [] : [{ part, model: models?.get(part) ?? part, serial, lot }]
    })
    const parsed = newAirframe.safeParse({ tag: raw.tag, type: raw.type, board: raw.board, ...version, parts })
    if (!parsed.success) return { line, airframe: null, raw, wrong: [firstIssue(parsed.error)] }
    const stranger = named.find((part) => models !== undefined && !models.has(part) && parts.some((p) => p.part === part))
    return {
      line,
      airframe: parsed.data,
      raw,
      wrong: stranger === undefined ? [] : [`the sheet of ${parsed.data.type} has no part "${stranger}"`],
    }
  })
}

/** A file of airframes as it would be taken, with what is wrong with each row. Takes nothing. */
export const previewCsv = async (db: Database, bytes: Buffer): Promise<ImportPreview & { airframes: NewAirframe[] }> => {
  const knows = await known(db)
  const rows = readCsv(bytes, knows)
  const whole = rows.flatMap((r) => (r.airframe === null ? [] : [r.airframe]))
  const found = wrongWith(whole, knows)
  let at = 0
  const judged = rows.map(({ line, airframe, raw, wrong }) => ({
    line,
    tag: airframe?.tag ?? raw.tag ?? '',
    type: raw.type ?? '',
    board: raw.board ?? '',
    parts: airframe?.parts.length ?? 0,
    wrong: airframe === null ? wrong : [...wrong, ...(found[at++] ?? [])],
  }))
  return { rows: judged, wrong: judged.filter((r) => r.wrong.length > 0).length, airframes: whole }
}

/** Takes a whole file, or nothing of it. */
export const importCsv = async (db: Database, bytes: Buffer): Promise<string[]> => {
  const { rows, wrong, airframes } = await previewCsv(db, bytes)
  const first = rows.find((r) => r.wrong.length > 0)
  if (first !== undefined)
    throw new ProblemError('file-wrong', `${wrong} rows cannot be taken; line ${first.line}: ${first.wrong.join('; ')}.`)
  return register(db, airframes)
}
