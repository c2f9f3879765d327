import type { Entry } from '@taraf/contract'
import fc from 'fast-check'
import { checks, checkById } from './checks'
import { symptoms } from './faultFinder'
import { openItems, parkedFor } from './items'
import { signalsOf } from './signals'
import { wouldSpoil } from './standing'
import { compareLots, isInLots, tagsOf } from './tags'

type Body = Entry['body']
const entry = (seq: number, body: Body) => ({ seq, body })
const item = (words: string): Body => ({ kind: 'item', what: 'open', words, blocks: true })

describe('open items', () => {
  test('are those that no later entry closes, whatever else is on the card', () => {
    fc.assert(
      fc.property(fc.array(fc.boolean(), { maxLength: 20 }), (isClosed) => {
        const opened = isClosed.map((_, i) => entry(i + 1, item(`item ${i}`)))
        const closings = isClosed.flatMap((c, i) => (c ? [{ kind: 'closed' as const, item: i + 1, words: 'done' }] : []))
        const all = [...opened, ...closings.map((body, i) => entry(opened.length + 1 + i, body))]
        expect(openItems(all).map((i) => i.seq)).toEqual(isClosed.flatMap((c, i) => (c ? [] : [i + 1])))
      }),
    )
  })
  test('parking lasts until somebody takes the card up, and the newest reason counts', () => {
    const parked = (reason: string): Body => ({ kind: 'parked', reason })
    expect(parkedFor([])).toBeNull()
    expect(parkedFor([entry(1, parked('waits'))])).toBe('waits')
    expect(parkedFor([entry(1, parked('waits')), entry(2, { kind: 'resumed' })])).toBeNull()
    expect(parkedFor([entry(1, parked('a')), entry(2, { kind: 'resumed' }), entry(3, parked('b'))])).toBe('b')
  })
})

describe('tags and lots', () => {
  test.each([
    ['N4-001', ['N4-001']],
    ['N4-[08-11]', ['N4-08', 'N4-09', 'N4-10', 'N4-11']],
    ['[7-7]x', ['7x']],
  ])('%s', (pattern, tags) => expect(tagsOf(pattern)).toEqual(tags))
  test.each(['', 'N4-[1-', 'N4-[a-b]', 'N4-[9-11]', 'N4-[11-09]', 'N4-[0000-9999]', '[1-2][3-4]'])(
    '"%s" is none, and why is said',
    (pattern) => expect(typeof tagsOf(pattern)).toBe('string'),
  )
  test('a series has as many tags as its numbers say, all different and as wide', () => {
    fc.assert(
      fc.property(fc.nat(400), fc.nat(90), (from, more) => {
        const found = tagsOf(`T-[${String(from).padStart(4, '0')}-${String(from + more).padStart(4, '0')}]`)
        expect(new Set(found).size).toBe(more + 1)
        expect((found as string[]).every((t) => t.length === 6)).toBe(true)
      }),
    )
  })
  test('lots are ordered as people read them', () => {
    expect(compareLots('R9', 'R10')).toBeLessThan(0)
    expect(isInLots('R10', 'R9', 'R11')).toBe(true)
    expect(isInLots('r9', 'R9', 'R9')).toBe(true)
    expect(isInLots('R12', 'R9', 'R11')).toBe(false)
  })
})

describe('the fault finder and the table of signals', () => {
  test('every cause says what to do, and every check that it names is there', () => {
    for (const { causes } of symptoms) {
      expect(causes.length).toBeGreaterThan(2)
      for (const { act, check } of causes) {
        expect(act.length).toBeGreaterThan(10)
        if (check !== undefined) expect(checkById(check)).toBeDefined()
      }
    }
    expect(new Set(symptoms.map((s) => s.id)).size).toBe(symptoms.length)
  })
  test('signals are those of the parts that a sheet names', () => {
    const parts = [
      {
        part: 'board',
        model: 'Tideboard 4',
        count: 1,
        signals: [{ by: 'light' as const, shows: 'steady', means: 'it is armed' }],
      },
      { part: 'motor', model: 'Heron 2306', count: 4 },
    ]
    expect(signalsOf({ parts }).map((s) => s.part)).toEqual(['board'])
    expect(signalsOf({ parts }, 'receiver')).toEqual([])
  })
})

test('what a write would spoil is told before it is made, and equal values spoil nothing', () => {
  const standings = Object.fromEntries(checks.map((c) => [c.id, { state: 'pass' as const, take: 1 }]))
  const change = (from: number, to: number) => ({ what: 'settings' as const, settings: [{ name: 'filter.gyro', from, to }] })
  expect(wouldSpoil(checks, standings, change(120, 140))).toContain('board.baseline')
  expect(wouldSpoil(checks, standings, change(120, 140))).not.toContain('board.asReceived')
  expect(wouldSpoil(checks, standings, change(120, 120))).toEqual([])
  expect(wouldSpoil(checks, { ...standings, 'board.baseline': { state: 'open' } }, change(120, 140))).not.toContain(
    'board.baseline',
  )
})
