import { parse } from 'csv-parse/sync'
import fc from 'fast-check'
import { csvRows, csvText } from './csv'

const cell = fc.oneof(
  fc.string({ minLength: 1, maxLength: 12 }),
  fc.tuple(fc.constantFrom('=', '+', '-', '@', '\t', '\r', "'", "''"), fc.string({ maxLength: 8 })).map(([a, b]) => a + b),
  fc.double({ noNaN: true, noDefaultInfinity: true }).map(String),
)

test('what is written is read back as it was, and no cell asks a table program to run anything', () => {
  fc.assert(
    fc.property(fc.array(fc.array(cell, { minLength: 1, maxLength: 5 }), { minLength: 1, maxLength: 5 }), (rows) => {
      // A mark at the very start of a file says how it is encoded (RFC 3629) and is no part of its text.
      fc.pre(!rows[0]?.[0]?.startsWith('\uFEFF'))
      const text = csvText(rows)
      expect(csvRows(text, 100).map((r) => r.cells)).toEqual(rows)
      for (const { cells } of rawRows(text))
        for (const one of cells) expect(/^[=+\-@\t\r]/.test(one) && !/^[+-]?\d+(\.\d+)?(e[+-]?\d+)?$/i.test(one)).toBe(false)
    }),
  )
})

/** The cells as a table program sees them. */
const rawRows = (text: string) => (parse(text, { relax_column_count: true }) as string[][]).map((cells) => ({ cells }))

test.each([
  ['more rows than may be', 'a\n'.repeat(12), 'more than 10 rows'],
  ['more cells than may be', `${'a,'.repeat(300)}\n`, '301 cells; 200 at most'],
  ['a row without an end', 'a'.repeat(30_000), 'more than 20000 characters'],
])('%s: refused before it is read to its end', (_what, text, words) => {
  expect(() => csvRows(text, 10)).toThrow(words)
})
