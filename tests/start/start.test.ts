import { execFileSync, spawn, spawnSync, type ChildProcess } from 'node:child_process'
import { cpSync, existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { createServer, type AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'

jest.setTimeout(600_000)
const root = join(__dirname, '..', '..')
const name = 'start-test'
const data = () =>
  JSON.parse(
    execFileSync(
      'node',
      [
        '--input-type=module',
        '-e',
        `import { dataFolder } from './scripts/lib/cluster.mjs'; console.log(JSON.stringify(dataFolder('${name}')))`,
      ],
      { cwd: root, encoding: 'utf8' },
    ),
  ) as string

const freePort = () =>
  new Promise<number>((resolve) => {
    const probe = createServer().listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as AddressInfo
      probe.close(() => resolve(port))
    })
  })

interface Started {
  child: ChildProcess
  output: () => string
  ended: Promise<number | null>
  until: (text: string, ms?: number) => Promise<void>
}
const start = (args: string[], input?: string): Started => {
  const child = spawn('node', ['scripts/start.mjs', '--name', name, '--no-build', ...args], {
    cwd: root,
    stdio: ['pipe', 'pipe', 'pipe'],
  })
  if (input !== undefined) child.stdin?.end(input)
  let output = ''
  child.stdout?.on('data', (part) => (output += String(part)))
  child.stderr?.on('data', (part) => (output += String(part)))
  const ended = new Promise<number | null>((resolve) => child.once('close', (code) => resolve(code)))
  return {
    child,
    output: () => output,
    ended,
    async until(text, ms = 420_000) {
      const end = Date.now() + ms
      while (!output.includes(text)) {
        if (Date.now() > end || child.exitCode !== null) throw new Error(`"${text}" not printed:\n${output}`)
        await new Promise((resolve) => setTimeout(resolve, 50))
      }
    },
  }
}

/** The processes of the instance by part, found by what they run. */
const processes = () => {
  const lines = execFileSync('ps', ['-eo', 'pid,ppid,args'], { encoding: 'utf8' }).split('\n')
  const pid = (fits: (line: string) => boolean) => Number(lines.find(fits)?.trim().split(/\s+/)[0] ?? NaN)
  const supervisor = pid((l) => l.includes(`start.mjs --name ${name}`))
  const under = (part: string) => pid((l) => l.includes(part) && Number(l.trim().split(/\s+/)[1]) === supervisor)
  return {
    supervisor,
    server: under('apps/server/src/main.ts'),
    rig: under('apps/rig/src/main.ts'),
    postgres: under(`${name}/cluster`),
  }
}
const alive = (pid: number) => spawnSync('kill', ['-0', String(pid)]).status === 0

let port = 0
const call = async (path: string, init: RequestInit & { cookie?: string } = {}) => {
  const response = await fetch(`http://127.0.0.1:${port}/api${path}`, {
    ...init,
    headers: { 'content-type': 'application/json', cookie: init.cookie ?? '', ...init.headers },
  })
  return {
    status: response.status,
    body: (await response.json()) as { type?: string; total?: number },
    cookie: response.headers.get('set-cookie')?.split(';')[0] ?? '',
  }
}
const signIn = () => call('/session', { method: 'POST', body: JSON.stringify({ login: 'ines', password: 'saltmarsh' }) })
const healthy = async (ms = 60_000) => {
  const end = Date.now() + ms
  while (Date.now() < end) {
    if ((await call('/health').catch(() => null))?.status === 200) return
    await new Promise((resolve) => setTimeout(resolve, 100))
  }
  throw new Error('not healthy')
}

beforeAll(async () => {
  rmSync(data(), { recursive: true, force: true })
  port = await freePort()
})
afterAll(() => rmSync(data(), { recursive: true, force: true }))

