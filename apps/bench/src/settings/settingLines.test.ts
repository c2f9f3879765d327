import type { BoardSetting } from '@taraf/contract'
import { heatWarnS, sinceWords } from '../parts/heat'
import { tagIn } from '../parts/ScanTag'
import { linesOf } from './settingLines'

const setting = (name: string, saved: number): BoardSetting => ({
  name,
  unit: '',
  min: 0,
  max: 9,
  factory: 0,
  value: saved,
  saved,
})

describe('settings beside the sheet', () => {
  const settings = [setting('filter.gyro', 120), setting('loss.act', 1), setting('level.roll', 0.1), setting('gain.level', 5)]
  const sheet = { 'filter.gyro': 120, 'loss.act': 2, 'gain.level': 5.0000001 }
  test('what differs comes first; what a board keeps in single precision does not differ', () => {
    expect(linesOf(settings, sheet, '').map((l) => [l.setting.name, l.differs])).toEqual([
      ['loss.act', true],
      ['filter.gyro', false],
      ['level.roll', false],
      ['gain.level', false],
    ])
  })
  test('a search leaves what its text is in, whatever its case', () => {
    expect(linesOf(settings, sheet, ' LEVEL ').map((l) => l.setting.name)).toEqual(['level.roll', 'gain.level'])
    expect(linesOf(settings, sheet, 'walrus')).toEqual([])
  })
  test('two thousand are compared in a blink', () => {
    const many = Array.from({ length: 2000 }, (_, i) => setting(`g${i % 40}.s${i}`, i % 7))
    expect(linesOf(many, Object.fromEntries(many.map((s) => [s.name, 3])), '').filter((l) => l.differs)).toHaveLength(
      many.filter((s) => s.saved !== 3).length,
    )
  })
})

test('the tag in a code is that of a label of ours, or the text as it is', () => {
  expect(tagIn('http://bench.local:4780/airframes/N4-031')).toBe('N4-031')
  expect(tagIn('https://x/airframes/N4%20a?x=1')).toBe('N4 a')
  expect(tagIn(' N4-031 ')).toBe('N4-031')
  expect(tagIn('/airframes/%E0%A4%A')).toBe('/airframes/%E0%A4%A')
})

test('the heat clock says minutes and seconds, and warns at five minutes', () => {
  expect([0, 59.9, 60, 754].map(sinceWords)).toEqual(['0:00', '0:59', '1:00', '12:34'])
  expect(heatWarnS).toBe(300)
})
