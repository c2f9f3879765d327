import fc from 'fast-check'
import { TurningClock } from './turningClock'

test('grows while any turns, and goes back at the same pace while all stand', () => {
  const clock = new TurningClock()
  expect(clock.at(5)).toBe(0)
  clock.push(10, true)
  expect(clock.at(70)).toBe(60)
  clock.push(70, false)
  expect(clock.at(100)).toBe(30)
  expect(clock.at(500)).toBe(0)
})

test('never below nought, and never more than was turned', () => {
  fc.assert(
    fc.property(fc.array(fc.tuple(fc.integer({ min: 0, max: 100 }), fc.boolean()), { maxLength: 30 }), (steps) => {
      const clock = new TurningClock()
      let [t, turned] = [0, 0]
      for (const [lasts, turning] of steps) {
        clock.push(t, turning)
        t += lasts
        turned += turning ? lasts : 0
      }
      return clock.at(t) >= 0 && clock.at(t) <= turned
    }),
  )
})