describe('npm start', () => {
  let running: Started
  let cookie = ''

  test('from nothing makes everything and prints one URL and the sign-ins', async () => {
    running = start(['--port', String(port)])
    // The demo's airframes are measured on their rigs, take by take: on a busy machine that takes minutes.
    await running.until('Ctrl-C ends it.', 420_000)
    expect(running.output()).toContain(`Taraf is running: http://127.0.0.1:${port}`)
    expect(running.output()).toContain('saltmarsh')
    cookie = (await signIn()).cookie
    expect((await call('/airframes?limit=1', { cookie })).body.total).toBeGreaterThan(35)
  }, 480_000)

  test('a file that is not there, and a path that is none, are no fault of the server', async () => {
    for (const path of ['/assets/none.png', '/_expo/none.js', '/assets/%00', '/_expo/%c0%af', '/%'])
      expect([path, (await fetch(`http://127.0.0.1:${port}${path}`)).status < 500]).toEqual([path, true])
    expect((await fetch(`http://127.0.0.1:${port}/assets/none.png`)).status).toBe(404)
  })

  test('a second one says that it runs already, and where', async () => {
    const second = start(['--port', String(await freePort())])
    expect(await second.ended).toBe(1)
    expect(second.output()).toContain(`already running at http://127.0.0.1:${port}`)
    expect(second.output()).toContain('What to do: ')
  })

  test('db:url prints a URL that the database answers at', () => {
    const url = execFileSync('node', ['scripts/dbUrl.mjs', '--name', name], { cwd: root, encoding: 'utf8' }).trim()
    expect(execFileSync('psql', [url, '-tAc', 'SELECT count(*) > 30 FROM airframes'], { encoding: 'utf8' }).trim()).toBe('t')
  })

  test.each(['server', 'rig', 'postgres'] as const)(
    'a %s that is killed comes back by itself and has lost nothing',
    async (part) => {
      const before = processes()[part]
      process.kill(before, 'SIGKILL')
      const end = Date.now() + 30_000
      while (!(processes()[part] > 0 && processes()[part] !== before)) {
        if (Date.now() > end) throw new Error(`${part} did not come back:\n${running.output()}`)
        await new Promise((resolve) => setTimeout(resolve, 200))
      }
      await healthy()
      expect((await call('/airframes?limit=1', { cookie })).status).toBe(200)
    },
  )

  test('a part that dies again before it is ready is started again, and again', async () => {
    const first = processes().rig
    process.kill(first, 'SIGKILL')
    const killed = new Set([first])
    const end = Date.now() + 40_000
    while (killed.size < 4) {
      if (Date.now() > end) throw new Error(`the rig did not come back:\n${running.output()}`)
      const now = processes().rig
      if (now > 0 && !killed.has(now)) {
        process.kill(now, 'SIGKILL')
        killed.add(now)
      }
      await new Promise((resolve) => setTimeout(resolve, 20))
    }
    while (!(processes().rig > 0 && !killed.has(processes().rig) && alive(processes().rig))) {
      if (Date.now() > end) throw new Error(`the rig did not come back:\n${running.output()}`)
      await new Promise((resolve) => setTimeout(resolve, 100))
    }
    expect(running.output()).toMatch(/The rig ended; starting it again in 0\.[2-9] s/)
    await new Promise((resolve) => setTimeout(resolve, 2_000))
    expect(alive(processes().rig)).toBe(true)
    await healthy()
  })

  test('while the database is stopped a request is told so, and goes through once it is back', async () => {
    process.kill(processes().postgres, 'SIGINT')
    const seen = new Map<number, string | undefined>()
    for (const end = Date.now() + 10_000; Date.now() < end && !seen.has(503);) {
      const { status, body } = await call('/airframes?limit=1', { cookie })
      seen.set(status, body.type)
    }
    expect(seen.get(503)).toBe('/problems/database-away')
    expect([...seen.keys()].filter((status) => status !== 200 && status !== 503)).toEqual([])
    await healthy()
    expect((await call('/airframes?limit=1', { cookie })).status).toBe(200)
  })

  test('a take that ends while the database is away is kept once it is back', async () => {
    const key = () => ({ 'idempotency-key': `start-${Math.round(performance.now() * 1000)}` })
    const post = (path: string, body: unknown = {}) =>
      call(path, { method: 'POST', body: JSON.stringify(body), cookie, headers: key() })
    const { id } = (await post('/airframes/N4-031/jobs')).body as { id: string }
    const benches = (await call('/benches', { cookie })).body as unknown as { id: string; name: string }[]
    await post(`/benches/${benches.find((b) => b.name === 'North bench')?.id}/hold`, { job: id })
    await new Promise((resolve) => setTimeout(resolve, 1_500))
    expect((await post(`/jobs/${id}/takes`, { check: 'sensors.gyroRest' })).status).toBe(202)
    await new Promise((resolve) => setTimeout(resolve, 4_700))
    process.kill(processes().postgres, 'SIGINT')
    await healthy()
    let entries: unknown[] = []
    for (
      const end = Date.now() + 15_000;
      Date.now() < end && entries.length === 0;
      await new Promise((resolve) => setTimeout(resolve, 200))
    )
      entries = ((await call(`/jobs/${id}`, { cookie })).body as { entries?: unknown[] }).entries ?? []
    expect(entries).toEqual([
      expect.objectContaining({ body: expect.objectContaining({ kind: 'take', verdict: 'pass' }) as unknown }),
    ])
  })

  test('killed itself, it leaves nothing running, and a start after it answers soon and has lost nothing', async () => {
    const before = processes()
    process.kill(before.supervisor, 'SIGKILL')
    await running.ended
    const end = Date.now() + 5_000
    while (alive(before.server) || alive(before.rig)) {
      if (Date.now() > end) throw new Error('server or rig outlived their supervisor')
      await new Promise((resolve) => setTimeout(resolve, 50))
    }
    const at = Date.now()
    running = start(['--port', String(port)])
    await running.until('Ctrl-C ends it.')
    // Five seconds on an idle machine; here whatever else it does counts too.
    expect(Date.now() - at).toBeLessThan(120_000)
    expect((await call('/airframes?limit=1', { cookie })).body.total).toBeGreaterThan(35)
  })

  test.each(['SIGTERM', 'SIGINT'] as const)('%s ends everything that it started', async (signal) => {
    if (running.child.exitCode !== null) {
      running = start(['--port', String(port)])
      await running.until('Ctrl-C ends it.')
    }
    const pids = Object.values(processes())
    expect(pids.every((pid) => pid > 0)).toBe(true)
    running.child.kill(signal)
    expect(await running.ended).toBe(0)
    expect(pids.filter(alive)).toEqual([])
  })
})

