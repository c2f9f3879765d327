import { imageFor, isRefused, parseHex, type Image } from '@taraf/core/intelHex'
import type { FlashMap, ImportPreview } from '@taraf/contract'
import { judgeCsv, namedInCsv, type Known } from '../files/airframesCsv'
import { ProblemError } from '@taraf/contract'
import { shrinkPicture } from '../files/picture'
import { settingsIn } from '../files/settingsFile'

/** What a file was read as, or the problem that it is told with: an error does not keep its kind on its way between processes. */
export type Read<T> = { readonly value: T } | { readonly problem: Pick<ProblemError, 'type' | 'detail'> }

const reading =
  <In, Out>(work: (given: In) => Out | Promise<Out>) =>
  async (given: In): Promise<Read<Out>> => {
    try {
      return { value: await work(given) }
    } catch (error) {
      if (error instanceof ProblemError) return { problem: { type: error.type, detail: error.detail } }
      throw error
    }
  }

/** Work on files that people send, in its own process: whatever a file holds, the server answers everybody else meanwhile. */
export const named = reading(({ bytes }: { bytes: Uint8Array }) => namedInCsv(Buffer.from(bytes)))
export const register = reading(({ bytes, known }: { bytes: Uint8Array; known: Known }) => judgeCsv(Buffer.from(bytes), known))
/** As the text of the answer: five thousand rows are not put together twice. */
export const preview = reading(({ bytes, known }: { bytes: Uint8Array; known: Known }): string => {
  const { rows, wrong } = judgeCsv(Buffer.from(bytes), known)
  return JSON.stringify({ rows, wrong } satisfies ImportPreview)
})
export const settings = reading(({ bytes }: { bytes: Uint8Array }) => settingsIn(Buffer.from(bytes)))
export const picture = reading(({ bytes }: { bytes: Uint8Array }) => shrinkPicture(Buffer.from(bytes)))
export const image = reading(
  ({ file, bytes, flash }: { file: string; bytes: Uint8Array; flash: readonly { target: string; flash: FlashMap }[] }): Image => {
    const wrong = (why: string) => new ProblemError('file-wrong', `${file}: ${why}.`)
    const parsed = parseHex(Buffer.from(bytes).toString('latin1'))
    if (isRefused(parsed)) throw wrong(parsed.line === 0 ? parsed.why : `line ${parsed.line}: ${parsed.why}`)
    const tried = flash.map(({ target, flash: map }) => ({ target, found: imageFor(parsed, map, target) }))
    for (const { found } of tried) if (!isRefused(found)) return found
    const why = tried.map(({ target, found }) => `${target}: ${isRefused(found) ? found.why : ''}`).join('; ')
    throw wrong(`it is for none of the targets of the build sheets: ${why}`)
  },
)
