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
const command = (args, env = {}, minutes = 15, program = 'npx') =>
  new Promise((resolve) => {
    const child = spawn(program, args, {
      cwd: root,
      stdio: 'inherit',
      env: { ...process.env, ...env },
      timeout: minutes * 60_000,
    })
    child.once('error', () => resolve(false))
    child.once('close', (code) => resolve(code === 0))
  })

/**
 * What came of a part: how many tests passed, the names of those that failed, and of those that passed at another try. They are said again at the
 * very end, as whoever reads a long output begins there.
 */
const outcome = (passed, failed = [], again = []) => ({ passed, failed, again })
const joined = (outcomes) =>
  outcome(
    outcomes.reduce((sum, { passed }) => sum + passed, 0),
    outcomes.flatMap(({ failed }) => failed),
    outcomes.flatMap(({ again }) => again),
  )

const one = async (name, args) => ((await command(args)) ? outcome(1) : outcome(0, [name]))

const jest = async (projects, ...flags) => {
  const file = join(results, `${projects[0]}.json`)
  const ok = await command(
    ['jest', '--selectProjects', ...projects, '--forceExit', '--json', `--outputFile=${file}`, '--reporters=default', ...flags],
    {},
    40,
  )
  return told(file, ok, ({ numPassedTests, testResults }) => {
    const failedFiles = testResults.filter(({ status }) => status === 'failed')
    const failed = failedFiles.flatMap(({ name, assertionResults }) => {
      const tests = assertionResults.filter(({ status }) => status === 'failed').map(({ fullName }) => ` › ${fullName}`)
      return (tests.length > 0 ? tests : ['']).map((test) => `${relative(root, name)}${test}`)
    })
    return { ...outcome(numPassedTests, failed), files: failedFiles.map(({ name }) => name) }
  })
}

/** Files in which servers and boards run, one after the other; one that fails is tried once more, as a test of the interface is. */
const jestTwice = async (project) => {
  const first = await jest([project], '--runInBand')
  if (!first.files?.length) return first
  say(`\n== ${project}: tried once more: ${first.files.map((file) => relative(root, file)).join(', ')}`)
  const { failed } = await jest([project], '--runInBand', '--runTestsByPath', ...first.files)
  const again = first.failed.filter((test) => !failed.includes(test))
  return outcome(first.passed + again.length, failed, again)
}

/** Reads what a runner of tests wrote of its run. */
const told = (file, ok, read) => {
  let found
  try {
    found = read(JSON.parse(readFileSync(file, 'utf8')))
  } catch {
    return outcome(0, ['it did not come to its end'])
  }
  return ok || found.failed.length > 0 ? found : { ...found, failed: ['no test failed, but the run did'] }
}

const shopMade = 'tests'

/** A shop with the demo's history, whose takes cost minutes: it is lived through once, and each of those that tests work in is a copy. */
const makeShop = async () => {
  erase(shopMade)
  await (await bringUp({ name: shopMade, quiet: true })).stop()
}

const specsOf = (suites, status) =>
  suites.flatMap(({ suites: within = [], specs }) => [
    ...specsOf(within, status),
    ...specs.filter(({ tests }) => tests.some((test) => test.status === status)).map(({ file, title }) => `${file} › ${title}`),
  ])

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
    return told(file, ok, ({ stats, suites }) =>
      outcome(stats.expected + stats.flaky, specsOf(suites, 'unexpected'), specsOf(suites, 'flaky')),
    )
  } finally {
    await up.stop()
  }
}

/** What tests of the interface and of starting stand on. It holds no tests. */
const foundations = { web: wantWeb, shop: makeShop }
const parts = {
  app: () => jest(['app'], '--maxWorkers=100%'),
  realtime: () => jestTwice('realtime'),
  types: () => one('tsc', ['tsc', '-p', '.']),
  lint: async () =>
    joined([await one('eslint', ['eslint', '.']), await one('prettier', ['prettier', '--check', '--log-level', 'warn', '.'])]),
  // Nothing of these runs in real time: every core has its share, where Jest would leave one idle.
  server: () => jest(['server'], '--maxWorkers=100%'),
  unit: () => jest(['unit', 'model'], '--maxWorkers=100%'),
  reference: () => jest(['reference']),
  // The same ones each time: what was found once is not found again by luck.
  histories: async () =>
    (await command(['scripts/histories.mjs', '--count', '60', '--seed', '1'], {}, 15, process.execPath))
      ? outcome(60)
      : outcome(0, ['histories: see above']),
  phone: () => playwright('phone', 'benches', '--project', 'phone'),
  wide: () => playwright('wide', 'benches', '--project', 'wide'),
  views: () => playwright('views', 'views'),
  start: () => jestTwice('start'),
}
/**
 * One after the other. Boards and people of `inRealTime` live in real time: one part after the other, and what is `beside` them gives way. What
 * computes has ended before a press is held on a page, since a press lapses while the machine is busy, as it should.
 */
