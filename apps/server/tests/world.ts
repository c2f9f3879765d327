import { fork } from 'node:child_process'
import { randomUUID } from 'node:crypto'
import { mkdtempSync, rmSync } from 'node:fs'
import type { AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import type { JobView, LiveTell, Problem, Sheet } from '@taraf/contract'
import { checks } from '@taraf/core'
import { demoShop, rigOf, sheetOf, type RigOrder } from '@taraf/demo'
import type { Rig } from '@taraf/rig'
import { rigServer } from '@taraf/rig-process'
import { pino, type Logger } from 'pino'
import { Sequelize } from 'sequelize'
import { WebSocket } from 'ws'
import { buildServer } from '../src/app'
import { configFrom } from '../src/config'
import { openDatabase } from '../src/database/database'
import { migrate } from '../src/database/migrations'
import { addAirframes } from '../src/airframes/register'
import { addPerson } from '../src/people/people'
import { auditRecord } from '../src/record/audit/audit'
import { openKeys, wantKey } from '../src/record/keys'
import { shopOf } from '../src/record/shop'
import { addSheet } from '../src/sheets/sheets'
import { machinePorts } from '../src/ports'
import { hashPassword, verifyPassword } from '../src/work/passwordWork'
import { beginTime, clock, eventually, every, lasts, nowMs, pause, wire, workHere } from './time'

export { clock, eventually, every, lasts, nowMs, pause } from './time'

const urls = JSON.parse(process.env.TARAF_TEST_URLS ?? '{}') as { superuser: string; owner: string; server: string }
const silent = pino({ level: 'silent' })

const deg = Math.PI / 180
/** The keys that the records of the tests are sealed with. */
const keysFolder = mkdtempSync(join(tmpdir(), 'taraf-keys-'))
afterAll(() => rmSync(keysFolder, { recursive: true, force: true }))
/** In the test's own thread: a world is made before its server is. */
const plainPasswords = {
  hash: async (password: string) => hashPassword(password),
  verify: async (hash: string, password: string) => verifyPassword({ hash, password }),
}

export const passwords = { ines: 'saltmarsh', joren: 'dunegrass', maud: 'springtide', piet: 'oystercatcher' } as const
type Login = keyof typeof passwords

const faults: Readonly<Record<'sound' | 'faulty', NonNullable<RigOrder['spoil']>>> = {
  sound: () => {},
  faulty: ({ imu, board }) => {
    imu.gyroBias = [1.5 * deg, 0, 0]
    board.seating = { roll: 2 * deg, pitch: -1 * deg, yaw: 0 }
    Object.assign(board, { screws: 'loose', looseShake: [0, 0, 0.9 * deg] })
  },
}

const checksOf = (...names: string[]) => checks.flatMap(({ id, station }) => (names.includes(station) ? [id] : []))
/** Sticks and switches have tests of their own. */
const checksOnAir = checksOf('radio', 'switches')
/** So have ESCs and motors, with a battery in. */
const checksOfDrives = checksOf('escs', 'motors', 'arming', 'failsafe', 'hover')

/** The checks that need to know how the board lies. */
export const ofOrientation = ['orientation.board', 'orientation.follow', 'orientation.level']

/** What a world is like. */
interface WorldOrder {
  readonly leavesOut?: readonly string[]
  readonly type?: string
  /** What a board is asked is judged too. */
  readonly withBoard?: boolean
  /** Sticks and switches are judged too. */
  readonly onAir?: boolean
  /** Those checks of ESCs, motors, arming, failsafe and hover that are judged all the same. */
  readonly keeps?: readonly string[]
  readonly limits?: Sheet['limits']
  /** By the machine's clock, with the server's own processes. */
  readonly inRealTime?: boolean
}

/** Its own database with people, two airframes on two simulated benches, a rig, and a server that serves them. */
export const makeWorld = async ({
  leavesOut = ['orientation.board', 'orientation.follow'],
  type = 'N4',
  withBoard = false,
  onAir = false,
  keeps = [],
  limits = {},
  inRealTime = false,
}: WorldOrder = {}) => {
  if (inRealTime && !/\.realtime\.test\.ts$/.test(expect.getState().testPath ?? ''))
    throw new Error('a file whose world uses the machine’s clock is named *.realtime.test.ts')
  beginTime(inRealTime)
  const name = `t_${randomUUID().slice(0, 8)}`
  const superuser = new Sequelize(urls.superuser, { dialect: 'postgres', logging: false })
  await superuser.query(`CREATE DATABASE ${name} OWNER taraf_owner`)
  await superuser.close()
  const at = (url: string) => url.replace(/\/[^/]*$/, `/${name}`)
  const db = openDatabase(at(urls.owner))
  await migrate(db.sequelize)
  wantKey(keysFolder, new Date())
  const shop = shopOf(db, openKeys(keysFolder), clock())

  const ids = {} as Record<Login, string>
  for (const [login, role] of [
    ['ines', 'technician'],
    ['joren', 'technician'],
    ['maud', 'lead'],
    ['piet', 'reader'],
  ] as const)
    ids[login] = await db.within((transaction) =>
      addPerson(db, shop, plainPasswords, transaction, {
        login,
        name: login.charAt(0).toUpperCase() + login.slice(1),
        role,
        password: passwords[login],
      }),
    )
  // Station by station: what a board is asked has its own test.
  const { board, ...described } = sheetOf(type)
  const sheet: Sheet = {
    ...described,
    ...(withBoard ? { board } : {}),
    limits: { ...described.limits, ...limits },
    leavesOut: Object.fromEntries(
      [...leavesOut, ...checksOfDrives.filter((id) => !keeps.includes(id)), ...(onAir ? [] : checksOnAir)].map((id) => [
        id,
        'no part of this test',
      ]),
    ),
  } as Sheet
  const sheetId = await db.within((transaction) => addSheet(db, shop, transaction, sheet, null))
  const benches = {} as Record<keyof typeof faults, string>
  for (const [i, key] of (['sound', 'faulty'] as const).entries()) {
    const airframe = { tag: `T-00${i + 1}`, sheetId, board: `TB-${i + 1}`, parts: [] }
    await db.within((transaction) => addAirframes(db, shop, transaction, null, [airframe]))
    benches[key] = randomUUID()
    await db.benches.create({
      id: benches[key],
      name: `${key} bench`,
      address: `rig:${key}`,
      heldBy: null,
      heldJob: null,
      heldSince: null,
      serverId: null,
      leaseUntil: null,
    })
  }

  const rigs = {} as Record<keyof typeof faults, Rig>
  for (const [i, key] of (['sound', 'faulty'] as const).entries())
    rigs[key] = rigOf({ type: sheet.type, board: `TB-${i + 1}`, seed: 40 + i, spoil: faults[key] }, demoShop(new Date()))
  const boards = new Map(Object.entries(rigs))
  const rig = inRealTime ? rigServer(boards) : rigServer(boards, { nowMs, every, tickMs: 20 })
  await new Promise<void>((resolve) => rig.server.listen(0, '127.0.0.1', resolve))
  const rigPort = (rig.server.address() as AddressInfo).port

  const serve = async (change: Record<string, string> = {}, log = silent) => {
    const config = configFrom({
      TARAF_DATABASE_URL: at(urls.server),
      TARAF_SESSION_SECRET: 'a secret of the tests only',
      TARAF_KEYS: keysFolder,
      TARAF_RIG_URL: `ws://127.0.0.1:${rigPort}`,
      TARAF_HANDS: '1',
      ...change,
    })
    const built = inRealTime
      ? buildServer(config, log)
      : buildServer(config, log, { ...machinePorts, clock: clock(), wire, work: workHere })
    await new Promise<void>((resolve) => built.server.listen(0, '127.0.0.1', resolve))
    await lasts(built.start())
    const { port } = built.server.address() as AddressInfo
    return { ...built, port, signIn: (login: Login) => signIn(port, login), visitor: () => new Client(port) }
  }
  const servers = [await serve()]
  const first = servers[0] as Awaited<ReturnType<typeof serve>>
  return {
    db,
    ids,
    benches,
    keysFolder,
    /** What an audit finds of this world's record. */
    audit: async () => (await auditRecord(db, openKeys(keysFolder))).differences,
    rig,
    rigs,
    rigUrl: `ws://127.0.0.1:${rigPort}`,
    serverUrl: at(urls.server),
    ownerUrl: at(urls.owner),
    superuserUrl: at(urls.superuser),
    ...first,
    /** A second server on the same database. */
    another: async (log?: Logger, change: Record<string, string> = {}) => {
      const more = await serve(change, log)
      servers.push(more)
      return more
    },
    /** A server in its own process, which can be killed. */
    fork: async () => {
      const child = fork(fileURLToPath(new URL('../src/main.ts', import.meta.url)), {
        execArgv: ['--import', 'tsx'],
        env: {
          ...process.env,
          TARAF_DATABASE_URL: at(urls.server),
          TARAF_SESSION_SECRET: 'a secret of the tests only',
          TARAF_KEYS: keysFolder,
          TARAF_RIG_URL: `ws://127.0.0.1:${rigPort}`,
          TARAF_HANDS: '1',
        },
        stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
      })
      const port = await new Promise<number>((resolve, reject) => {
        child.on('message', (told: { ready?: number }) => told.ready !== undefined && resolve(told.ready))
        child.once('exit', (code) => reject(new Error(`the server ended with ${code}`)))
      })
      return { child, port }
    },
    end: async () => {
      for (const server of servers) await lasts(server.stop())
      rig.stop()
      await db.close()
    },
  }
}
export type World = Awaited<ReturnType<typeof makeWorld>>

export interface Reply<Body> {
  status: number
  body: Body
  headers: Headers
}

/** A person's browser, as far as the API sees it. */
export class Client {
  cookie = ''
  constructor(readonly port: number) {}

  call<Body = Problem>(method: string, path: string, body?: unknown, headers: Record<string, string> = {}): Promise<Reply<Body>> {
    return lasts(this.ask<Body>(method, path, body, headers))
  }

  private async ask<Body>(method: string, path: string, body: unknown, headers: Record<string, string>): Promise<Reply<Body>> {
    const response = await fetch(`http://127.0.0.1:${this.port}/api${path}`, {
      method,
      headers: {
        cookie: this.cookie,
        // What a thread of the library's own packs takes no time of the clock, which would jump meanwhile.
        'accept-encoding': 'identity',
        ...(method === 'GET' ? {} : { 'content-type': 'application/json', 'idempotency-key': randomUUID() }),
        ...headers,
      },
      ...(method === 'GET'
        ? {}
        : {
            body: typeof body === 'string' ? body : body instanceof Uint8Array ? Buffer.from(body) : JSON.stringify(body ?? {}),
          }),
    })
    const cookie = response.headers.get('set-cookie')
    if (cookie !== null) this.cookie = cookie.split(';')[0] ?? ''
    const text = await response.text()
    return { status: response.status, body: (text === '' ? null : JSON.parse(text)) as Body, headers: response.headers }
  }

  get = <Body = Problem>(path: string) => this.call<Body>('GET', path)
  post = <Body = Problem>(path: string, body?: unknown, headers?: Record<string, string>) =>
    this.call<Body>('POST', path, body, headers)
  /** Sends the bytes of a file. */
  upload = <Body = Problem>(path: string, bytes: Uint8Array) =>
    this.call<Body>('POST', path, bytes, { 'content-type': 'application/octet-stream' })
  remove = <Body = Problem>(path: string) => this.call<Body>('DELETE', path)

  job = async (id: string): Promise<JobView> => (await this.get<JobView>(`/jobs/${id}`)).body

  /** Opens a job card for an airframe and links its bench, ready for a take. */
  async begin(tag: string, bench: string): Promise<string> {
    const { body } = await this.post<{ id: string }>(`/airframes/${tag}/jobs`)
    expect((await this.post(`/benches/${bench}/hold`, { job: body.id })).status).toBe(200)
    await this.untilLinked(body.id)
    return body.id
  }

  /** Waits until the bench of a job card answers: a take's precondition, seen by its refusal. */
  async untilLinked(job: string): Promise<void> {
    await eventually(async () => {
      const { body } = await this.post(`/jobs/${job}/takes/next`)
      const hold = await this.get<JobView>(`/jobs/${job}`)
      return body?.type === '/problems/no-take' && hold.body.bench !== null
    })
    await pause(400)
  }

  /** Takes a check to its end, laying the airframe as it asks. Returns the new entry. */
  async take(job: string, check: string, bench?: string): Promise<JobView['entries'][number]> {
    const takes = async () => (await this.job(job)).entries.filter((e) => e.body.kind === 'take')
    const before = (await takes()).length
    const feed = await this.live({ job })
    const started = await this.post(`/jobs/${job}/takes`, { check })
    if (started.status !== 202) throw new Error(`not started: ${JSON.stringify(started.body)}`)
    if (check === 'orientation.level') {
      await eventually(() => feed.told.some((t) => t.tell === 'take' && t.check === check && t.done.includes('first')))
      await this.post(`/hands/${bench}`, { act: 'lay', way: 'reversed' })
      await pause(1_900)
      await eventually(async () => (await this.post(`/jobs/${job}/takes/next`)).status === 202)
    }
    await eventually(async () => (await takes()).length > before, 20_000)
    if (check === 'orientation.level') {
      await this.post(`/hands/${bench}`, { act: 'lay', way: 'forward' })
      await pause(1_900)
    }
    feed.socket.close()
    return (await takes()).at(-1) as JobView['entries'][number]
  }

  /** The live feed of this person: what is told, and how many frames of samples came. */
  async live(watch: { job?: string; bench?: string }) {
    const socket = new WebSocket(`ws://127.0.0.1:${this.port}/live`, { headers: { cookie: this.cookie } })
    const told: LiveTell[] = []
    const frames: Buffer[] = []
    socket.on('message', (data: Buffer, binary: boolean) =>
      binary ? frames.push(data) : told.push(JSON.parse(data.toString('utf8')) as LiveTell),
    )
    const closed = new Promise<number>((resolve) => socket.on('close', resolve))
    await lasts(new Promise((resolve, reject) => socket.on('open', resolve).on('error', reject)))
    socket.send(JSON.stringify({ watch }))
    return { socket, told, frames, closed }
  }
}

export const signIn = async (port: number, login: Login): Promise<Client> => {
  const client = new Client(port)
  const { status } = await client.post('/session', { login, password: passwords[login] })
  if (status !== 200) throw new Error(`${login} cannot sign in: ${status}`)
  return client
}
