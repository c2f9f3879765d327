import type { IncomingMessage } from 'node:http'
import type { Duplex } from 'node:stream'
import { screenRequest, type LiveTell, type Person } from '@taraf/contract'
import { ServerResponse } from 'node:http'
import type { RequestHandler, Request, Response } from 'express'
import type { Cancel, Clock } from '@taraf/takes'
import type { Logger } from 'pino'
import { WebSocketServer, type WebSocket } from 'ws'
import { isCrossSite } from '../http/guard'
import type { ImageWriting } from '../images/writing'
import type { BenchLink } from '../links/benchLink'
import type { Links } from '../links/links'
import { linkTellOf } from '../links/linkTell'
import type { Servers } from '../links/servers'
import type { People } from '../people/people'
import type { Dial } from '../ports'
import type { Takes } from '../takes/takes'
import type { Notices } from '../database/notices'
import { peerHeader, Peers } from './peers'

const fullBytes = 64 * 1024
const stillSignedInMs = 15_000

interface Screen {
  readonly socket: WebSocket
  /** Whose screen it is, and by which request it came; null where it is another server that asks for its own screens. */
  readonly by: { readonly person: Person; readonly request: Request } | null
  job: string | null
  bench: string | null
}

export interface FeedDoors {
  readonly sessions: RequestHandler
  readonly present: RequestHandler
  readonly people: Pick<People, 'find'>
  readonly links: Links
  readonly servers: Servers
  readonly takes: Takes
  readonly images: ImageWriting
  readonly notices: Notices
  readonly dial: Dial
  readonly clock: Clock
  readonly log: Logger
}

/**
 * Tells screens what happens: text for what changes at human speed, and binary frames of samples for the one bench that
 * a screen watches: each holds two blocks as the board sent them. A screen that reads slowly misses some.
 */
export class LiveFeed {
  private readonly screens = new Set<Screen>()
  private readonly server = new WebSocketServer({ noServer: true, maxPayload: 4_096, perMessageDeflate: false })
  private readonly stopLooking: Cancel
  private readonly peers: Peers

  constructor(private readonly doors: FeedDoors) {
    const { notices, takes, images, links, servers, dial, clock, log } = doors
    notices.onChanged((job) =>
      this.tell({ tell: 'changed', job }, (screen) => job === null || screen.job === job || screen.job === null),
    )
    notices.onPerson(
      (id) => void this.lookAgainAt(id).catch((error: unknown) => log.warn({ err: error }, 'person not looked up')),
    )
    takes.onTell((tell) => this.tell(tell, (screen) => screen.job === tell.job))
    images.onTell((tell) => this.tell(tell, (screen) => screen.job === tell.job))
    links.onLink((bench, link) => this.follow(bench, link))
    this.peers = new Peers(
      servers,
      {
        wanted: () =>
          [...this.screens].flatMap(({ by, bench, job }) =>
            by === null || bench === null || links.linkOf(bench) !== null ? [] : [{ bench, job }],
          ),
        tell: (bench, tell) =>
          this.tell(tell, (screen) => screen.by !== null && ('job' in tell ? screen.job === tell.job : screen.bench === bench)),
        frame: (bench, bytes) => this.pass(bench, bytes),
      },
      dial,
      clock,
      log,
    )
    this.stopLooking = clock.every(stillSignedInMs, () => void this.endSignedOut())
  }

