import { createServer, connect, type Server, type Socket, type AddressInfo } from 'node:net'
import type { LinkTell } from '@taraf/contract'
import { WebSocket } from 'ws'
import { peerHeader } from '../live/peers'
import { peerToken } from './peerToken'
import { eventually, makeWorld, signIn, type World } from '../../tests/world'

jest.setTimeout(90_000)
let world: World
/** Stands between a server and its database, and can be cut. */
let proxy: Server
const through = new Set<Socket>()
let isCut = false
const cut = (now: boolean) => {
  isCut = now
  if (now) for (const socket of through) socket.destroy()
}
let proxied = ''

beforeAll(async () => {
  world = await makeWorld({ inRealTime: true })
  const database = new URL(world.serverUrl)
  proxy = createServer((socket) => {
    if (isCut) return void socket.destroy()
    const there = connect(Number(database.port), database.hostname)
    for (const one of [socket, there]) {
      through.add(one)
      one.on('error', () => {})
      one.on('close', () => through.delete(one))
    }
    socket.pipe(there).pipe(socket)
  })
  await new Promise<void>((resolve) => proxy.listen(0, '127.0.0.1', resolve))
  const own = new URL(world.serverUrl)
  own.port = String((proxy.address() as AddressInfo).port)
  own.hostname = '127.0.0.1'
  proxied = own.href
})
afterAll(async () => {
  cut(true)
  proxy.close()
  await world.end()
})

/** What a server tells of its own link of a bench, as it tells another server: every phase, with when it came. */
const watching = async (port: number, bench: string) => {
  const token = peerToken('a secret of the tests only', new Date())
  const socket = new WebSocket(`ws://127.0.0.1:${port}/live`, { headers: { [peerHeader]: token } })
  const phases: { phase: string; atMs: number }[] = []
  socket.on('message', (data: Buffer, binary: boolean) => {
    if (binary) return
    const told = JSON.parse(data.toString('utf8')) as LinkTell
    if (told.tell === 'link') phases.push({ phase: told.phase, atMs: Date.now() })
  })
  await new Promise((resolve, reject) => socket.on('open', resolve).on('error', reject))
  socket.send(JSON.stringify({ watch: { bench } }))
  return { socket, phases, now: () => phases.at(-1)?.phase }
}
const lease = async (bench: string) =>
  (
    await world.db.select<{ no: number; server: string }>(
      'SELECT lease_no::int AS no, server_id AS server FROM benches WHERE id = $bench',
      { bench },
    )
  )[0]

test('a server that is cut off from the database lets go of its link before another takes it, and does not come back to it', async () => {
  const bench = world.benches.sound
  const other = await world.another(undefined, { TARAF_DATABASE_URL: proxied })
  const ines = await other.signIn('ines')
  await ines.begin('T-001', bench)
  const [first, second] = [await watching(other.port, bench), await watching(world.port, bench)]
  await eventually(() => first.now() === 'up')
  const before = await lease(bench)
  cut(true)
  await eventually(() => second.now() === 'up', 20_000)
  const upAt = second.phases.find((p) => p.phase === 'up')?.atMs ?? 0
  const goneAt = first.phases.find((p, i) => p.phase === 'none' && i > 0)?.atMs ?? Infinity
  // By its own clock it was gone before the lease was anybody else's: the two were never up together.
  expect(goneAt).toBeLessThan(upAt)
  const after = await lease(bench)
  expect(after?.no).toBe((before?.no ?? 0) + 1)
  expect(after?.server).not.toBe(before?.server)
  cut(false)
  await new Promise((resolve) => setTimeout(resolve, 3_000))
  expect([first.now(), second.now(), await lease(bench)]).toEqual(['none', 'up', after])
  for (const feed of [first, second]) feed.socket.terminate()
  // It would take leases in the next test too.
  await other.stop()
})

test('a server that was stopped for longer than its lease finds the board with the newer link, and is refused', async () => {
  const bench = world.benches.faulty
  const { child, port } = await world.fork()
  try {
    const joren = await signIn(port, 'joren')
    await joren.begin('T-002', bench)
    const [first, second] = [await watching(port, bench), await watching(world.port, bench)]
    await eventually(() => first.now() === 'up')
    const before = await lease(bench)
    child.kill('SIGSTOP')
    await eventually(() => second.now() === 'up', 20_000)
    const { phases } = second
    const since = phases.length
    child.kill('SIGCONT')
    await eventually(() => first.now() === 'none', 10_000)
    await new Promise((resolve) => setTimeout(resolve, 2_000))
    // The newer link was not disturbed for a moment, and the older one stays away.
    expect(phases.slice(since).filter((p) => p.phase !== 'up')).toEqual([])
    expect(first.now()).toBe('none')
    expect((await lease(bench))?.no).toBe((before?.no ?? 0) + 1)
    // Holding again at the server that has no link does not take it from the one that has.
    const view = await joren.job((await joren.get<{ jobs: { id: string }[] }>('/airframes/T-002')).body.jobs[0]?.id ?? '')
    expect((await joren.post(`/benches/${bench}/hold`, { job: view.id })).status).toBe(200)
    expect((await lease(bench))?.no).toBe((before?.no ?? 0) + 1)
    for (const feed of [first, second]) feed.socket.terminate()
  } finally {
    child.kill('SIGKILL')
  }
})
