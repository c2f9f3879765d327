import { answers, tell as tellSchema, type AnswerOf, type AskBody, type AskName, type Tell } from '@taraf/contract'
import { decode, encode } from '@taraf/contract/wire'
import { WebSocket } from 'ws'

/** A rule that a speaker broke. */
export class Broken extends Error {}
export const expectThat = (holds: boolean, what: string): void => {
  if (!holds) throw new Broken(what)
}

interface Reply {
  readonly id: number | null
  readonly answer?: unknown
  readonly refusal?: { readonly type: string; readonly detail: string }
}

/** One link to a speaker, as the conformance rules use it. */
export class Peer {
  readonly tells: Tell[] = []
  closedWith: number | null = null
  private readonly replies: Reply[] = []
  private nextId = 1

  private constructor(readonly socket: WebSocket) {
    socket.on('message', (bytes: Buffer, binary: boolean) => this.take(bytes, binary))
    socket.on('close', (code) => (this.closedWith = code))
    socket.on('error', () => {})
  }

  /** @param origin the page that a browser would name */
  static async open(url: string, withinMs = 2_000, origin?: string): Promise<Peer> {
    const named = origin === undefined ? {} : { origin }
    const socket = new WebSocket(url, { perMessageDeflate: false, handshakeTimeout: withinMs, ...named })
    const peer = new Peer(socket)
    await new Promise<void>((resolve, reject) => {
      socket.once('open', () => resolve())
      socket.once('error', () => reject(new Broken(`no link at ${url}`)))
    })
    return peer
  }

  close(): void {
    this.socket.terminate()
  }

  send(message: unknown): void {
    this.socket.send(encode(message))
  }

  /** Asks and gets the answer, proved against the schema. Throws where it is refused. */
  async ask<Name extends AskName>(body: AskBody & { ask: Name }, withinMs = 5_000): Promise<AnswerOf<Name>> {
    const reply = await this.exchange(body, withinMs)
    expectThat(reply.refusal === undefined, `"${body.ask}" was refused: ${reply.refusal?.type} (${reply.refusal?.detail})`)
    const parsed = answers[body.ask as Name].safeParse(reply.answer)
    if (parsed.success) return parsed.data as AnswerOf<Name>
    const issue = parsed.error.issues[0]
    throw new Broken(`the answer to "${body.ask}" is not as specified: ${issue?.path.join('.')}: ${issue?.message}`)
  }

  /** Asks what must be refused, and with which type. */
  async refused(body: AskBody | { ask: string; [field: string]: unknown }, ...types: string[]): Promise<void> {
    const reply = await this.exchange(body as AskBody, 5_000)
    expectThat(reply.refusal !== undefined, `${JSON.stringify(body)} was answered where it must be refused`)
    expectThat(
      types.includes(reply.refusal?.type ?? ''),
      `${JSON.stringify(body)} was refused as "${reply.refusal?.type}", not "${types.join('" or "')}"`,
    )
  }

  /** Waits for something among what came. */
  async until<T>(what: string, look: () => T | undefined | null | false, withinMs = 5_000): Promise<T> {
    const end = Date.now() + withinMs
    for (;;) {
      const found = look()
      if (found !== undefined && found !== null && found !== false) return found
      if (Date.now() > end) throw new Broken(`${what}: not within ${withinMs / 1000} s`)
      await new Promise((resolve) => setTimeout(resolve, 10))
    }
  }

  /** The refusal of a message that carries no usable id. */
  namelessRefusal = (): Promise<Reply> =>
    this.until('a refusal with id null', () => {
      const at = this.replies.findIndex((r) => r.id === null)
      return at < 0 ? null : this.replies.splice(at, 1)[0]
    })

  private async exchange(body: AskBody, withinMs: number): Promise<Reply> {
    const id = this.nextId++
    this.send({ id, ...body })
    const reply = await this.until(`a reply to "${body.ask}"`, () => this.replies.find((r) => r.id === id), withinMs)
    this.replies.splice(this.replies.indexOf(reply), 1)
    return reply
  }

  private take(bytes: Buffer, binary: boolean): void {
    if (!binary) return
    const item = decode(bytes)
    if (typeof item === 'object' && item !== null && 'tell' in item) {
      const parsed = tellSchema.safeParse(item)
      if (parsed.success) this.tells.push(parsed.data)
      else this.tells.push({ tell: 'malformed' } as never)
    } else this.replies.push(item as Reply)
  }
}
