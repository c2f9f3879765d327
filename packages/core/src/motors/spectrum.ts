import type { Column } from '@taraf/contract'
import FFT from 'fft.js'

/** How much of a burst lies in each bin: the mean square of the velocity, (m/s)², three axes together; bin k lies at k times `binHz`. */
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
 * The velocity that shakes a burst of specific force, m/s2, bin by bin: one Hann window over the whole of it, and each bin's acceleration
 * over its own 2 pi f. The bin of the mean is nought. Fewer than two rows give no bin.
 */
export const velocitySpectrum = ({ t, ax, ay, az }: Burst): Spectrum => {
  const n = t.length
  if (n < 2) return { binHz: 0, square: new Float64Array(0) }
  const rateHz = (n - 1) / ((t[n - 1] as number) - (t[0] as number))
  const binHz = rateHz / n
  const window = Float64Array.from({ length: n }, (_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / n))
  const weight = window.reduce((sum, w) => sum + w * w, 0)
  const transform = new Chirp(n)
  const square = new Float64Array(Math.floor(n / 2) + 1)
  for (const axis of [ax, ay, az]) {
    const mean = meanOf(axis)
    const power = transform.power(Float64Array.from(window, (w, i) => w * ((axis[i] as number) - mean)))
    for (let k = 1; k < square.length; k++)
      square[k] = (square[k] as number) + (2 * (power[k] as number)) / (n * weight) / (2 * Math.PI * k * binHz) ** 2
  }
  return { binHz, square }
}

const meanOf = (x: Column): number => {
  let sum = 0
  for (const value of x) sum += value
  return sum / x.length
}

/** Root mean square of the velocity between two frequencies, both counted in, mm/s. */
export const velocityBetween = ({ binHz, square }: Spectrum, fromHz: number, toHz: number): number => {
  let sum = 0
  for (let k = Math.ceil(fromHz / binHz); k <= Math.min(square.length - 1, Math.floor(toHz / binHz)); k++)
    sum += square[k] as number
  return 1000 * Math.sqrt(sum)
}

/** The velocity at a turning rate: within 3 % of it, and at least two and a half bins to either side, mm/s rms. */
export const velocityAt = (spectrum: Spectrum, turningHz: number): number => {
  const half = Math.max(0.03 * turningHz, 2.5 * spectrum.binHz)
  return velocityBetween(spectrum, turningHz - half, turningHz + half)
}

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

  /** The squared size of each bin from 0 to n / 2. */
  power(x: Float64Array): Float64Array {
    const { fft, chirp, filter, n } = this
    const a = fft.createComplexArray() as number[]
    a.fill(0)
    for (let k = 0; k < n; k++) {
      a[2 * k] = (x[k] as number) * (chirp[2 * k] as number)
      a[2 * k + 1] = (x[k] as number) * (chirp[2 * k + 1] as number)
    }
    const spectrum = fft.createComplexArray() as number[]
    fft.transform(spectrum, a)
    for (let i = 0; i < spectrum.length; i += 2) {
      const [re, im, fr, fi] = [spectrum[i] as number, spectrum[i + 1] as number, filter[i] as number, filter[i + 1] as number]
      spectrum[i] = re * fr - im * fi
      spectrum[i + 1] = re * fi + im * fr
    }
    const out = fft.createComplexArray() as number[]
    fft.inverseTransform(out, spectrum)
    // The last chirp turns each bin and does not change its size.
    return Float64Array.from(
      { length: Math.floor(n / 2) + 1 },
      (_, k) => (out[2 * k] as number) ** 2 + (out[2 * k + 1] as number) ** 2,
    )
  }
}
