import { discontinuity } from './continuity'

const times = (n: number, without: (i: number) => boolean = () => false) =>
  Array.from({ length: n }, (_, i) => i)
    .filter((i) => !without(i))
    .map((i) => i / 200)

describe('discontinuity', () => {
  test('an unbroken stream of the wanted length is continuous', () => expect(discontinuity(times(1001), 5)).toBeNull())
  test('a short stream is not', () => expect(discontinuity(times(700), 5)).toContain('only 3.50 s'))
  test('an empty stream is not', () => expect(discontinuity([], 5)).toContain('only 0.00 s'))
  test('a gap over 50 ms is not', () =>
    expect(
      discontinuity(
        times(1001, (i) => i > 500 && i < 512),
        5,
      ),
    ).toContain('60 ms'))
  test('a gap of 50 ms is allowed while under 1 % is lost', () =>
    expect(
      discontinuity(
        times(1001, (i) => i > 500 && i < 510),
        5,
      ),
    ).toBeNull())
  test('over 1 % of lost samples is not', () =>
    expect(
      discontinuity(
        times(1001, (i) => i % 50 === 25),
        5,
      ),
    ).toContain('% of the samples'))
  test('a block that comes twice is not', () =>
    expect(discontinuity([...times(500), ...times(1001).slice(480)], 5)).toContain('do not rise'))
})
