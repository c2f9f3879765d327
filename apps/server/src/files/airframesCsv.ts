import { newAirframe, type ImportPreview, type NewAirframe } from '@taraf/contract'
import { firstIssue } from '@taraf/contract/firstIssue'
import { csvRows, textIn } from './csv'
import { ProblemError } from '@taraf/contract'

/** What is registered already of all that a list names. */
export interface Known {
  /** By type and version, and the newest of each type by its type alone. */
  readonly sheets: ReadonlyMap<string, { id: string; models: ReadonlyMap<string, string> }>
  /** In upper case: a tag is one whatever its case. */
  readonly tags: ReadonlySet<string>
  readonly boards: ReadonlySet<string>
  readonly serials: ReadonlySet<string>
}

/** All that a list names, to be looked up. */
export interface Named {
  readonly tags: readonly string[]
  readonly boards: readonly string[]
  readonly serials: readonly string[]
}

export const namedBy = (airframes: readonly Pick<NewAirframe, 'tag' | 'board' | 'parts'>[]): Named => ({
  tags: airframes.map((a) => a.tag.toUpperCase()),
  boards: airframes.map((a) => a.board),
  serials: airframes.flatMap((a) => a.parts.flatMap(({ serial }) => (serial === null ? [] : [serial]))),
})

/** What is wrong with each of a list of airframes, against what is registered and against one another. */
export const wrongWith = (airframes: readonly NewAirframe[], { sheets, tags, boards, serials }: Known): string[][] => {
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

const needed = ['tag', 'type', 'board']
const partColumn = /^(?<part>.+) (?<what>serial|lot)$/
const mostRows = 5_000
const mostParts = 60

/** The rows of a file below its first, and the parts that its first row names. Bounds are looked at before anything is read out of rows. */
const rowsIn = (bytes: Buffer) => {
  const wrong = (why: string) => new ProblemError('file-wrong', why)
  const rows = csvRows(textIn(bytes), mostRows + 1)
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
  const named = [...new Set(header.flatMap((c) => partColumn.exec(c)?.groups?.part ?? []))]
  if (named.length > mostParts) throw wrong(`The first row names ${named.length} parts; ${mostParts} at most.`)
  return { header, rows, named }
}

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
const readCsv = (bytes: Buffer, { sheets }: Pick<Known, 'sheets'>): CsvRow[] => {
  const { header, rows, named } = rowsIn(bytes)
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

/** What the rows name, as far as they can be read. */
export const namedInCsv = (bytes: Buffer): Named => {
  const { header, rows, named } = rowsIn(bytes)
  const column = (name: string) => {
    const at = header.indexOf(name)
    return rows.map(({ cells }) => (cells[at] ?? '').trim())
  }
  return {
    tags: column('tag').map((tag) => tag.toUpperCase()),
    boards: column('board'),
    serials: named.flatMap((part) => column(`${part} serial`)).filter((serial) => serial !== ''),
  }
}

export type JudgedCsv = ImportPreview & { readonly airframes: NewAirframe[] }

/** Each row of a file with what is wrong with it, and the airframes of those that can be read. */
export const judgeCsv = (bytes: Buffer, known: Known): JudgedCsv => {
  const rows = readCsv(bytes, known)
  const whole = rows.flatMap((r) => (r.airframe === null ? [] : [r.airframe]))
  const found = wrongWith(whole, known)
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
