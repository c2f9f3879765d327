import fc from 'fast-check'
import { fft } from 'fourier-transform'
import { velocityAt, velocityBetween, velocitySpectrum } from './spectrum'

const g = 9.80665
const burst = (n: number, rateHz: number, at: (t: number) => number) => {
  const t = Float64Array.from({ length: n }, (_, i) => 3 + i / rateHz)
  const still = t.map(() => 0)
  return { t, ax: t.map((v) => at(v - 3)), ay: still, az: t.map(() => -g) }
}

test('a pure tone: the velocity of a sine of acceleration a at f is a / (2 pi f), and its rms that over the root of two', () => {
  for (const [n, rateHz, f, a] of [
    [8000, 4000, 137.3, 4],
    [4096, 2048, 250, 2],
    [7919, 4000, 61.7, 1.5],
  ] as const) {
    const spectrum = velocitySpectrum(burst(n, rateHz, (t) => a * Math.sin(2 * Math.PI * f * t)))
    const rms = (1000 * a) / (2 * Math.PI * f) / Math.SQRT2
    expect(velocityAt(spectrum, f) / rms).toBeCloseTo(1, 2)
    expect(velocityBetween(spectrum, 10, 1000) / rms).toBeCloseTo(1, 2)
    // ISO 20816-1 names velocity, mm/s rms, from 10 to 1000 Hz: nothing of a tone is elsewhere in it.
    expect(velocityBetween(spectrum, f + 20, 1000)).toBeLessThan(0.01 * rms)
  }
})

test('two tones apart add by their squares, and gravity is no vibration', () => {
  const of = (t: number) => 3 * Math.sin(2 * Math.PI * 120 * t) + 2 * Math.sin(2 * Math.PI * 360 * t)
  const spectrum = velocitySpectrum(burst(8000, 4000, of))
  const [first, third] = [120, 360].map((f) => velocityAt(spectrum, f)) as [number, number]
  expect(velocityBetween(spectrum, 10, 1000)).toBeCloseTo(Math.hypot(first, third), 3)
  expect(velocityBetween(velocitySpectrum(burst(8000, 4000, () => 0)), 10, 1000)).toBeLessThan(1e-9)
})

test('bin by bin as a general library has it, where its length is a power of two (fourier-transform)', () => {
  fc.assert(
    fc.property(fc.array(fc.double({ min: -30, max: 30, noNaN: true }), { minLength: 256, maxLength: 256 }), (x) => {
      const n = x.length
      const { square, binHz } = velocitySpectrum({ ...burst(n, 2000, () => 0), ax: x, az: x.map(() => 0) })
      const mean = x.reduce((sum, v) => sum + v, 0) / n
      const window = x.map((_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / n))
      const [re, im] = fft(x.map((v, i) => (v - mean) * (window[i] ?? 0)))
      const weight = window.reduce((sum, w) => sum + w * w, 0)
      for (let k = 1; k <= n / 2; k++) {
        const power = (re[k] as number) ** 2 + (im[k] as number) ** 2
        const expected = (2 * power) / (n * weight) / (2 * Math.PI * k * binHz) ** 2
        expect(Math.abs((square[k] as number) - expected)).toBeLessThan(1e-9 + 1e-9 * expected)
      }
    }),
    { numRuns: 20 },
  )
})

test('any length as a sum written out has it', () => {
  fc.assert(
    fc.property(fc.integer({ min: 3, max: 97 }), fc.nat(), (n, seed) => {
      const x = Array.from({ length: n }, (_, i) => Math.sin(seed + i * i) * 5)
      const { square, binHz } = velocitySpectrum({ ...burst(n, 2000, () => 0), ax: x, az: x.map(() => 0) })
      const mean = x.reduce((sum, v) => sum + v, 0) / n
      const w = x.map((_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / n))
      const weight = w.reduce((sum, v) => sum + v * v, 0)
      for (let k = 1; k < square.length; k++) {
        let [re, im] = [0, 0]
        for (let i = 0; i < n; i++) {
          const value = ((x[i] ?? 0) - mean) * (w[i] ?? 0)
          re += value * Math.cos((2 * Math.PI * k * i) / n)
          im -= value * Math.sin((2 * Math.PI * k * i) / n)
        }
        const expected = (2 * (re * re + im * im)) / (n * weight) / (2 * Math.PI * k * binHz) ** 2
        expect(Math.abs((square[k] as number) - expected)).toBeLessThan(1e-12 + 1e-8 * expected)
      }
    }),
    { numRuns: 40 },
  )
})
