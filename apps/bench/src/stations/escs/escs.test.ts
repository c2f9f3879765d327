import { settingRows } from './settingRows'
import { ticksOf } from './ticks'

test('settings are grouped by what they do; one value is said once, others by their outputs', () => {
  const equals = (key: string, value: number | Record<string, number>, wanted: number, verdict: 'pass' | 'fail') => ({
    key,
    value,
    unit: '',
    limit: { equals: wanted },
    verdict,
  })
  const found = settingRows([
    equals('cutCellV', 0, 0, 'pass'),
    equals('timingDeg', { 'output 1': 16, 'output 2': 30, 'output 3': 16 }, 16, 'fail'),
    { key: 'timingDegBefore', value: 4, unit: 'deg', verdict: 'shown' },
    { key: 'reverse', value: { 'output 1': 1, 'output 2': 0 }, unit: '', verdict: 'shown' },
    { key: 'kept', value: 'all', unit: '', verdict: 'pass' },
  ])
  expect(
    found.map(({ group, rows }) => [group, rows.map(({ wanted, found: read, isWrong }) => [wanted, read, isWrong])]),
  ).toEqual([
    ['Which way it turns', [['–', '1: yes · 2: no', false]]],
    ['How it drives', [['16 deg', '1, 3: 16 deg · 2: 30 deg', true]]],
    ['When it gives up', [['off', 'all off', false]]],
  ])
})

test('ticks are round, begin at nought and are six steps at most', () => {
  expect(ticksOf(265)).toEqual([0, 50, 100, 150, 200, 250])
  for (const end of [3, 12, 70, 130, 530, 2100, 9000]) {
    const ticks = ticksOf(end)
    expect(ticks.length).toBeLessThanOrEqual(7)
    expect(ticks.length).toBeGreaterThanOrEqual(3)
    expect(ticks.at(-1)).toBeLessThanOrEqual(end)
  }
})
