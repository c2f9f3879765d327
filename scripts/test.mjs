// npm test [PART...]: sets everything up, runs every part (or those named), and closes with "N passed, N failed".
import { spawn } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
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
  return counted(file, ok, ({ numPassedTests, numFailedTests, numFailedTestSuites }) => ({
    passed: numPassedTests,
    failed: numFailedTests || numFailedTestSuites,
  }))
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

const playwright = async () => {
  wantWeb()
  erase('e2e')
  const up = await bringUp({ name: 'e2e', quiet: true })
  const file = join(results, 'e2e.json')
  try {
    const ok = await command(
      ['playwright', 'test'],
      { TARAF_URL: up.url, TARAF_SUPERVISOR: String(process.pid), PLAYWRIGHT_JSON_OUTPUT_NAME: file },
      55,
    )
    return counted(file, ok, ({ stats }) => ({ passed: stats.expected + stats.flaky, failed: stats.unexpected }))
  } finally {
    await up.stop()
  }
}

const parts = {
  types: async () => one(await command(['tsc', '-p', '.'])),
  lint: async () => {
    const [rules, format] = [await command(['eslint', '.']), await command(['prettier', '--check', '--log-level', 'warn', '.'])]
    return { passed: Number(rules) + Number(format), failed: Number(!rules) + Number(!format) }
  },
  // Nothing of these runs in real time: every core has its share, where Jest would leave one idle.
  unit: () => jest(['unit', 'app'], '--maxWorkers=100%'),
  reference: () => jest(['reference']),
  // Boards and servers of these run in real time: one file after the other.
  server: () => jest(['server'], '--runInBand'),
  start: () => {
    wantWeb()
    return jest(['start'], '--runInBand')
  },
  e2e: playwright,
}

await run(async () => {
  wantNode()
  const wanted = process.argv.slice(2).filter((arg) => !arg.startsWith('-'))
  const unknown = wanted.find((part) => !(part in parts))
  if (unknown !== undefined) throw new Stop(`There is no part "${unknown}".`, `Name one of: ${Object.keys(parts).join(', ')}`)
  wantPackages()
  wantDebian(['postgresql', 'chromium'])
  const total = { passed: 0, failed: 0 }
  for (const part of wanted.length > 0 ? wanted : Object.keys(parts)) {
    say(`\n== ${part}`)
    const at = Date.now()
    const { passed, failed } = await parts[part]()
    say(`== ${part}: ${passed} passed, ${failed} failed in ${Math.round((Date.now() - at) / 1000)} s`)
    total.passed += passed
    total.failed += failed
  }
  rmSync(results, { recursive: true, force: true })
  console.log(`${total.passed} passed, ${total.failed} failed`)
  return total.failed === 0 ? 0 : 1
})
