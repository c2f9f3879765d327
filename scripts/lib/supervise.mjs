// Starts the parts of Taraf, keeps them running, and ends them together.
import { fork } from 'node:child_process'
import { mkdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { dataFolder, freePort, keysFolder, startCluster } from './cluster.mjs'
import { Stop, root, say } from './say.mjs'

const tsx = ['--import', 'tsx']
// The server's collector cleans up on the thread that it holds up: its helpers give way to everybody, and that thread would wait for them. It
// does so in small steps, and goes through what is old only when there is four times as much: what people send would have it do that every second.
const ownCollector = [
  '--no-parallel-scavenge',
  '--no-parallel-compaction',
  '--no-parallel-pointer-update',
  '--max-semi-space-size=4',
  '--heap-growing-percent=300',
]

/** A part that lived for so long was running; the pause before the next start, least and most. */
const livesMs = 5_000
const leastPauseMs = 100
const mostPauseMs = 30_000

const runFile = (name) => join(dataFolder(name), 'run.json')

/** What runs for an instance now, or null: its supervisor's process is looked for by its start time. */
export const runningInstance = (name) => {
  try {
    const run = JSON.parse(readFileSync(runFile(name), 'utf8'))
    return startedAt(run.pid) === run.startedAt ? run : null
  } catch {
    return null
  }
}

/** Start time of a process in clock ticks since boot: tells it from a later one with the same number. */
const startedAt = (pid) => {
  const stat = readFileSync(`/proc/${pid}/stat`, 'utf8')
  return stat.slice(stat.lastIndexOf(')') + 2).split(' ')[19]
}

const writeAtOnce = (path, value) => {
  writeFileSync(`${path}.new`, JSON.stringify(value, null, 1))
  renameSync(`${path}.new`, path)
}

/** Runs a TypeScript file of the project to its end, which comes with this process too. Rejects with a Stop and what it printed where it fails. */
export const runOnce = (file, args, env, signal) =>
  new Promise((resolve, reject) => {
    const child = fork(join(root, file), args, {
      cwd: root,
      execArgv: tsx,
      env: { ...process.env, ...env },
      stdio: ['ignore', 'pipe', 'pipe', 'ipc'],
      signal,
    })
    const printed = { stdout: '', stderr: '' }
    for (const name of ['stdout', 'stderr']) child[name].on('data', (text) => (printed[name] += text))
    child.once('error', reject)
    child.once('close', (code) => {
      if (code === 0) return resolve()
      reject(
        new Stop(`${file} failed:\n${(printed.stderr || printed.stdout).trim()}`, 'Look at the lines above; nothing was lost.'),
      )
    })
  })

/**
 * Brings an instance up: database, then migrations and demo beside the rig, then the server, once what it serves is there (`web`). A part that dies is
 * started again on the same port. `signal` ends it while it comes up.
 * @returns {Promise<{ url: string, stop: () => Promise<void>, urls: object, pids: () => object, restart: (part: string) => void }>}
 */
export const bringUp = async ({
  name,
  port,
  demo = true,
  rigEnv = {},
  serverEnv = {},
  quiet = false,
  web = Promise.resolve(),
  signal,
}) => {
  const other = runningInstance(name)
  if (other !== null)
    throw new Stop(
      `Taraf is already running at ${other.url} (process ${other.pid}).`,
      `Use that one, or end it: kill ${other.pid}`,
    )
  mkdirSync(dataFolder(name), { recursive: true })
  const parts = new Map()
  let stopping = false
  let database = await startCluster(name)
  const { urls } = database
  const keepDatabase = (running) =>
    void running.ended.then(async () => {
      if (stopping) return
      say('The database ended; starting it again.')
      try {
        database = await startCluster(name, running.port)
        keepDatabase(database)
      } catch (error) {
        say(`${error.message}\nWhat to do: ${error.todo ?? 'look above'}`)
        setTimeout(() => keepDatabase(running), 2000)
      }
    })
  keepDatabase(database)
  const stop = async () => {
    if (stopping) return
    stopping = true
    for (const key of ['server', 'rig']) await endPart(parts.get(key))
    await database.stop()
    rmSync(runFile(name), { force: true })
  }
  /** Starts a part again, after a pause that grows while it does not live long enough to be called running. */
  const pauses = new Map()
  const revive = (key, file, env, livedMs) => {
    const pauseMs = livedMs > livesMs ? leastPauseMs : Math.min(mostPauseMs, 2 * (pauses.get(key) ?? leastPauseMs))
    pauses.set(key, pauseMs)
    say(`The ${key} ended; starting it again in ${(pauseMs / 1000).toFixed(1)} s.`)
    setTimeout(() => {
      if (stopping) return
      keep(key, file, env).catch(() => stopping || revive(key, file, env, 0))
    }, pauseMs)
  }
  const keep = async (key, file, env) => {
    const child = fork(join(root, file), [], {
      cwd: root,
      execArgv: key === 'server' ? [...ownCollector, ...tsx] : tsx,
      env: { ...process.env, ...env },
      stdio: ['ignore', quiet ? 'ignore' : 'inherit', 'inherit', 'ipc'],
      detached: true,
    })
    parts.set(key, child)
    const bornMs = Date.now()
    const ready = new Promise((resolve, reject) => {
      child.on('message', (message) => message.ready && resolve(message.ready))
      child.on('message', (message) => message.stop && reject(new Stop(message.stop, message.todo)))
      child.once('exit', (code) => reject(new Stop(`The ${key} ended with code ${code}.`, 'Look at the lines above.')))
    })
    const boundPort = await ready
    const again = { ...env, [key === 'rig' ? 'TARAF_RIG_PORT' : 'TARAF_PORT']: String(boundPort) }
    const ended = () => stopping || revive(key, file, again, Date.now() - bornMs)
    if (child.exitCode !== null || child.signalCode !== null) ended()
    else child.once('exit', ended)
    return boundPort
  }
  // What still prepares has no database any more once one of them failed.
  const ending = new AbortController()
  try {
    const freeForRig = await freePort()
    const prepared = runOnce(
      'apps/server/src/commands/prepare.ts',
      demo ? ['--demo'] : [],
      {
        TARAF_SUPERUSER_URL: urls.superuser,
        TARAF_OWNER_URL: urls.owner,
        TARAF_PASSWORDS: JSON.stringify(urls.passwords),
        TARAF_KEYS: keysFolder(name),
      },
      AbortSignal.any([ending.signal, ...(signal === undefined ? [] : [signal])]),
    )
    const rig = keep('rig', 'apps/rig/src/main.ts', { TARAF_RIG_PORT: String(freeForRig), ...rigEnv })
    const [rigPort] = await Promise.all([rig, prepared, web])
    const serverPort = await keep('server', 'apps/server/src/main.ts', {
      TARAF_PORT: String(port ?? (await freePort())),
      TARAF_DATABASE_URL: urls.server,
      TARAF_SESSION_SECRET: urls.sessionSecret,
      TARAF_KEYS: keysFolder(name),
      TARAF_RIG_URL: `ws://127.0.0.1:${rigPort}`,
      TARAF_HANDS: '1',
      ...serverEnv,
    })
    const url = `http://127.0.0.1:${serverPort}`
    writeAtOnce(runFile(name), { pid: process.pid, startedAt: startedAt(process.pid), url })
    const pids = () => ({ server: parts.get('server').pid, rig: parts.get('rig').pid, database: database.child.pid })
    return { url, urls, stop, pids, rigPort, stopDatabase: () => database.stop() }
  } catch (error) {
    ending.abort()
    await stop()
    throw error
  }
}

const endPart = async (child) => {
  if (child === undefined || child.exitCode !== null || child.signalCode !== null) return
  const ended = new Promise((resolve) => child.once('exit', resolve))
  child.kill('SIGTERM')
  const timer = setTimeout(() => child.kill('SIGKILL'), 5000)
  await ended
  clearTimeout(timer)
}
