import type { IncomingMessage } from 'node:http'
import type { Duplex } from 'node:stream'
import { screenRequest, type LiveTell } from '@taraf/contract'
import { ServerResponse } from 'node:http'
import type { RequestHandler, Request, Response } from 'express'
import type { Logger } from 'pino'
import { WebSocketServer, type WebSocket } from 'ws'
import { isCrossSite } from '../http/guard'
import type { ImageWriting } from '../images/writing'
import type { BenchLink } from '../links/benchLink'
import type { Links } from '../links/links'
import { linkTellOf } from '../links/linkTell'
import type { Takes } from '../takes/takes'
import type { Notices } from '../database/notices'

const fullBytes = 64 * 1024
const stillSignedInMs = 15_000

interface Screen {
  readonly socket: WebSocket
  readonly request: Request
  job: string | null
  bench: string | null
}

/**
 * Tells screens what happens: text for what changes at human speed, and binary frames of samples for the one bench that
 * a screen watches: each holds two blocks as the board sent them. A screen that reads slowly misses some.
 */
export class LiveFeed {
  private readonly screens = new Set<Screen>()
  private readonly server = new WebSocketServer({ noServer: true, maxPayload: 4_096, perMessageDeflate: false })
  private readonly timer: NodeJS.Timeout

  constructor(
    private readonly session: RequestHandler,
    private readonly links: Links,
    private readonly takes: Takes,
    private readonly images: ImageWriting,
    notices: Notices,
    private readonly log: Logger,
  ) {
    notices.onChanged((job) =>
      this.tell({ tell: 'changed', job }, (screen) => job === null || screen.job === job || screen.job === null),
    )
    takes.onTell((tell) => this.tell(tell, (screen) => screen.job === tell.job))
    images.onTell((tell) => this.tell(tell, (screen) => screen.job === tell.job))
    links.onLink((bench, link) => this.follow(bench, link))
    this.timer = setInterval(() => void this.endSignedOut(), stillSignedInMs)
  }

  /** Takes over a connection that asked for `/live`: the cookie decides, as on every route. */
  upgrade(incoming: IncomingMessage, socket: Duplex, head: Buffer): void {
    // A screen that goes away at any moment is an everyday thing: without this its reset would end the server.
    socket.on('error', () => socket.destroy())
    const refuse = (status: string) => socket.end(`HTTP/1.1 ${status}\r\nconnection: close\r\n\r\n`)
    if (isCrossSite(incoming)) return void refuse('403 Forbidden')
    const request = incoming as Request
    this.session(request, new ServerResponse(incoming) as unknown as Response, (error?: unknown) => {
      if (error !== undefined) return refuse('503 Service Unavailable')
      if (request.session?.person === undefined) return refuse('401 Unauthorized')
      this.server.handleUpgrade(incoming, socket, head, (peer) => this.join(peer, request))
    })
  }

  /** Ends the feeds of a sign-in that has just ended here. */
  signedOut(sessionId: string): void {
    for (const { socket, request } of this.screens) if (request.sessionID === sessionId) socket.close(4401, 'signed out')
  }

  close(): void {
    clearInterval(this.timer)
    for (const { socket } of this.screens) socket.close(1001, 'the server is stopping')
  }

  private join(socket: WebSocket, request: Request): void {
    const screen: Screen = { socket, request, job: null, bench: null }
    this.screens.add(screen)
    socket.on('close', () => this.screens.delete(screen))
    socket.on('error', () => socket.terminate())
    socket.on('message', (bytes: Buffer, binary: boolean) => {
      const asked = binary ? null : parseRequest(bytes)
      if (asked === null) return socket.close(1008, 'not understood')
      if ('keep' in asked) {
        const { person } = request.session
        return person === undefined ? undefined : this.takes.keep(asked.keep.job, person, { press: asked.keep.press, screen })
      }
      if ('ping' in asked) {
        const link = screen.bench === null ? null : this.links.linkOf(screen.bench)
        void link?.measure()
        return send(screen, { tell: 'pong', ping: asked.ping, boardMs: link?.roundTripMs ?? null })
      }
      const { watch } = asked
      screen.job = watch.job ?? null
      screen.bench = watch.bench ?? null
      if (screen.bench !== null) send(screen, linkTellOf(screen.bench, this.links.linkOf(screen.bench)))
      const take = screen.job === null ? null : this.takes.tellOf(screen.job)
      if (take !== null) send(screen, take)
      const image = screen.job === null ? null : this.images.tellOf(screen.job)
      if (image !== null) send(screen, image)
    })
  }

  private follow(bench: string, link: BenchLink): void {
    let waiting: Buffer | null = null
    link.on('phase', () => {
      waiting = null
      this.tell(linkTellOf(bench, link), (screen) => screen.bench === bench)
    })
    link.on('block', (_block, bytes) => {
      if (waiting === null) return void (waiting = bytes)
      const pair = Buffer.concat([waiting, bytes])
      waiting = null
      this.pass(bench, pair)
    })
    link.on('stream', (_block, bytes) => this.pass(bench, bytes))
  }

  private pass(bench: string, bytes: Buffer): void {
    for (const { socket, bench: watched } of this.screens)
      if (watched === bench && socket.readyState === socket.OPEN && socket.bufferedAmount < fullBytes) socket.send(bytes)
  }

  private tell(tell: LiveTell, concerns: (screen: Screen) => boolean): void {
    for (const screen of this.screens) if (concerns(screen)) send(screen, tell)
  }

  /** Ends the feed of whoever has signed out elsewhere, or whose sign-in has expired. */
  private async endSignedOut(): Promise<void> {
    for (const { socket, request } of this.screens)
      request.sessionStore.get(request.sessionID, (error, session) => {
        if (error !== null && error !== undefined) return this.log.warn({ err: error }, 'sign-in not looked up')
        if (session?.person === undefined) socket.close(4401, 'signed out')
      })
  }
}

const send = ({ socket }: Screen, tell: LiveTell): void => {
  if (socket.readyState === socket.OPEN) socket.send(JSON.stringify(tell))
}

const parseRequest = (bytes: Buffer) => {
  try {
    return screenRequest.parse(JSON.parse(bytes.toString('utf8')))
  } catch {
    return null
  }
}
