import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { change, entryBody } from './job'
import { remedy } from './findings'
import { readEntry } from './readEntry'

/** One of every kind that was ever written, by its format, as it is in a database. Nothing here is ever changed or taken out. */
const kept = JSON.parse(readFileSync(join(__dirname, '../tests/entries.json'), 'utf8')) as Record<'1' | '2', { body: Body }[]>
interface Body {
  kind: string
  change?: { what: string }
  findings?: { remedy?: { by: string } }[]
}

describe('entries of a job card', () => {
  test.each([
    ['1', kept['1']],
    ['2', kept['2']],
  ])('of format %s are read, each as one of today’s', (_format, entries) => {
    for (const entry of entries) {
      const read = readEntry(entry)
      expect(read).toMatchObject({ format: 2, body: { kind: entry.body.kind } })
      expect(entryBody.parse(read.body)).toEqual(read.body)
    }
  })

  test('of today’s format are kept here in every kind: whoever adds one puts one here', () => {
    const bodies = kept['2'].map((e) => e.body)
    const of = (union: { options: readonly { shape: object }[] }, key: string) =>
      union.options.map((o) => (o.shape as Record<string, { value: string }>)[key]?.value).sort()
    const had = (words: (string | undefined)[]) => [...new Set(words)].filter((w) => w !== undefined).sort()
    expect(had(bodies.map((b) => b.kind))).toEqual(of(entryBody as never, 'kind'))
    expect(had(bodies.map((b) => b.change?.what))).toEqual(of(change as never, 'what'))
    expect(had(bodies.flatMap((b) => b.findings?.map((f) => f.remedy?.by)))).toEqual(of(remedy as never, 'by'))
  })

  test('of the first format say what they said, in today’s words', () => {
    const read = kept['1'].map((e) => readEntry(e).body)
    const [first] = read
    expect(first?.kind === 'take' ? first.findings.map((f) => f.remedy?.by) : []).toEqual([
      'calibration',
      'settings',
      'work',
      'work',
      'work',
      'image',
      'technician',
      undefined,
      undefined,
    ])
    expect(first).toMatchObject({
      began: 0,
      findings: [{}, {}, {}, { remedy: { socket: 1 } }, { remedy: { part: 'receiver' } }, {}, {}, {}, {}],
    })
    expect(read.flatMap((b) => (b.kind === 'change' ? [b.change] : []))).toEqual([
      {
        what: 'settings',
        settings: [
          { name: 'level.roll', from: null, to: 1.2 },
          { name: 'level.pitch', from: 0, to: -0.4 },
        ],
      },
      {
        what: 'image',
        from: { name: 'shoreline', version: '3.1.2' },
        to: { name: 'shoreline', version: '3.2.0' },
        meansOther: ['filter.gyro'],
      },
      { what: 'image', from: null, to: { name: 'shoreline', version: '3.2.0' } },
      { what: 'knock' },
      { what: 'remount' },
      { what: 'part', part: 'compass', act: 'replaced' },
    ])
  })

  test('of no format are refused', () => {
    const [one] = kept['2']
    for (const bad of [null, 7, {}, { ...one, format: 3 }, { ...kept['1'][0], extra: 1 }, { ...one, body: { kind: 'magic' } }])
      expect(() => readEntry(bad)).toThrow()
  })
})
