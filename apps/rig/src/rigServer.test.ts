import { createHash } from 'node:crypto'
import { connect as connectTo, type AddressInfo } from 'node:net'
import { benchLinkMaxBytes } from '@taraf/contract'
import { decode, encode } from '@taraf/contract/wire'
import { demoShop, rigOf } from '@taraf/demo'
import { identityBlock } from '@taraf/rig'
import fc from 'fast-check'
import { WebSocket } from 'ws'
import { rigServer } from './rigServer'

const { server, stop } = rigServer(new Map([['north', rigOf({ type: 'N4', board: 'FB-7', seed: 1 }, demoShop(new Date()))]]))
let port = 0
beforeAll(async () => {
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  port = (server.address() as AddressInfo).port
})
afterAll(() => stop())

interface Peer {
  socket: WebSocket
  messages: Record<string, unknown>[]
  send(message: unknown): void
  until<T>(found: () => T | undefined): Promise<T>
  closed: Promise<number>
}
const connect = async (at = port): Promise<Peer> => {
  const socket = new WebSocket(`ws://127.0.0.1:${at}/bench/north`)
  const messages: Record<string, unknown>[] = []
  socket.on('message', (bytes: Buffer) => messages.push(decode(bytes) as Record<string, unknown>))
  const closed = new Promise<number>((resolve) => socket.on('close', resolve))
  await new Promise((resolve, reject) => socket.on('open', resolve).on('error', reject))
  return {
    socket,
    messages,
    closed,
    send: (message) => socket.send(encode(message)),
    async until(found) {
      for (let i = 0; i < 400; i++) {
        const value = found()
        if (value !== undefined) return value
        await new Promise((resolve) => setTimeout(resolve, 10))
      }
      throw new Error(`not seen among ${messages.length} messages`)
    },
  }
}
const answerTo = (peer: Peer, id: number) => peer.until(() => peer.messages.find((m) => m.id === id))

describe('its door', () => {
  test('a path that is none, and a connection that is reset as it asks, end nothing', async () => {
    for (const path of ['/%', '/hands/%zz', '/bench/%c0%af'])
      expect((await fetch(`http://127.0.0.1:${port}${path}`)).status).toBe(404)
    for (const path of ['/%', '/bench/%zz', '/bench/north'])
      await new Promise<void>((resolve) => {
        const socket = connectTo(port, '127.0.0.1', () => {
          socket.write(`GET ${path} HTTP/1.1\r\nhost: x\r\nconnection: upgrade\r\nupgrade: websocket\r\n\r\n`)
          setTimeout(() => (socket.resetAndDestroy(), resolve()), 30)
        })
        socket.on('error', () => {})
      })
    expect((await fetch(`http://127.0.0.1:${port}/hands/north`)).status).toBe(200)
  })
})

