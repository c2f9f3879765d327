import { imuOf } from '../tests/samples'
import { findMovement } from './stillness'
import { fromAngles, apply, inverse, radians } from './rotation'

describe('findMovement', () => {
  test('finds nothing in 500 still captures, quiet or noisy', () => {
    for (let seed = 0; seed < 500; seed++) {
      const noisy = seed % 2 === 0 ? 0.08 : 0.9
      expect(findMovement(imuOf({ seed, rateDegPerS: [0.9, -2, 0.3], noiseDegPerS: [noisy, noisy, noisy] }))).toBeNull()
    }
  })

  test('a knock is found, with its time', () => {
    const imu = imuOf({ bend: (_i, t) => (t > 3 && t < 3.02 ? { rateDegPerS: [20, 0, 0] } : null) })
    expect(findMovement(imu)).toMatchObject({ kind: 'knock', why: expect.stringContaining('3.0 s') as string })
  })

  test('a push that only the accelerometer feels is a knock too', () => {
    expect(findMovement(imuOf({ bend: (i) => (i === 200 ? { force: [4, 0, -9.81] } : null) }))?.kind).toBe('knock')
  })

  test('a slow turn for part of the time is found, however slow against the noise of single samples', () => {
    const imu = imuOf({
      noiseDegPerS: [0.2, 0.2, 0.2],
      bend: (_i, t) => (t > 2 && t < 3.5 ? { rateDegPerS: [0, 0, 0.6] } : null),
    })
    expect(findMovement(imu)?.kind).toBe('turn')
  })

  test('a steady tilt through the whole capture is found by the direction of gravity', () => {
    const imu = imuOf({
      bend: (_i, t) => ({
        rateDegPerS: [0.15, 0, 0],
        force: apply(inverse(fromAngles({ roll: radians(0.15 * t), pitch: 0, yaw: 0 })), [0, 0, -9.81]),
      }),
    })
    expect(findMovement(imu)).toMatchObject({ kind: 'turn', why: expect.stringContaining('tilted') as string })
  })
})
