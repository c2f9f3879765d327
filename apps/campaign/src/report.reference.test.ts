import { interval } from './report'

describe('the 95 % interval of a share', () => {
  // NIST/SEMATECH e-Handbook of Statistical Methods, 7.2.4.1, "Confidence intervals for a proportion defective", its example:
  // 4 defective of 20, one-sided at 5 % there; the two-sided bounds below are its formula worked with z = 1.96 by hand.
  it('is that of the handbook for 4 of 20', () => {
    const { rate, low, high } = interval(4, 20)
    expect(rate).toBe(0.2)
    expect(low).toBeCloseTo(0.0807, 4)
    expect(high).toBeCloseTo(0.416, 4)
  })
  // Newcombe, Two-sided confidence intervals for the single proportion, Statistics in Medicine 17 (1998), table I, method 3.
  it.each([
    [81, 263, 0.2553, 0.3662],
    [15, 148, 0.0624, 0.1605],
    [0, 20, 0, 0.1611],
    [1, 29, 0.0061, 0.1718],
  ])('is that of the published table for %i of %i', (hits, of, low, high) => {
    expect(interval(hits, of).low).toBeCloseTo(low, 4)
    expect(interval(hits, of).high).toBeCloseTo(high, 4)
  })
})
