import { decodeSequence } from '@taraf/contract/wire'
import type { SenseTell } from '@taraf/contract'
import { connect } from 'node:net'
import { WebSocket } from 'ws'
import { eventually, makeWorld, type Client, type World } from '../../tests/world'

jest.setTimeout(60_000)
let world: World
let ines: Client
let job: string
beforeAll(async () => {
  world = await makeWorld({ inRealTime: true })
  ines = await world.signIn('ines')
  job = await ines.begin('T-001', world.benches.sound)
})
afterAll(() => world.end())

describe('the live feed', () => {
  test('brings every sample of the watched bench, in order, and none of another', async () => {
    const feed = await ines.live({ job, bench: world.benches.sound })
    await eventually(() => feed.frames.length > 60)
    const blocks = feed.frames.flatMap((frame) => decodeSequence(frame) as SenseTell[])
    expect(blocks.map((b) => b.seq)).toEqual(blocks.map((_, i) => (blocks[0]?.seq ?? 0) + i))
    expect(feed.told[0]).toMatchObject({ tell: 'link', phase: 'up', board: 'TB-1', lostBlocks: 0 })
    feed.socket.send(JSON.stringify({ watch: { bench: world.benches.faulty } }))
    await new Promise((resolve) => setTimeout(resolve, 200))
    const before = feed.frames.length
    await new Promise((resolve) => setTimeout(resolve, 300))
    expect(feed.frames.length).toBe(before)
    feed.socket.close()
  })

  test('a screen that does not read gets fewer frames, never a growing queue', async () => {
    const feed = await ines.live({ bench: world.benches.sound })
    const raw = (feed.socket as unknown as { _socket: { pause(): void; resume(): void } })._socket
    raw.pause()
    await new Promise((resolve) => setTimeout(resolve, 2_000))
    raw.resume()
    await eventually(() => feed.frames.length > 10)
    feed.socket.close()
  })

  test('a screen that is reset as it comes ends nothing', async () => {
    for (let i = 0; i < 40; i++)
      await new Promise<void>((resolve) => {
        const socket = connect(world.port, '127.0.0.1', () => {
          const key = 'x3JJHMbDL1EzLkh9GBhXDw=='
          socket.write(
            `GET /live HTTP/1.1\r\nhost: x\r\ncookie: ${ines.cookie}\r\nconnection: upgrade\r\nupgrade: websocket\r\nsec-websocket-version: 13\r\nsec-websocket-key: ${key}\r\n\r\n`,
          )
          setTimeout(() => (socket.resetAndDestroy(), resolve()), i % 8)
        })
        socket.on('error', () => {})
      })
    expect((await ines.get('/health')).status).toBe(200)
  })

  test('it is refused without a sign-in and from another site, and ended on what it does not understand', async () => {
    await expect(world.visitor().live({})).rejects.toThrow('401')
    const elsewhere = new WebSocket(`ws://127.0.0.1:${world.port}/live`, {
      headers: { cookie: ines.cookie, origin: 'http://elsewhere.example' },
    })
    await expect(new Promise((_, reject) => elsewhere.on('error', reject))).rejects.toThrow('403')
    const feed = await ines.live({})
    feed.socket.send('{"watch":{"job":"everything"}}')
    expect(await feed.closed).toBe(1008)
  })

  test('who signs out is no longer told', async () => {
    const joren = await world.signIn('joren')
    const feed = await joren.live({ job })
    await joren.remove('/session')
    expect(await feed.closed).toBe(4401)
  })
})