describe('Bench Link', () => {
  test('greets, says who it is and streams 200 samples a second without a gap', async () => {
    const peer = await connect()
    peer.send({ id: 1, ask: 'hello', version: 1 })
    peer.send({ id: 2, ask: 'identity' })
    peer.send({ id: 3, ask: 'sense', stage: 'calibrated', rateHz: 200, rows: 2 })
    expect(await answerTo(peer, 1)).toMatchObject({ answer: { version: 1, state: { motors: 'still', power: 'cable' } } })
    expect(await answerTo(peer, 2)).toMatchObject({ answer: { board: 'FB-7' } })
    const blocks = () =>
      peer.messages.filter((m) => m.tell === 'sense') as unknown as { seq: number; stage: string; t: Float64Array }[]
    await peer.until(() => (blocks().length >= 100 ? true : undefined))
    const first = blocks().slice(0, 100)
    expect(first.map((b) => b.seq)).toEqual(first.map((_, i) => i))
    expect(first.every((b) => b.stage === 'calibrated' && b.t.length === 2)).toBe(true)
    const times = first.flatMap((b) => [...b.t])
    times.slice(1).forEach((t, i) => expect(t - (times[i] ?? NaN)).toBeCloseTo(0.005, 9))
    peer.socket.close()
  })

  test('a version that it does not speak, an unknown setting and a bad range are refused by name', async () => {
    const peer = await connect()
    peer.send({ id: 1, ask: 'hello', version: 9 })
    peer.send({ id: 2, ask: 'settings.write', values: { 'gyro.smell': 1 } })
    peer.send({ id: 3, ask: 'settings.write', values: { 'level.roll': 99 } })
    expect(await answerTo(peer, 1)).toMatchObject({ refusal: { type: 'version' } })
    expect(await answerTo(peer, 2)).toMatchObject({
      refusal: { type: 'out-of-range', detail: expect.stringContaining('unknown') as string },
    })
    expect(await answerTo(peer, 3)).toMatchObject({
      refusal: { detail: expect.stringContaining('nothing was written') as string },
    })
    peer.socket.close()
  })

  test('a restart drops the link for a second, then it answers again with the saved settings', async () => {
    const peer = await connect()
    peer.send({ id: 1, ask: 'settings.write', values: { 'level.roll': 2 } })
    peer.send({ id: 2, ask: 'settings.save' })
    peer.send({ id: 3, ask: 'settings.write', values: { 'level.pitch': 3 } })
    peer.send({ id: 4, ask: 'restart' })
    expect(await answerTo(peer, 4)).toMatchObject({ answer: { backInMs: expect.any(Number) as number } })
    expect(await peer.closed).toBe(1012)
    await expect(connect()).rejects.toThrow()
    await new Promise((resolve) => setTimeout(resolve, 1300))
    const again = await connect()
    again.send({ id: 5, ask: 'settings.list' })
    const { answer } = (await answerTo(again, 5)) as unknown as { answer: { settings: { name: string; value: number }[] } }
    const valueOf = (name: string) => answer.settings.find((s) => s.name === name)?.value
    expect([valueOf('level.roll'), valueOf('level.pitch')]).toEqual([2, 0])
    again.socket.close()
  })

  test('the newest link takes over from the one before', async () => {
    const old = await connect()
    old.send({ id: 1, ask: 'identity' })
    await answerTo(old, 1)
    const fresh = await connect()
    fresh.send({ id: 1, ask: 'identity' })
    await answerTo(fresh, 1)
    expect(await old.closed).toBe(4001)
    fresh.socket.close()
  })

  test('whatever bytes come, it refuses or closes and goes on serving', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.oneof(fc.uint8Array({ maxLength: 60 }), fc.object().map(encode)), { maxLength: 30 }),
        async (frames) => {
          const peer = await connect()
          for (const frame of frames) if (peer.socket.readyState === WebSocket.OPEN) peer.socket.send(frame)
          if (peer.socket.readyState === WebSocket.OPEN) peer.send({ id: 77, ask: 'identity' })
          const seen = await Promise.race([
            answerTo(peer, 77).then((m) => 'answer' in m),
            peer.closed.then((code) => code === 1008),
          ])
          expect(seen).toBe(true)
          peer.socket.close()
          await peer.closed
        },
      ),
      { numRuns: 25 },
    )
  })

  test('a burst is answered when it ends, 4000 rows a second, and a second one meanwhile is refused', async () => {
    const peer = await connect()
    peer.send({ id: 1, ask: 'burst', seconds: 0.2 })
    peer.send({ id: 2, ask: 'burst', seconds: 0.2 })
    expect(await answerTo(peer, 2)).toMatchObject({ refusal: { type: 'busy' } })
    const { answer } = (await answerTo(peer, 1)) as unknown as { answer: { rateHz: number; values: Float32Array } }
    expect([answer.rateHz, answer.values.length]).toEqual([4000, 6 * 800])
    expect(answer.values[2 * 800 + 400]).toBeLessThan(-9)
    peer.socket.close()
  })

  test('an image cut off with the link is found in the loader, read back, gone on with, and runs', async () => {
    const image = Uint8Array.from({ length: 3000 }, (_, i) => i & 0xff)
    const first = await connect()
    first.send({ id: 1, ask: 'image.map' })
    const { answer } = (await answerTo(first, 1)) as unknown as { answer: Record<'start' | 'identityAt' | 'blockBytes', number> }
    const { start, identityAt, blockBytes } = answer
    first.send({ id: 2, ask: 'identity' })
    const target = String(((await answerTo(first, 2)) as { answer?: { target: string } }).answer?.target)
    image.set(identityBlock(target, { name: 'shoreline', version: '3.2.9', features: ['compass'] }), identityAt - start)
    first.send({ id: 9, ask: 'image.begin' })
    expect(await answerTo(first, 9)).toHaveProperty('answer')
    first.send({ id: 3, ask: 'image.write', address: start, data: image.subarray(0, blockBytes) })
    expect(await answerTo(first, 3)).toHaveProperty('answer')
    first.socket.close()
    await first.closed

    const peer = await connect()
    const ask = async (id: number, body: object) => {
      peer.send({ id, ...body })
      return answerTo(peer, id)
    }
    expect(await ask(1, { ask: 'identity' })).toMatchObject({ answer: { loader: true, firmware: null } })
    expect(await ask(2, { ask: 'settings.list' })).toMatchObject({ refusal: { type: 'loader' } })
    expect(await ask(30, { ask: 'image.map' })).toMatchObject({ answer: { written: blockBytes } })
    const read = (await ask(3, { ask: 'image.read', address: start, length: blockBytes })) as { answer?: { data: Uint8Array } }
    expect(Buffer.from(read.answer?.data ?? []).equals(Buffer.from(image.subarray(0, blockBytes)))).toBe(true)
    const sha256 = createHash('sha256').update(image).digest('hex')
    expect(await ask(4, { ask: 'image.end', sha256 })).toMatchObject({ refusal: { type: 'hash' } })
    for (let at = blockBytes, id = 5; at < image.length; at += blockBytes, id++)
      expect(
        await ask(id, { ask: 'image.write', address: start + at, data: image.subarray(at, at + blockBytes) }),
      ).toHaveProperty('answer')
    expect(await ask(20, { ask: 'image.end', sha256 })).toMatchObject({ answer: { firmware: { version: '3.2.9' } } })
    expect(await ask(21, { ask: 'identity' })).toMatchObject({ answer: { loader: false, firmware: { version: '3.2.9' } } })
    peer.socket.close()
  })

  test('a flood of asks is closed, and the next link is served', async () => {
    const peer = await connect()
    const frame = encode({ id: 1, ask: 'state' })
    for (let i = 0; i < 9_000; i++) if (peer.socket.readyState === WebSocket.OPEN) peer.socket.send(frame)
    // Or dropped, where this process was too busy to read what it was answered meanwhile.
    expect([1008, 1006]).toContain(await peer.closed)
    const again = await connect()
    again.send({ id: 1, ask: 'identity' })
    expect(await answerTo(again, 1)).toHaveProperty('answer')
    again.socket.close()
  })

  test('a peer that stops reading is dropped, and memory does not grow with it', async () => {
    const peer = await connect()
    peer.socket.pause()
    const before = process.memoryUsage().rss
    for (let i = 0; i < 3_000; i++) peer.send({ id: i, ask: 'settings.list' })
    await new Promise((resolve) => setTimeout(resolve, 1_500))
    expect(process.memoryUsage().rss - before).toBeLessThan(150e6)
    peer.socket.resume()
    expect(await peer.closed).not.toBe(1000)
  })

  test('a frame over the limit and text frames do no harm', async () => {
    const peer = await connect()
    peer.socket.send('hello')
    await peer.until(() => peer.messages.find((m) => 'refusal' in m))
    peer.socket.send(new Uint8Array(benchLinkMaxBytes + 1))
    expect(await peer.closed).toBe(1009)
    const again = await connect()
    again.send({ id: 1, ask: 'identity' })
    expect(await answerTo(again, 1)).toHaveProperty('answer')
    again.socket.close()
  })
})

