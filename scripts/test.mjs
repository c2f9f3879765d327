// npm test [PART...]: sets everything up, runs every part (or those named), and closes with "N passed, N failed".
import { spawn } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, relative } from 'node:path'
import { createInterface } from 'node:readline'
import { fileURLToPath } from 'node:url'
import { wantDebian, wantNode, wantPackages } from './lib/install.mjs'
import { copyInstance, erase } from './lib/cluster.mjs'
import { Stop, root, run, say } from './lib/say.mjs'
import { bringUp } from './lib/supervise.mjs'
import { wantWeb } from './lib/web.mjs'

const results = mkdtempSync(join(tmpdir(), 'taraf-test-'))
process.once('exit', () => rmSync(results, { recursive: true, force: true }))

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

const shopMade = 'tests'

/** A shop with the demo's history, whose takes cost minutes: it is lived through once, and each of those that tests work in is a copy. */
const makeShop = async () => {
  erase(shopMade)
  await (await bringUp({ name: shopMade, quiet: true })).stop()
}

/** Tests of the real interface, in a shop of their own. */
const playwright = async (name, folder, ...flags) => {
  erase(name)
  copyInstance(shopMade, name)
  const up = await bringUp({ name, quiet: true })
  const file = join(results, `${name}.json`)
  try {
    const ok = await command(
      ['playwright', 'test', `tests/e2e/${folder}`, '--output', `test-results/${name}`, ...flags],
      { TARAF_URL: up.url, TARAF_SUPERVISOR: String(process.pid), PLAYWRIGHT_JSON_OUTPUT_NAME: file },
      55,
    )
    return counted(file, ok, ({ stats }) => ({ passed: stats.expected + stats.flaky, failed: stats.unexpected }))
  } finally {
    await up.stop()
  }
}

/** What tests of the interface and of starting stand on. It holds no tests. */
const foundations = { web: wantWeb, shop: makeShop }
/** Nothing of these waits for a board: they draw, compute or start. */
const computing = {
  // Pages take their full share whatever is nice: theirs are done before a press is held on one of `phone`.
  views: () => playwright('views', 'views'),
  types: async () => one(await command(['tsc', '-p', '.'])),
  lint: async () => {
    const [rules, format] = [await command(['eslint', '.']), await command(['prettier', '--check', '--log-level', 'warn', '.'])]
    return { passed: Number(rules) + Number(format), failed: Number(!rules) + Number(!format) }
  },
  // Nothing of these runs in real time: every core has its share, where Jest would leave one idle.
  unit: () => jest(['unit', 'model'], '--maxWorkers=100%'),
  reference: () => jest(['reference']),
  start: () => jestTwice('start'),
}
/** Boards and people of these live in real time: one after the other. */
const inRealTime = {
  app: () => jest(['app']),
  server: () => jestTwice('server'),
  phone: () => playwright('phone', 'benches', '--project', 'phone'),
  wide: () => playwright('wide', 'benches', '--project', 'wide'),
}
const parts = { ...computing, ...inRealTime }
/** What stands on the foundations. */
const standing = ['views', 'start', 'phone', 'wide']

const none = { passed: 0, failed: 0 }
const sum = (counts) =>
  counts.reduce((total, { passed, failed }) => ({ passed: total.passed + passed, failed: total.failed + failed }), none)

const runParts = async (names) => {
  const counts = []
  for (const name of names) {
    say(`\n== ${name}`)
    const at = Date.now()
    const { passed, failed } = await parts[name]()
    say(`== ${name}: ${passed} passed, ${failed} failed in ${Math.round((Date.now() - at) / 1000)} s`)
    counts.push({ passed, failed })
  }
  return sum(counts)
}

/**
 * Runs parts, or makes a foundation, in a process of its own; what it prints is printed behind its name. Parts that compute give way to those
 * in real time, which leave half the machine idle.
 */
const runBeside = (label, names, nice = 0) => {
  if (names.length === 0) return Promise.resolve(none)
  const child = spawn('nice', ['-n', String(nice), process.execPath, fileURLToPath(import.meta.url), beside, ...names], {
    cwd: root,
  })
  let counts = { passed: 0, failed: 1 }
  for (const input of [child.stdout, child.stderr])
    createInterface({ input }).on('line', (line) => {
      const [, passed, failed] = /^(\d+) passed, (\d+) failed$/.exec(line) ?? []
      if (passed === undefined) say(line === '' ? '' : `${label} | ${line}`)
      else counts = { passed: Number(passed), failed: Number(failed) }
    })
  return new Promise((resolve, reject) => {
    child.once('error', reject)
    child.once('close', () => resolve(counts))
  })
}
const beside = '--beside'

/** Makes what the parts stand on, each beside the other. */
const layFoundations = async () => {
  const { failed } = sum(await Promise.all(Object.keys(foundations).map((name) => runBeside(name, [name]))))
  if (failed > 0) throw new Stop('What the tests stand on could not be made.', 'Look at the lines above.')
}

const runAll = async (chosen) => {
  const of = (group) => chosen.filter((part) => part in group)
  if (chosen.some((part) => standing.includes(part))) await layFoundations()
  return sum(await Promise.all([runParts(of(inRealTime)), runBeside('beside', of(computing), 19)]))
}

await run(async () => {
  wantNode()
  const named = process.argv.slice(2).filter((arg) => !arg.startsWith('-'))
  if (process.argv.includes(beside)) {
    const [first] = named
    const isFoundation = first in foundations
    if (isFoundation) await foundations[first]()
    const { passed, failed } = isFoundation ? none : await runParts(named)
    console.log(`${passed} passed, ${failed} failed`)
    return 0
  }
  const unknown = named.find((part) => !(part in parts))
  if (unknown !== undefined) throw new Stop(`There is no part "${unknown}".`, `Name one of: ${Object.keys(parts).join(', ')}`)
  wantPackages()
  wantDebian(['postgresql', 'chromium'])
  const { passed, failed } = await runAll(Object.keys(parts).filter((part) => named.length === 0 || named.includes(part)))
  console.log(`${passed} passed, ${failed} failed`)
  return failed === 0 ? 0 : 1
})
