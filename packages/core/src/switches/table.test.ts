import { failsafeOffsets, marginOf, switchTable, type Measured, type Planned } from './table'

const band = (channel: number, from: number, to: number) => ({ channel, from, to })
const two = (channel: number, atPowerUp = 0): Measured => ({ channel, positions: [1000, 2000], atPowerUp })
const three = (channel: number): Measured => ({ channel, positions: [1000, 1500, 2000], atPowerUp: 0 })
const one = (name: string, ...bands: Planned['bands']): Planned => ({ function: name, bands })
const plan: readonly Planned[] = [
  one('arm', band(5, 1700, 2100)),
  one('selfLevel', band(6, 900, 1250)),
  one('blend', band(6, 1300, 1650)),
  one('rate', band(6, 1700, 2100)),
  one('sounder', band(7, 1700, 2100)),
  one('failsafe', band(8, 1700, 2100)),
]
const switches = [two(5), three(6), two(7), two(8)]
const faults = (s: readonly Measured[], p: readonly Planned[]) =>
  switchTable(s, p).faults.map((f) => `${f.fault}: ${f.functions.join(', ')}, ${f.count}`)

test('every combination is counted, and each function in how many of them it is on', () => {
  expect(switchTable(switches, plan)).toMatchObject({
    combinations: 24,
    on: { arm: 12, selfLevel: 8, blend: 8, rate: 8, sounder: 12, failsafe: 12 },
  })
})

test('sounder and arm on one position are said, with how often and where first; on switches of their own they are no fault', () => {
  expect(switchTable(switches, plan).faults).toEqual([])
  const tied = plan.map((p) => (p.function === 'sounder' ? one('sounder', band(5, 1700, 2100)) : p))
  expect(switchTable(switches, tied).faults).toEqual([
    { fault: 'sounder with arm', functions: ['sounder', 'arm'], count: 12, example: [1, 0, 0, 0] },
  ])
})

describe('a plan that is wrong', () => {
  const quiet = plan.filter((p) => p.function !== 'sounder')
  test.each<[string, readonly Measured[], readonly Planned[], string]>([
    ['armed in the position of power-up', [two(5, 1), ...switches.slice(1)], quiet, 'armed at power-up: arm, 1'],
    [
      'no self-level that can be reached',
      switches,
      quiet.filter((p) => p.function !== 'selfLevel'),
      'no self-level: selfLevel, 24',
    ],
    [
      'two modes at once, the bands of which overlap',
      switches,
      quiet.map((p) => (p.function === 'rate' ? one('rate', band(6, 1400, 2100)) : p)),
      'two modes at once: blend, rate, 8',
    ],
    [
      'a function on a channel without a switch',
      switches,
      [...quiet, one('lights', band(11, 1700, 2100))],
      'never on: lights, 24',
    ],
    ['a function that its switch never leaves', switches, [...quiet, one('log', band(7, 900, 2100))], 'never off: log, 24'],
    [
      'failsafe that one mode keeps out of reach',
      switches,
      quiet.map((p) => (p.function === 'failsafe' ? one('failsafe', band(8, 1700, 2100), band(6, 900, 1650)) : p)),
      'no failsafe from a mode: failsafe, rate, 4',
    ],
  ])('%s', (_words, s, p, wanted) => {
    expect(faults(s, p)).toContain(wanted)
    expect(faults(switches, quiet)).toEqual([])
  })
})

test('two switches together arm, either alone does not, and either disarms', () => {
  const together = plan.map((p) => (p.function === 'arm' ? one('arm', band(5, 1700, 2100), band(7, 900, 1300)) : p))
  const { on, faults: found } = switchTable(switches, together)
  expect(on.arm).toBe(6)
  expect(found).toEqual([])
})

test('without any mode the craft flies by rates: failsafe must be reached from there too', () => {
  const gap = [
    one('arm', band(5, 1700, 2100)),
    one('selfLevel', band(6, 900, 1250)),
    one('failsafe', band(8, 1700, 2100), band(6, 900, 1250)),
  ]
  expect(faults(switches, gap)).toEqual(['no failsafe from a mode: failsafe, 8'])
})

test('the margin of a position is to the nearest edge of a band on its channel, inside or outside', () => {
  expect(marginOf(6, 1270, plan)).toBe(20)
  expect(marginOf(6, 1240, plan)).toBe(10)
  expect(marginOf(5, 1000, plan)).toBe(700)
  expect(marginOf(9, 1500, plan)).toBe(Infinity)
})

describe('two functions on one channel', () => {
  test('one offset does for all positions where they lie close enough together', () => {
    const { each, common } = failsafeOffsets([1100, 1300, 1500], band(6, 1700, 2200), 25)
    expect(each[0]).toEqual({ least: 625, most: 1075 })
    expect(common).toBe(650)
    for (const us of [1100, 1300, 1500])
      expect(marginOf(6, us + (common ?? 0), [one('failsafe', band(6, 1700, 2200))])).toBeGreaterThanOrEqual(25)
  })
  test('where none does, each position has its own', () => {
    const { each, common } = failsafeOffsets([1000, 1500], band(6, 1900, 2100), 25)
    expect(common).toBeNull()
    expect(each).toEqual([
      { least: 925, most: 1075 },
      { least: 425, most: 575 },
    ])
  })
})
