import type { DrawnSpectrum } from './spectra'

export type Spectra = { readonly spectra: readonly DrawnSpectrum[] } | { readonly why: string }

/** Has a worker fetch the bursts of a take and transform them; what it returns ends it. In its own file, as only the page's bundler understands it. */
export const startSpectra = (address: string, told: (spectra: Spectra) => void): (() => void) => {
  const worker = new Worker(new URL('./spectra.worker', import.meta.url))
  const failed = () => told({ why: 'the worker that computes it ended' })
  worker.addEventListener('message', ({ data }: MessageEvent<Spectra>) => told(data))
  worker.addEventListener('error', failed)
  worker.addEventListener('messageerror', failed)
  worker.postMessage(address)
  return () => worker.terminate()
}
