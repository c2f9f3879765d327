import { fork, type ChildProcess } from 'node:child_process'
import { createServer, connect, type Server, type Socket, type AddressInfo } from 'node:net'
import { fileURLToPath, pathToFileURL } from 'node:url'
import type { LinkTell } from '@taraf/contract'
import { eventually, makeWorld, signIn, type Client, type World } from '../../tests/world'

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
  world = await makeWorld()
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

/** What a server tells of the link of a bench: every phase, with when it came. */
const watching = async (client: Client, bench: string) => {
  const feed = await client.live({ bench })
  const phases: { phase: string; atMs: number }[] = []
  feed.socket.on('message', (data: Buffer, binary: boolean) => {
    if (binary) return
    const told = JSON.parse(data.toString('utf8')) as LinkTell
    if (told.tell === 'link') phases.push({ phase: told.phase, atMs: Date.now() })
  })
  return { ...feed, phases, now: () => phases.at(-1)?.phase }
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
  const [first, second] = [await watching(ines, bench), await watching(await world.signIn('maud'), bench)]
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
})

test('a server that was stopped for longer than its lease finds the board with the newer link, and is refused', async () => {
  const bench = world.benches.faulty
  const main = fileURLToPath(new URL('../main.ts', pathToFileURL(__filename)))
  const child: ChildProcess = fork(main, {
    execArgv: ['--import', 'tsx'],
    env: {
      ...process.env,
      TARAF_DATABASE_URL: world.serverUrl,
      TARAF_SESSION_SECRET: 'a secret of the tests only',
      TARAF_RIG_URL: world.rigUrl,
      TARAF_HANDS: '1',
    },
    stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
  })
  try {
    const port = await new Promise<number>((resolve) =>
      child.on('message', (told: { ready?: number }) => told.ready !== undefined && resolve(told.ready)),
    )
    const joren = await signIn(port, 'joren')
    await joren.begin('T-002', bench)
    const [first, second] = [await watching(joren, bench), await watching(await world.signIn('maud'), bench)]
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
