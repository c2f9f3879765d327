import type { Evidence, Finding } from '@taraf/contract'
import fc from 'fast-check'
import { hoverFindings, hoverOf } from './known'
import { hoversOtherwise } from './otherwise'

const evidence = (more: Partial<Evidence> = {}): Evidence => ({
  format: 'taraf-evidence/1',
  check: 'failsafe.response',
  sheet: { rotor: { hover: 0.39 }, pack: { cells: 4 } },
  airframe: { tag: 'N4-009', board: 'FB-1', parts: [] },
  board: {},
  segments: [{ label: 'x', streams: {} }],
  ...more,
})
const flown = (tag: string, command: number, volts = 14.8) => ({ tag, command, volts })
const others = [flown('N4-001', 0.4), flown('N4-002', 0.41), flown('N4-003', 0.43)]

test('of this airframe first, then of others of its type, then of the sheet, then nobody knows', () => {
  const own = flown('N4-009', 0.36, 16.28)
  expect(hoverOf(evidence({ hovers: [...others, own] }))).toMatchObject({ from: 'this airframe', volts: 14.8 })
  expect(hoverOf(evidence({ hovers: [own] }))?.command).toBeCloseTo((0.36 * 16.28) / 14.8, 9)
  expect(hoverOf(evidence({ hovers: others }))).toMatchObject({ command: 0.41, from: 'its type', others: { count: 3 } })
  expect(hoverOf(evidence({ hovers: others.slice(0, 2) }))).toMatchObject({ command: 0.39, from: 'the sheet' })
  expect(hoverOf(evidence({ sheet: {} }))).toBeNull()
  expect(hoverOf(evidence({ sheet: {}, hovers: others.slice(0, 1) }))).toMatchObject({
    command: 0.4,
    from: 'its type',
    volts: null,
  })
})

test('others that lie far apart are no type', () => {
  const apart = [flown('N4-001', 0.3), flown('N4-002', 0.41), flown('N4-003', 0.5)]
  expect(hoverOf(evidence({ hovers: apart }))).toMatchObject({ from: 'the sheet' })
})

test('a hover at another voltage is brought to mid-pack: thrust follows the square of what a motor gets', () => {
  fc.assert(
    fc.property(
      fc.double({ min: 0.2, max: 0.6, noNaN: true }),
      fc.double({ min: 13, max: 16.8, noNaN: true }),
      (atMid, volts) => {
        // The same product of command and voltage turns the same prop as fast.
        const known = hoverOf(evidence({ hovers: [flown('N4-009', (atMid * 14.8) / volts, volts)] }))
        expect(known?.command).toBeCloseTo(atMid, 9)
      },
    ),
  )
})

test('it is recorded with the voltage and the payload, and with how far others lie apart', () => {
  const values = (more: Partial<Evidence>) => hoverFindings(evidence(more)).map(({ value }) => value)
  expect(values({ hovers: others })).toEqual([
    0.41,
    expect.stringMatching(/^3 others of its type, 1\.5 points apart, with the payload of the sheet$/) as string,
    14.8,
  ])
  expect(values({})).toEqual([0.39, 'the sheet, with the payload of the sheet', 14.8])
})

const against = (hover: number): Finding[] => hoverFindings(evidence({ sheet: { rotor: { hover }, pack: { cells: 4 } } }))
const proof = (command: number, volts: number): Finding[] => [
  { key: 'hoverThrottle', value: command, unit: '', verdict: 'shown' },
  { key: 'volts', value: volts, unit: 'V', verdict: 'shown' },
]

test('another one by over two points spoils what was judged, at the same voltage', () => {
  expect(hoversOtherwise(against(0.39), proof(0.409, 14.8))).toBe(false)
  expect(hoversOtherwise(against(0.39), proof(0.411, 14.8))).toBe(true)
  expect(hoversOtherwise(against(0.39), proof(0.369, 14.8))).toBe(true)
  // A full pack needs less for the same.
  expect(hoversOtherwise(against(0.39), proof((0.39 * 14.8) / 16.4, 16.4))).toBe(false)
  expect(hoversOtherwise([], proof(0.5, 14.8))).toBe(true)
  expect(hoversOtherwise(against(0.39), [])).toBe(false)
})
