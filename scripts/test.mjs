// npm test [PART...]: sets everything up, runs every part (or those named), and closes with "N passed, N failed".
import { spawn } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, relative } from 'node:path'
import { fileURLToPath } from 'node:url'
import { wantDebian, wantNode, wantPackages } from './lib/install.mjs'
import { erase } from './lib/cluster.mjs'
import { Stop, root, run, say } from './lib/say.mjs'
import { bringUp } from './lib/supervise.mjs'
import { wantWeb } from './lib/web.mjs'

const results = mkdtempSync(join(tmpdir(), 'taraf-test-'))

/** Runs a command; a part that hangs is ended and has failed. */
const command = (args, env = {}, minutes = 15) =>
  new Promise((resolve) => {
    const child = spawn('npx', args, { cwd: root, stdio: 'inherit', env: { ...process.env, ...env }, timeout: minutes * 60_000 })
    child.once('error', () => resolve(false))
    child.once('close', (code) => resolve(code === 0))
  })

const one = (ok) => ({ passed: ok ? 1 : 0, failed: ok ? 0 : 1 })

const jest = async (projects, ...flags) => {
  const file = join(results, `${projects[0]}.json`)
  const ok = await command(
    ['jest', '--selectProjects', ...projects, '--forceExit', '--json', `--outputFile=${file}`, '--reporters=default', ...flags],
    {},
    40,
  )
  return counted(file, ok, ({ numPassedTests, numFailedTests, numFailedTestSuites, testResults }) => ({
    passed: numPassedTests,
    failed: numFailedTests || numFailedTestSuites,
    files: testResults.filter(({ status }) => status === 'failed').map(({ name }) => name),
  }))
}

/** Files in which servers and boards run, one after the other; one that fails is tried once more, as a test of the interface is. */
const jestTwice = async (project) => {
  const first = await jest([project], '--runInBand')
  if (!first.files?.length) return first
  say(`\n== ${project}: tried once more: ${first.files.map((file) => relative(root, file)).join(', ')}`)
  const again = await jest([project], '--runInBand', '--runTestsByPath', ...first.files)
  return { passed: first.passed + Math.min(first.failed, again.passed), failed: again.failed }
}

const counted = (file, ok, count) => {
  let found
  try {
    found = count(JSON.parse(readFileSync(file, 'utf8')))
  } catch {
    return { passed: 0, failed: 1 }
  }
  return ok ? found : { ...found, failed: Math.max(1, found.failed) }
}

/** Tests of the real interface, in a shop of their own. */
const playwright = async (name) => {
  wantWeb()
  erase(name)
  const up = await bringUp({ name, quiet: true })
  const file = join(results, `${name}.json`)
  try {
    const ok = await command(
      ['playwright', 'test', `tests/e2e/${name}`, '--output', `test-results/${name}`],
      { TARAF_URL: up.url, TARAF_SUPERVISOR: String(process.pid), PLAYWRIGHT_JSON_OUTPUT_NAME: file },
      55,
    )
    return counted(file, ok, ({ stats }) => ({ passed: stats.expected + stats.flaky, failed: stats.unexpected }))
  } finally {
    await up.stop()
  }
}

/** Nothing of these waits for a board for long: most of it computes, draws or starts. */
const computing = {
  types: async () => one(await command(['tsc', '-p', '.'])),
  lint: async () => {
    const [rules, format] = [await command(['eslint', '.']), await command(['prettier', '--check', '--log-level', 'warn', '.'])]
    return { passed: Number(rules) + Number(format), failed: Number(!rules) + Number(!format) }
  },
  // Nothing of these runs in real time: every core has its share, where Jest would leave one idle.
  unit: () => jest(['unit', 'model'], '--maxWorkers=100%'),
  reference: () => jest(['reference']),
  views: () => playwright('views'),
  start: () => {
    wantWeb()
    return jestTwice('start')
  },
}
/** Boards and people of these live in real time: one after the other. */
const inRealTime = {
  app: () => jest(['app']),
  server: () => jestTwice('server'),
  benches: () => playwright('benches'),
}
const parts = { ...computing, ...inRealTime }

const runParts = async (names) => {
  const total = { passed: 0, failed: 0 }
  for (const name of names) {
    say(`\n== ${name}`)
    const at = Date.now()
    const { passed, failed } = await parts[name]()
    say(`== ${name}: ${passed} passed, ${failed} failed in ${Math.round((Date.now() - at) / 1000)} s`)
    total.passed += passed
    total.failed += failed
  }
  return total
}

/**
 * Runs parts that compute beside those in real time, which leave half the machine idle: as a process that gives way to them, and whose
 * output is printed whole once it has ended.
 */
const runBeside = (names) => {
  if (names.length === 0) return Promise.resolve({ passed: 0, failed: 0 })
  const child = spawn('nice', ['-n', '10', process.execPath, fileURLToPath(import.meta.url), ...names], { cwd: root })
  const output = []
  for (const stream of [child.stdout, child.stderr]) stream.on('data', (chunk) => output.push(chunk))
  return new Promise((resolve, reject) => {
    child.once('error', reject)
    child.once('close', () => {
      let [passed, failed] = [0, 1]
      const text = Buffer.concat(output)
        .toString()
        .replace(/^(\d+) passed, (\d+) failed\n/m, (_, ...counts) => ([passed, failed] = counts) && '')
      say(text)
      resolve({ passed: Number(passed), failed: Number(failed) })
    })
  })
}

await run(async () => {
  wantNode()
  const wanted = process.argv.slice(2).filter((arg) => !arg.startsWith('-'))
  const unknown = wanted.find((part) => !(part in parts))
  if (unknown !== undefined) throw new Stop(`There is no part "${unknown}".`, `Name one of: ${Object.keys(parts).join(', ')}`)
  wantPackages()
  wantDebian(['postgresql', 'chromium'])
  const chosen = Object.keys(parts).filter((part) => wanted.length === 0 || wanted.includes(part))
  const [here, beside] = [chosen.filter((part) => part in inRealTime), chosen.filter((part) => part in computing)]
  let total
  if (here.length === 0) total = await runParts(beside)
  else {
    // Built once, before two want it at the same time.
    if (chosen.some((part) => ['views', 'start', 'benches'].includes(part))) wantWeb()
    const both = await Promise.all([runParts(here), runBeside(beside)])
    total = { passed: both[0].passed + both[1].passed, failed: both[0].failed + both[1].failed }
  }
  rmSync(results, { recursive: true, force: true })
  console.log(`${total.passed} passed, ${total.failed} failed`)
  return total.failed === 0 ? 0 : 1
})
