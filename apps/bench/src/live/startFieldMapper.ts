import type { FieldMap } from './fieldMap'
import type { Mapper } from './fieldMapper'

/** The worker that fits: in its own file, because only the page's bundler understands where it lies. */
export const startFieldMapper = (): Mapper => {
  const worker = new Worker(new URL('./fieldMap.worker', import.meta.url))
  return {
    post: (field) => worker.postMessage(field),
    listen: (told, failed) => {
      worker.addEventListener('message', ({ data }: MessageEvent<FieldMap>) => told(data))
      worker.addEventListener('error', failed)
      worker.addEventListener('messageerror', failed)
    },
    end: () => worker.terminate(),
  }
}
