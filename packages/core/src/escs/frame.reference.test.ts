import { frameUs, kbitOf } from './frame'

// The number in the name of a DShot signal is its bit rate in kbit/s, and a frame has 16 bits (its published definition, from memory): so many
// microseconds as the trade's tables have them.
test.each([
  ['DShot150', 106.7],
  ['DShot300', 53.3],
  ['DShot600', 26.7],
  ['DShot1200', 13.3],
])('a frame of %s takes %d us', (signal, us) => {
  expect(frameUs(signal, false)).toBeCloseTo(us, 1)
})

test('with a reply: 30 us to turn round, then 21 bits at 5/4 of the rate', () => {
  // 26.67 + 30 + 21 / 0.75
  expect(frameUs('DShot600', true)).toBeCloseTo(84.67, 2)
  expect(frameUs('DShot300', true)).toBeCloseTo(139.33, 2)
  // Common practice: DShot150 with replies does not keep up with a loop of 4 kHz or more.
  expect(frameUs('DShot150', true)).toBeGreaterThan(240)
})

test('analogue signals take as long as their longest pulse, whatever replies are set', () => {
  // Servo pulses of 1 to 2 ms; OneShot125 an eighth of it; MultiShot 5 to 25 us (from memory).
  expect(['PWM', 'OneShot125', 'MultiShot'].map((s) => frameUs(s, true))).toEqual([2000, 250, 25])
  expect(['PWM', 'DShot600', 'other'].map(kbitOf)).toEqual([null, 600, null])
})
