import { localGravity, standardGravity } from './gravity'

// NIMA TR8350.2 (third edition, amendment 1), "Department of Defense World Geodetic System 1984", table 3.4:
// normal gravity at the equator and at the poles, and the mean value over the ellipsoid.
describe('normal gravity of WGS 84', () => {
  test('at the equator 9.7803253359 m/s2, at the poles 9.8321849378 m/s2', () => {
    expect(localGravity({ lat: 0 })).toBeCloseTo(9.7803253359, 10)
    expect(localGravity({ lat: 90 })).toBeCloseTo(9.8321849378, 9)
    expect(localGravity({ lat: -90 })).toBeCloseTo(9.8321849378, 9)
  })
  test('its mean over the ellipsoid is 9.7976432222 m/s2', () => {
    // Area-weighted over geodetic latitude, with the ellipsoid's radii of curvature.
    const e2 = 0.00669437999014
    let [weighted, area] = [0, 0]
    const steps = 20000
    for (let i = 0; i < steps; i++) {
      const lat = -90 + ((i + 0.5) * 180) / steps
      const sin2 = Math.sin((lat * Math.PI) / 180) ** 2
      const w = Math.cos((lat * Math.PI) / 180) / (1 - e2 * sin2) ** 2
      weighted += w * localGravity({ lat })
      area += w
    }
    expect(weighted / area).toBeCloseTo(9.7976432222, 7)
  })
  test('falls with height by 3.086 um/s2 a metre near the ground (free-air gradient, common textbook value)', () => {
    const fall = (localGravity({ lat: 45 }) - localGravity({ lat: 45, heightM: 1000 })) / 1000
    expect(fall).toBeCloseTo(3.086e-6, 8)
  })
  test('without a place it is the standard value of the 3rd CGPM (1901), 9.80665 m/s2', () => {
    expect(localGravity(undefined)).toBe(standardGravity)
    expect(standardGravity).toBe(9.80665)
  })
})
