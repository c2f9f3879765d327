import { spectraOf } from './spectra'

// Runs beside the page: millions of samples are read and transformed here, so that nothing that is drawn waits for them.
self.onmessage = ({ data: address }: MessageEvent<string>) => {
  fetch(address)
    .then(async (response) => {
      if (!response.ok) throw new Error(`the server answered ${response.status}`)
      self.postMessage({ spectra: spectraOf(await response.json()) })
    })
    .catch((error: unknown) => self.postMessage({ why: error instanceof Error ? error.message : String(error) }))
}
