import { sheetOf } from '@taraf/demo'
import { checkById } from './checks'
import type { Check } from './check'
import { findingWords } from './plan'

const sheet = sheetOf('N4')
const gyro = checkById('sensors.gyroRest') as Check

test('what a write within the take has changed is called by what it was', () => {
  expect(findingWords(gyro, 'biasX', sheet)).toBe('Bias, roll axis')
  expect(findingWords(gyro, 'biasXBefore', sheet)).toBe('Bias, roll axis, before the write')
  expect(findingWords(gyro, 'write', sheet)).toBe('Written to the board')
  expect(findingWords(gyro, 'strange', sheet)).toBe('strange')
})

test('what a list finds is called as its question', () => {
  expect(findingWords(checkById('intake.identity') as Check, 'tag', sheet)).toBe('Tag on the frame, as it reads')
  expect(findingWords(checkById('board.versions') as Check, 'version of receiver', sheet)).toBe('Version of the receiver')
})