const stages = [
  { inRealTime: ['realtime', 'views'], beside: ['types', 'lint', 'app', 'server', 'unit', 'reference', 'histories'] },
  { inRealTime: ['phone', 'wide'], beside: ['start'] },
]
/** What stands on the foundations. */
const standing = ['views', 'start', 'phone', 'wide']

/** @param isLaid waits for what a part stands on */
const runParts = async (names, isLaid = () => {}) => {
  const outcomes = []
  for (const name of names) {
    await isLaid([name])
    say(`\n== ${name}`)
    const at = Date.now()
    const { passed, failed, again } = await parts[name]()
    say(`== ${name}: ${passed} passed, ${failed.length} failed in ${Math.round((Date.now() - at) / 1000)} s`)
    const named = (tests) => tests.map((test) => `${name}: ${test}`)
    outcomes.push(outcome(passed, named(failed), named(again)))
  }
  return joined(outcomes)
}

/**
 * Runs parts, or makes a foundation, in a process of its own; what it prints is printed behind its name. Parts that compute give way to those
 * in real time, which leave half the machine idle.
 */
const runBeside = (label, names, nice = 0) => {
  if (names.length === 0) return Promise.resolve(outcome(0))
  const child = spawn('nice', ['-n', String(nice), process.execPath, fileURLToPath(import.meta.url), inChild, ...names], {
    cwd: root,
    stdio: ['ignore', 'pipe', 'pipe', 'ipc'],
  })
  let came = outcome(0, [`${label}: it did not come to its end`])
  child.once('message', (message) => (came = message))
  for (const input of [child.stdout, child.stderr])
    createInterface({ input }).on('line', (line) => say(line === '' ? '' : `${label} | ${line}`))
  return new Promise((resolve, reject) => {
    child.once('error', reject)
    child.once('close', () => resolve(came))
  })
}
const inChild = '--beside'

/** Makes what the parts stand on, each beside the other, while parts run that stand on nothing. */
const layFoundations = async () => joined(await Promise.all(Object.keys(foundations).map((name) => runBeside(name, [name], 19))))

const runAll = async (chosen) => {
  const of = (names) => names.filter((name) => chosen.includes(name))
  const came = []
  const laid = of(standing).length > 0 ? layFoundations() : Promise.resolve(outcome(0))
  const isLaid = async (names) => {
    if (!names.some((name) => standing.includes(name)) || (await laid).failed.length === 0) return
    throw new Stop('What the tests stand on could not be made.', 'Look at the lines above.')
  }
  const besideThem = async (names) => {
    await isLaid(names)
    return runBeside('beside', names, 19)
  }
  for (const { inRealTime, beside } of stages)
    came.push(...(await Promise.all([runParts(of(inRealTime), isLaid), besideThem(of(beside))])))
  return joined(came)
}

const sayOutcome = ({ passed, failed, again }) => {
  const list = (title, tests) => tests.length > 0 && say(`\n${title}:\n${tests.map((test) => `  ${test}`).join('\n')}`)
  list('Passed at another try', again)
  list('Failed', failed)
  console.log(`${passed} passed, ${failed.length} failed`)
}

await run(async () => {
  wantNode()
  const named = process.argv.slice(2).filter((arg) => !arg.startsWith('-'))
  if (process.argv.includes(inChild)) {
    const [first] = named
    const isFoundation = first in foundations
    if (isFoundation) await foundations[first]()
    const came = isFoundation ? outcome(0) : await runParts(named)
    if (process.send) process.send(came, () => process.disconnect())
    else sayOutcome(came)
    return 0
  }
  const unknown = named.find((part) => !(part in parts))
  if (unknown !== undefined) throw new Stop(`There is no part "${unknown}".`, `Name one of: ${Object.keys(parts).join(', ')}`)
  wantPackages()
  wantDebian(['postgresql', 'chromium'])
  const came = await runAll(Object.keys(parts).filter((part) => named.length === 0 || named.includes(part)))
  sayOutcome(came)
  return came.failed.length === 0 ? 0 : 1
})
