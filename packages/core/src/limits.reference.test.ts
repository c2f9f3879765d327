import { limitReasons } from './limitReasons'
import { limits } from './limits'

// Common practice in the trade, as the requirement states it: bias left after calibration within 0.2 deg/s, noise within
// 0.3 deg/s rms, level offset within 0.5 deg after the trim, magnitude within 2 % of local gravity.
test('default limits are those of common practice', () => {
  expect(limits['gyroRest.bias']).toMatchObject({ max: 0.2, unit: 'deg/s' })
  expect(limits['gyroRest.noise']).toMatchObject({ max: 0.3, unit: 'deg/s rms' })
  expect(limits['level.offset']).toMatchObject({ max: 0.5, unit: 'deg' })
  expect(limits['level.magnitude']).toMatchObject({ max: 2, unit: '% of local g' })
})

test('every limit names its source and its reason', () => {
  for (const { source, reason } of Object.values(limitReasons)) {
    expect(source.length).toBeGreaterThan(3)
    expect(reason.length).toBeGreaterThan(20)
  }
})
