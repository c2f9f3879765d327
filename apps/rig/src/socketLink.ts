import { ask as askSchema, type RefusalType } from '@taraf/contract'
import { decode, encode } from '@taraf/contract/wire'
import { BoardEnd, type RigBench } from '@taraf/rig'
import type { WebSocket } from 'ws'

const mostMalformed = 20
const mostUnreadBytes = 512 * 1024
/** Far beyond what a permit's renewals, an image and a technician ask together. */
const mostAsksPerS = 4_000

/**
 * Puts the board's end of a Bench Link on a socket: CBOR in binary frames. It closes on a peer that keeps sending what cannot be understood,
 * that floods it, or that stops reading.
 */
export const linkOver = (socket: WebSocket, bench: RigBench): void => {
  const end = new BoardEnd(
    {
      tell: (message) => {
        if (socket.bufferedAmount > mostUnreadBytes) return socket.terminate()
        socket.send(encode(message))
      },
      close: (code, reason) => socket.close(code, reason),
    },
    bench.rig,
    bench.host,
  )
  let malformed = 0
  let asked = { second: 0, count: 0 }
  const floods = (): boolean => {
    const second = Math.floor(performance.now() / 1000)
    if (second !== asked.second) asked = { second, count: 0 }
    asked.count += 1
    return asked.count > mostAsksPerS
  }
  const notUnderstood = (id: number | null, detail: string, type: RefusalType = 'malformed'): void => {
    malformed += 1
    end.refuse(id, type, detail)
    if (malformed >= mostMalformed) end.close(1008, 'too much that cannot be understood')
  }
  const take = (bytes: Buffer, binary: boolean): void => {
    if (floods()) return end.close(1008, 'too many messages')
    if (!binary) return notUnderstood(null, 'a text frame; Bench Link speaks CBOR in binary frames')
    let item: unknown
    try {
      item = decode(bytes)
    } catch (error) {
      return notUnderstood(null, `not CBOR: ${error instanceof Error ? error.message : String(error)}`)
    }
    const parsed = askSchema.safeParse(item)
    if (parsed.success) return end.answer(parsed.data)
    const issue = parsed.error.issues[0]
    const detail = `${issue?.path.join('.') || 'message'}: ${issue?.message ?? 'unreadable'}`
    notUnderstood(idOf(item), detail, issue?.path[0] === 'ask' ? 'unknown' : 'malformed')
  }
  bench.links.add(end)
  socket.on('message', take)
  socket.on('error', () => socket.terminate())
  socket.on('close', () => bench.left(end))
}

const idOf = (item: unknown): number | null =>
  typeof item === 'object' && item !== null && 'id' in item && Number.isSafeInteger(item.id) && Number(item.id) >= 0
    ? Number(item.id)
    : null
