import type { Column } from '@taraf/contract'
import FFT from 'fft.js'

/** How much of what was sampled is in each bin, as its mean square; bin k is at k times `binHz`. */
export interface Spectrum {
  readonly binHz: number
  readonly square: Float64Array<ArrayBuffer>
}
/** The band of ISO 20816-1 for vibration as a whole, Hz. */
export const wholeBand = { fromHz: 10, toHz: 1000 } as const

interface Burst {
  readonly t: Column
  readonly ax: Column
  readonly ay: Column
  readonly az: Column
}

/**
 * The mean square of columns that were sampled together, bin by bin: one Hann window over the whole of each, without its mean, all columns
 * summed. The bin of the mean is zero. Fewer than two rows give no bin.
 */
export const powerSpectrum = (t: Column, columns: readonly Column[]): Spectrum => {
  const n = t.length
  if (n < 2) return { binHz: 0, square: new Float64Array(0) }
  const rateHz = (n - 1) / ((t[n - 1] as number) - (t[0] as number))
  const window = Float64Array.from({ length: n }, (_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / n))
  const weight = window.reduce((sum, w) => sum + w * w, 0)
  const windowed = (axis: Column): Float64Array => {
    const mean = meanOf(axis)
    return Float64Array.from(window, (w, i) => w * ((axis[i] as number) - mean))
  }
  const transform = chirpOf(n)
  const square = new Float64Array(Math.floor(n / 2) + 1)
  // Two columns at once, one as the imaginary part of the other: of the sum of their powers, each bin has half and its mirror the rest.
  for (let i = 0; i < columns.length; i += 2) {
    const second = columns[i + 1]
    const power = transform.power(windowed(columns[i] as Column), second === undefined ? null : windowed(second))
    for (let k = 1; k < square.length; k++) {
      const both = ((power[k] as number) + (power[n - k] as number)) / 2
      square[k] = (square[k] as number) + (2 * both) / (n * weight)
    }
  }
  return { binHz: rateHz / n, square }
}

/** Root mean square between two frequencies, both counted in, in the unit of the columns. */
export const rmsBetween = ({ binHz, square }: Spectrum, fromHz: number, toHz: number): number => {
  let sum = 0
  for (let k = Math.ceil(fromHz / binHz); k <= Math.min(square.length - 1, Math.floor(toHz / binHz)); k++)
    sum += square[k] as number
  return Math.sqrt(sum)
}

/** The velocity that shakes a burst of specific force, m/s2: each bin's acceleration over its own 2 pi f, three axes together. */
export const velocitySpectrum = ({ t, ax, ay, az }: Burst): Spectrum => {
  const { binHz, square } = powerSpectrum(t, [ax, ay, az])
  return { binHz, square: square.map((both, k) => (k === 0 ? 0 : both / (2 * Math.PI * k * binHz) ** 2)) }
}

const meanOf = (x: Column): number => {
  let sum = 0
  for (const value of x) sum += value
  return sum / x.length
}

/** Root mean square of the velocity between two frequencies, both counted in, mm/s. */
export const velocityBetween = (velocity: Spectrum, fromHz: number, toHz: number): number =>
  1000 * rmsBetween(velocity, fromHz, toHz)

/** The velocity at a turning rate: within 3 % of it, and at least two and a half bins to either side, mm/s rms. */
export const velocityAt = (spectrum: Spectrum, turningHz: number): number => {
  const half = Math.max(0.03 * turningHz, 2.5 * spectrum.binHz)
  return velocityBetween(spectrum, turningHz - half, turningHz + half)
}

/** What was worked out for a length serves the next burst of that length. */
const chirps = new Map<number, Chirp>()
const chirpOf = (n: number): Chirp => {
  const known = chirps.get(n) ?? new Chirp(n)
  if (!chirps.has(n) && chirps.size >= mostChirps) chirps.clear()
  chirps.set(n, known)
  return known
}
const mostChirps = 4

/** A discrete Fourier transform of any length, by Bluestein's chirps (1970) over transforms whose length is a power of two. */
class Chirp {
  private readonly fft: FFT
  private readonly size: number
  private readonly chirp: Float64Array
  private readonly filter: number[]

  constructor(private readonly n: number) {
    this.size = 2 ** Math.ceil(Math.log2(2 * n))
    this.fft = new FFT(this.size)
    // k² grows beyond what a double holds exactly of its turns: only k² mod 2n matters.
    this.chirp = new Float64Array(2 * n)
    for (let k = 0; k < n; k++) {
      const angle = (Math.PI * ((k * k) % (2 * n))) / n
      this.chirp[2 * k] = Math.cos(angle)
      this.chirp[2 * k + 1] = -Math.sin(angle)
    }
    const back = this.fft.createComplexArray() as number[]
    back.fill(0)
    for (let k = 0; k < n; k++)
      for (const at of k === 0 ? [0] : [k, this.size - k]) {
        back[2 * at] = this.chirp[2 * k] as number
        back[2 * at + 1] = -(this.chirp[2 * k + 1] as number)
      }
    this.filter = this.fft.createComplexArray() as number[]
    this.fft.transform(this.filter, back)
  }

  /** The squared size of each bin from 0 to n - 1 of what has these real and imaginary parts. */
  power(re: Float64Array, im: Float64Array | null): Float64Array {
    const { fft, chirp, filter, n } = this
    const a = fft.createComplexArray() as number[]
    a.fill(0)
    for (let k = 0; k < n; k++) {
      const [x, y, c, s] = [
        re[k] as number,
        im === null ? 0 : (im[k] as number),
        chirp[2 * k] as number,
        chirp[2 * k + 1] as number,
      ]
      a[2 * k] = x * c - y * s
      a[2 * k + 1] = x * s + y * c
    }
    const spectrum = fft.createComplexArray() as number[]
    fft.transform(spectrum, a)
    for (let i = 0; i < spectrum.length; i += 2) {
      const [x, y, fr, fi] = [spectrum[i] as number, spectrum[i + 1] as number, filter[i] as number, filter[i + 1] as number]
      spectrum[i] = x * fr - y * fi
      spectrum[i + 1] = x * fi + y * fr
    }
    const out = fft.createComplexArray() as number[]
    fft.inverseTransform(out, spectrum)
    // The last chirp turns each bin and does not change its size.
    return Float64Array.from({ length: n }, (_, k) => (out[2 * k] as number) ** 2 + (out[2 * k + 1] as number) ** 2)
  }
}
