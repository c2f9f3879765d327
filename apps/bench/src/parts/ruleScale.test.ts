import { extend, ruleScale } from './ruleScale'

describe('the scale of a rule', () => {
  test('a span lies in its middle half', () => {
    const { share } = ruleScale({ min: -0.2, max: 0.2 })
    expect([share(-0.2), share(0), share(0.2)].map((s) => Math.round(s * 1000) / 1000)).toEqual([0.25, 0.5, 0.75])
  })
  test('a most alone lies at two thirds, from nought', () => {
    const { share } = ruleScale({ max: 0.3 })
    expect(share(0)).toBe(0)
    expect(share(0.3)).toBeCloseTo(2 / 3, 9)
  })
  test('what lies beyond stays at the ends', () => {
    const { share } = ruleScale({ min: -1, max: 1 })
    expect([share(-50), share(50)]).toEqual([0, 1])
  })
})

test('pencil marks widen and never narrow; between them nothing is new', () => {
  const first = extend(null, 2)
  expect(first).toEqual({ least: 2, most: 2 })
  const wider = extend(extend(first, 5), -1)
  expect(wider).toEqual({ least: -1, most: 5 })
  expect(extend(wider, 3)).toBe(wider)
})
