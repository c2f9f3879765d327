import { fixed } from './fixed'

test('a number that rounds to nothing has no sign, any other keeps its own', () => {
  expect([fixed(-0.2, 0), fixed(-0.004, 2), fixed(-0, 1), fixed(0, 3)]).toEqual(['0', '0.00', '0.0', '0.000'])
  expect([fixed(-0.6, 0), fixed(-0.05, 1), fixed(-10, 0), fixed(2.345, 1)]).toEqual(['-1', '-0.1', '-10', '2.3'])
})