  /** Takes over a connection that asked for `/live`: the cookie decides, as on every route; for another server, its token. */
  upgrade(incoming: IncomingMessage, socket: Duplex, head: Buffer): void {
    // A screen that goes away at any moment is an everyday thing: without this its reset would end the server.
    socket.on('error', () => socket.destroy())
    const refuse = (status: string) => socket.end(`HTTP/1.1 ${status}\r\nconnection: close\r\n\r\n`)
    const welcome = (by: Screen['by']) =>
      this.server.handleUpgrade(incoming, socket, head, (peer) => this.join({ socket: peer, by, job: null, bench: null }))
    const token = incoming.headers[peerHeader]
    if (token !== undefined) return this.doors.servers.isPeer(String(token)) ? welcome(null) : void refuse('401 Unauthorized')
    if (isCrossSite(incoming)) return void refuse('403 Forbidden')
    const request = incoming as Request
    const response = new ServerResponse(incoming) as unknown as Response
    const failed = () => refuse('503 Service Unavailable')
    this.doors.sessions(request, response, (error?: unknown) => {
      if (error !== undefined) return failed()
      Promise.resolve(this.doors.present(request, response, () => {})).then(() => {
        const { person } = request.session
        if (person === undefined) return refuse('401 Unauthorized')
        welcome({ person, request })
      }, failed)
    })
  }

  /** Ends the feeds of a sign-in that has just ended here. */
  signedOut(sessionId: string): void {
    for (const { socket, by } of this.screens) if (by?.request.sessionID === sessionId) endFeed(socket)
  }

  close(): void {
    this.stopLooking()
    this.peers.close()
    for (const { socket } of this.screens) socket.close(1001, 'the server is stopping')
  }

  private join(screen: Screen): void {
    const { socket } = screen
    const { links, takes, images } = this.doors
    this.screens.add(screen)
    socket.on('close', () => this.screens.delete(screen))
    socket.on('error', () => socket.terminate())
    socket.on('message', (bytes: Buffer, binary: boolean) => {
      const asked = binary ? null : parseRequest(bytes)
      if (asked === null) return socket.close(1008, 'not understood')
      if ('keep' in asked)
        return screen.by === null ? undefined : takes.keep(asked.keep.job, screen.by.person, { press: asked.keep.press, screen })
      if ('ping' in asked) {
        const link = screen.bench === null ? null : links.linkOf(screen.bench)
        void link?.measure()
        return send(screen, { tell: 'pong', ping: asked.ping, boardMs: link?.roundTripMs ?? null })
      }
      const { watch } = asked
      screen.job = watch.job ?? null
      screen.bench = watch.bench ?? null
      if (screen.bench !== null) {
        const link = links.linkOf(screen.bench)
        const fromPeer = link === null && screen.by !== null ? this.peers.lastOf(screen.bench) : []
        if (!fromPeer.some((t) => t.tell === 'link')) send(screen, linkTellOf(screen.bench, link))
        for (const tell of fromPeer) if (!('job' in tell) || tell.job === screen.job) send(screen, tell)
        if (link === null) void this.peers.look()
      }
      const take = screen.job === null ? null : takes.tellOf(screen.job)
      if (take !== null) send(screen, take)
      const image = screen.job === null ? null : images.tellOf(screen.job)
      if (image !== null) send(screen, image)
    })
  }

  private follow(bench: string, link: BenchLink): void {
    let waiting: Buffer | null = null
    let motors: string | undefined
    link.on('phase', () => {
      waiting = null
      // Whoever looks at the whole shop sees danger on any bench.
      if (motors !== link.state?.motors) this.tell({ tell: 'changed', job: null }, (screen) => screen.bench === null)
      motors = link.state?.motors
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

  /** Somebody was changed: what they may not do any more ends here and now. */
  private async lookAgainAt(id: string): Promise<void> {
    const now = await this.doors.people.find(id)
    if (now === null || now.role === 'reader') this.doors.takes.stopOf(id)
    // A screen whose person may still look comes back by itself, as who they are now.
    for (const { socket, by } of this.screens) if (by?.person.id === id) endFeed(socket)
  }

  /** Ends the feed of whoever has signed out elsewhere, or whose sign-in has expired. */
  private async endSignedOut(): Promise<void> {
    for (const { socket, by } of this.screens)
      by?.request.sessionStore.get(by.request.sessionID, (error, session) => {
        if (error !== null && error !== undefined) return this.doors.log.warn({ err: error }, 'sign-in not looked up')
        if (session?.person === undefined) endFeed(socket)
      })
  }
}

const endFeed = (socket: WebSocket): void => socket.close(4401, 'signed out')

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
