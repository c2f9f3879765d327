import { polesBy } from './poles'

// An ESC counts the pole pairs that pass: the electrical speed is the mechanical one times half the poles (a definition of electrical machines).
describe('poles by what shakes', () => {
  const burst = (turningHz: number, shake: number, noise = 0.03, seconds = 1.5) => {
    const n = Math.round(4000 * seconds)
    const t = Float64Array.from({ length: n }, (_, i) => i / 4000)
    let seed = 7
    const random = () => (seed = (seed * 1103515245 + 12345) % 2 ** 31) / 2 ** 31 - 0.5
    const axis = (phase: number) =>
      t.map((s) => shake * Math.sin(2 * Math.PI * turningHz * s + phase) + noise * Math.sqrt(12) * random())
    return { t, ax: axis(0), ay: axis(Math.PI / 2), az: axis(1) }
  }
  // Common practice: 14 poles on motors for 5 and 7 in, 12 for 3 in; 22 to 28 on larger ones.
  test.each([12, 14, 22, 24, 28])('%d poles', (poles) => {
    for (const turningHz of [40, 95, 180]) expect(polesBy(burst(turningHz, 0.2), (turningHz * poles) / 2)).toBe(poles)
  })
  test('a shake that drowns in the noise is no proof', () => {
    expect(polesBy(burst(95, 0.0004), 95 * 7)).toBeNull()
    expect(polesBy(burst(95, 0.2), 0)).toBeNull()
  })
})