test('ten kills and pauses while people work: nothing lost, doubled or half, and the audit agrees', () => {
  const { stdout, status, stderr } = spawnSync(
    'npm',
    ['run', '-s', 'kills', '--', '--count', '10', '--seed', '21', '--name', 'start-kills'],
    {
      cwd: root,
      encoding: 'utf8',
      timeout: 900_000,
    },
  )
  const report = JSON.parse(stdout.trim().split('\n').at(-1) ?? '{}') as {
    wrong: string[]
    audit: string[]
    promised: { entries: number }
  }
  expect({ wrong: report.wrong, audit: report.audit?.at(-1), stderr: status === 0 ? '' : stderr }).toEqual({
    wrong: [],
    audit: expect.stringContaining('all whole') as string,
    stderr: '',
  })
  expect(report.promised.entries).toBeGreaterThan(10)
}, 920_000)

test('a replay lays that airframe of a campaign on a bench, and says which and with what', async () => {
  const running = start(['--port', String(port), '--replay', '20001/2'])
  await running.until('Ctrl-C ends it.')
  expect(running.output()).toMatch(/On the [a-z ]+ bench lies airframe 20001 of the campaign \([A-Z]\d\), with .+\./)
  running.child.kill('SIGTERM')
  await running.ended
})

describe('what stops a start is said, with what to do', () => {
  const said = async (args: string[], input?: string) => {
    const one = start(args, input)
    expect(await one.ended).toBe(1)
    expect(one.output()).toContain('What to do: ')
    return one.output()
  }

  const inModule = (code: string, folder = root, env: Record<string, string> = {}) =>
    spawnSync(
      'node',
      [
        '--input-type=module',
        '-e',
        `import { run } from './scripts/lib/say.mjs'; import * as install from './scripts/lib/install.mjs'; await run(() => { ${code} })`,
      ],
      {
        cwd: folder,
        encoding: 'utf8',
        env: { ...process.env, ...env },
      },
    ).stderr

  test('a taken port', async () => {
    const blocker = createServer().listen(0, '127.0.0.1')
    await new Promise((resolve) => blocker.once('listening', resolve))
    const taken = (blocker.address() as AddressInfo).port
    expect(await said(['--port', String(taken)])).toContain(`Port ${taken} is taken`)
    blocker.close()
  })

  test('a port that is none, and an option that is none', async () => {
    expect(await said(['--port', 'abc'])).toContain('no port')
    expect(await said(['--fast'])).toContain('npm start -- [--port N]')
  })

  test('a replay that nobody can read', async () => {
    expect(await said(['--port', String(await freePort()), '--replay', 'x/2'])).toContain('no seed')
    expect(await said(['--port', String(await freePort()), '--replay', '7/2/kitchen'])).toContain('no station "kitchen"')
  })

  test('a reset that is not confirmed erases nothing', async () => {
    expect(await said(['--port', String(await freePort()), '--reset'], 'yes\n')).toContain('Nothing was erased')
    expect(existsSync(join(data(), 'cluster', 'PG_VERSION'))).toBe(true)
  })

  test('a database that ran and whose mark is gone is not made anew, and goes on once the mark is back', async () => {
    const mark = join(data(), 'cluster-made')
    const was = readFileSync(mark)
    rmSync(mark)
    const output = await said(['--port', String(await freePort())])
    expect(output).toContain('that has run')
    expect(output).toContain(`touch ${mark}`)
    expect(existsSync(join(data(), 'cluster', 'PG_VERSION'))).toBe(true)
    writeFileSync(mark, was)
  })

  test('passwords that cannot be read', async () => {
    const file = join(data(), 'secrets.json')
    const was = readFileSync(file)
    for (const broken of ['{"superuser":', '{}', '']) {
      writeFileSync(file, broken)
      expect(await said(['--port', String(await freePort())])).toContain('secrets.json cannot be read')
    }
    writeFileSync(file, was)
  })

  test('a key of the record that is gone, and nothing is changed until it is back', async () => {
    const keys = join(data(), 'keys')
    cpSync(keys, `${keys}-kept`, { recursive: true })
    rmSync(keys, { recursive: true })
    const output = await said(['--port', String(await freePort())])
    expect(output).toContain('The record was sealed with a key that is not in')
    expect(output).toContain('Put that folder back from a backup')
    expect(existsSync(keys)).toBe(false)
    cpSync(`${keys}-kept`, keys, { recursive: true })
    rmSync(`${keys}-kept`, { recursive: true })
  })

  test('a lock of the database that names another program’s process is taken away, and that program is not touched', async () => {
    const other = spawn('sleep', ['120'])
    const lock = join(data(), 'cluster', 'postmaster.pid')
    writeFileSync(lock, `${other.pid}\n${join(data(), 'cluster')}\n1\n5432\n\n127.0.0.1\n\n\n`)
    const running = start(['--port', String(port)])
    await running.until('Ctrl-C ends it.')
    expect(alive(other.pid ?? 0)).toBe(true)
    running.child.kill('SIGTERM')
    await running.ended
    expect([other.exitCode, other.signalCode]).toEqual([null, null])
    other.kill()
  })

  test('a folder that cannot be written, in words', () => {
    const said = inModule(`const error = new Error('x'); error.code = 'EROFS'; error.path = '/there'; throw error`)
    expect(said).toMatch(/the disk is read-only: \/there\nWhat to do: .*TARAF_DATA/)
    expect(said).not.toContain(' at ')
  })

  test('a broken database', async () => {
    rmSync(join(data(), 'cluster', 'global', 'pg_control'))
    const output = await said(['--port', String(await freePort())])
    expect(output).toContain('The database did not start')
    expect(output).toContain('--reset')
    rmSync(join(data(), 'cluster', 'PG_VERSION'))
    expect(await said(['--port', String(await freePort())])).toContain('damaged')
  })

  test('no space, no right to install, a package that no mirror has', () => {
    expect(inModule('install.wantSpace(undefined, 1e9)')).toMatch(/MB are free[\s\S]*What to do: Free some space/)
    expect(inModule(`install.wantDebian(['postgresql'], () => false, 1000)`)).toMatch(
      /needs root[\s\S]*What to do: Run: sudo apt-get install -y postgresql/,
    )
    expect(
      inModule(`install.wantDebian(['no-such-package-anywhere'], () => false, 0)`, root, { PATH: `${process.env.PATH}` }),
    ).toMatch(/could not be installed[\s\S]*What to do: /)
  })

  test('an unreachable npm registry', () => {
    const copy = mkdtempSync(join(tmpdir(), 'taraf-'))
    cpSync(join(root, 'scripts'), join(copy, 'scripts'), { recursive: true })
    for (const file of ['package.json', 'package-lock.json']) cpSync(join(root, file), join(copy, file))
    for (const folder of ['packages', 'apps'])
      cpSync(join(root, folder), join(copy, folder), {
        recursive: true,
        filter: (path) => !/node_modules|dist|src|\.expo/.test(path.slice(root.length)),
      })
    const output = inModule('install.wantPackages()', copy, {
      npm_config_registry: 'http://127.0.0.1:9/',
      npm_config_fetch_retries: '0',
      npm_config_cache: join(copy, 'cache'),
    })
    expect(output).toMatch(/could not be installed[\s\S]*What to do: Check that this machine reaches its npm registry/)
    rmSync(copy, { recursive: true, force: true })
  })
})

test('the lock file holds no download addresses', () => {
  expect(readFileSync(join(root, 'package-lock.json'), 'utf8')).not.toMatch(/"resolved": "https?:/)
})
