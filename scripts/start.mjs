// npm start: sets everything up, runs it with the demo, prints one URL and the demo's sign-ins.
import { createInterface } from 'node:readline/promises'
import { connect } from 'node:net'
import { parseArgs } from 'node:util'
import { Stop, run, say } from './lib/say.mjs'
import { wantDebian, wantNode, wantPackages, wantSpace } from './lib/install.mjs'
import { dataFolder, erase } from './lib/cluster.mjs'
import { wantWeb } from './lib/web.mjs'
import { bringUp, runningInstance } from './lib/supervise.mjs'

const usage = 'npm start -- [--port N] [--reset] [--no-build] [--replay SEED/MOST[/STATION+STATION]]'

const options = () => {
  try {
    const { values } = parseArgs({
      options: {
        port: { type: 'string' },
        reset: { type: 'boolean' },
        'no-build': { type: 'boolean' },
        replay: { type: 'string' },
        name: { type: 'string' },
      },
    })
    const port = Number(values.port ?? 4780)
    if (!Number.isInteger(port) || port < 1 || port > 65535)
      throw new Stop(`--port ${values.port} is no port.`, 'Give a number from 1 to 65535.')
    return { port, reset: values.reset ?? false, build: !values['no-build'], replay: values.replay, name: values.name ?? 'main' }
  } catch (error) {
    throw error instanceof Stop ? error : new Stop(error.message, usage)
  }
}

const taken = (port) =>
  new Promise((resolve) => {
    const probe = connect(port, '127.0.0.1')
    probe.once('connect', () => (probe.destroy(), resolve(true)))
    probe.once('error', () => resolve(false))
  })

const sure = async () => {
  const ask = createInterface({ input: process.stdin, output: process.stderr })
  const answer = await Promise.race([
    ask.question('This erases every airframe, job card and record of this installation. Type "erase" to go on: '),
    new Promise((resolve) => ask.once('close', () => resolve(''))),
  ])
  ask.close()
  return answer.trim() === 'erase'
}

await run(async () => {
  const { port, reset, build, replay, name } = options()
  wantNode()
  const other = runningInstance(name)
  if (other !== null)
    throw new Stop(
      `Taraf is already running at ${other.url} (process ${other.pid}).`,
      `Use that one, or end it: kill ${other.pid}`,
    )
  if (await taken(port))
    throw new Stop(
      `Port ${port} is taken by another program.`,
      `End that program, or choose another port: npm start -- --port ${port + 1}`,
    )
  wantSpace()
  // The records may lie on another disk.
  wantSpace(dataFolder(name))
  wantPackages()
  wantDebian(['postgresql'])
  if (reset) {
    if (!(await sure())) throw new Stop('Nothing was erased.', 'Start without --reset, or type "erase" when asked.')
    erase(name)
  }
  // Beside the database and its history, which take as long.
  const web = build ? wantWeb() : Promise.resolve()
  web.catch(() => {})
  const stopper = new AbortController()
  let up = null
  let ended = false
  const end = async () => {
    if (ended) return
    ended = true
    say('\nStopping ...')
    // What is coming up is ended by whoever brings it up.
    if (up === null) return stopper.abort()
    await up.stop()
    process.exit(0)
  }
  process.on('SIGINT', end)
  process.on('SIGTERM', end)
  process.on('SIGHUP', end)
  try {
    const rigEnv = replay === undefined ? {} : { TARAF_RIG_REPLAY: replay }
    up = await bringUp({ name, port, rigEnv, web, signal: stopper.signal })
  } catch (error) {
    if (ended) process.exit(0)
    throw error
  }
  if (ended) {
    await up.stop()
    process.exit(0)
  }
  console.log(`
Taraf is running: ${up.url}

Demo sign-ins      name    password
  technician       ines    saltmarsh
  technician       joren   dunegrass
  lead             maud    springtide
  reader           piet    oystercatcher

Ctrl-C ends it.`)
})