describe('leases', () => {
  const fenced = rigServer(new Map([['north', rigOf({ type: 'N4', board: 'FB-8', seed: 1 }, demoShop(new Date()))]]))
  let at = 0
  beforeAll(async () => {
    await new Promise<void>((resolve) => fenced.server.listen(0, '127.0.0.1', resolve))
    at = (fenced.server.address() as AddressInfo).port
  })
  afterAll(() => fenced.stop())

  test('a board goes with the newest lease, over its restarts too; an older one moves nothing, and its motors stop', async () => {
    const first = await connect(at)
    first.send({ id: 1, ask: 'hello', version: 1, lease: 7 })
    await answerTo(first, 1)
    const second = await connect(at)
    second.send({ id: 1, ask: 'hello', version: 1, lease: 8 })
    await answerTo(second, 1)
    expect(await first.closed).toBe(4001)
    second.send({ id: 2, ask: 'restart' })
    expect(await second.closed).toBe(1012)
    await new Promise((resolve) => setTimeout(resolve, 1_400))
    const late = await connect(at)
    late.send({ id: 1, ask: 'hello', version: 1, lease: 7 })
    expect(await answerTo(late, 1)).toMatchObject({ refusal: { type: 'superseded' } })
    expect(await late.closed).toBe(4001)
    const back = await connect(at)
    back.send({ id: 1, ask: 'hello', version: 1, lease: 8 })
    expect(await answerTo(back, 1)).toHaveProperty('answer')
    back.socket.close()
  })
})

