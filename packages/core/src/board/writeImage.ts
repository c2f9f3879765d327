import type { AnswerOf, AskBody, Firmware } from '@taraf/contract'

export interface ImageProgress {
  readonly phase: 'looking' | 'writing' | 'verifying' | 'ending'
  /** Share of the phase that is done. */
  readonly share: number
}
export interface ImageStep extends ImageProgress {
  readonly ask: AskBody
}

/** How often a block that reads back otherwise is written again before the flash is taken for broken. */
const mostRounds = 3

/**
 * Writes an image step by step: whoever has the link does each ask and hands back the answer. What an earlier try left in the flash is
 * read back and kept where it is right, so that one that was cut off anywhere goes on; the whole is read back before the board is
 * told that it is complete. Ends with the firmware that the board will run, or why it stays in its loader.
 *
 * @param image the bytes from the start of the target's flash on
 * @param sha256 its hash, hex
 */
export function* writeImage(
  image: Uint8Array,
  sha256: string,
): Generator<ImageStep, { firmware: Firmware } | { why: string }, never> {
  // eslint-disable-next-line @typescript-eslint/no-explicit-any -- each answer is that of its ask, as the link has proved it
  const ask = function* (phase: ImageProgress['phase'], share: number, body: AskBody): Generator<ImageStep, any, any> {
    return yield { phase, share, ask: body }
  }
  const identity = (yield* ask('looking', 0, { ask: 'identity' })) as AnswerOf<'identity'>
  const map = (yield* ask('looking', 0, { ask: 'image.map' })) as AnswerOf<'image.map'>
  if (image.length > map.bytes) return { why: `the image has ${image.length} bytes, the board takes ${map.bytes}` }
  // What is longer than the image can only be of another one.
  const left = identity.loader && map.written <= image.length ? map.written : 0
  if (left === 0) yield* ask('looking', 1, { ask: 'image.begin' })

  const blocks = Array.from({ length: Math.ceil(image.length / map.blockBytes) }, (_, i) => i * map.blockBytes)
  const bytesAt = (at: number) => image.slice(at, Math.min(image.length, at + map.blockBytes))
  const isThere = function* (at: number, phase: ImageProgress['phase'], share: number): Generator<ImageStep, boolean, never> {
    const wanted = bytesAt(at)
    const { data } = (yield* ask(phase, share, {
      ask: 'image.read',
      address: map.start + at,
      length: wanted.length,
    })) as AnswerOf<'image.read'>
    return data.length === wanted.length && wanted.every((byte, i) => byte === data[i])
  }
  let wrong: number[] = []
  for (const [i, at] of blocks.entries()) if (at >= left || !(yield* isThere(at, 'looking', i / blocks.length))) wrong.push(at)
  for (let round = 0; round < mostRounds; round++) {
    for (const [i, at] of wrong.entries())
      yield* ask('writing', (i + 1) / wrong.length, { ask: 'image.write', address: map.start + at, data: bytesAt(at) })
    const written = blocks
    wrong = []
    for (const [i, at] of written.entries()) if (!(yield* isThere(at, 'verifying', (i + 1) / written.length))) wrong.push(at)
    if (wrong.length === 0) break
  }
  if (wrong.length > 0)
    return {
      why: `${wrong.length} blocks did not read back as they were written, ${mostRounds} times over: the flash is worn`,
    }
  const { firmware } = (yield* ask('ending', 1, { ask: 'image.end', sha256 })) as AnswerOf<'image.end'>
  return { firmware }
}
