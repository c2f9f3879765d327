declare module 'fourier-transform' {
  /** The transform of real samples whose number is a power of two, not normalised: bins from 0 to half of it. */
  export const fft: (samples: readonly number[]) => [re: Float64Array, im: Float64Array]
}