describe('the hands', () => {
  const hands = (body?: string) =>
    fetch(`http://127.0.0.1:${port}/hands/north`, body === undefined ? {} : { method: 'POST', body })
  test('do what they are told and say how it lies', async () => {
    const reply = await hands(JSON.stringify({ act: 'lay', way: 'reversed' }))
    expect(await reply.json()).toMatchObject({ way: 'reversed', moving: true })
  })
  test('say with 409 why something cannot be done now, and change nothing', async () => {
    const plug = (source: string) => hands(JSON.stringify({ act: 'battery', source }))
    await plug('pack')
    const reply = await hands(JSON.stringify({ act: 'replace', part: 'receiver' }))
    expect(reply.status).toBe(409)
    expect(await reply.json()).toMatchObject({ error: expect.stringContaining('battery') as string })
    await plug('none')
  })
  test('pull the cable: the link closes, none is taken, and with the cable the board is there again', async () => {
    const cable = (plugged: boolean) => hands(JSON.stringify({ act: 'cable', in: plugged }))
    await new Promise((resolve) => setTimeout(resolve, 1300))
    const peer = await connect()
    await cable(false)
    expect(await peer.closed).toBe(1001)
    await expect(connect()).rejects.toThrow()
    await cable(true)
    const again = await connect()
    again.send({ id: 1, ask: 'identity' })
    expect(await answerTo(again, 1)).toHaveProperty('answer')
    again.socket.close()
  })
  test('refuse a browser, whatever page it acts for; so does the board', async () => {
    const act = { method: 'POST', body: JSON.stringify({ act: 'lay', way: 'forward' }) }
    for (const headers of [
      { origin: 'http://evil.example' },
      { origin: `http://127.0.0.1:${port}` },
      { 'sec-fetch-site': 'cross-site' },
    ])
      expect(
        (await fetch(`http://127.0.0.1:${port}/hands/north`, { ...act, headers: new Headers(Object.entries(headers)) })).status,
      ).toBe(403)
    const socket = new WebSocket(`ws://127.0.0.1:${port}/bench/north`, { origin: 'http://evil.example' })
    await expect(new Promise((resolve, reject) => socket.on('open', resolve).on('error', reject))).rejects.toThrow('403')
  })
  test('refuse what is no act', async () => {
    expect((await hands('{"act":"fly"}')).status).toBe(400)
    expect((await hands('{')).status).toBe(400)
    expect((await fetch(`http://127.0.0.1:${port}/hands/attic`)).status).toBe(404)
  })
})
