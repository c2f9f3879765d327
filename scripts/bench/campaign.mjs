import { spawnSync } from 'node:child_process'
import { join } from 'node:path'
import { root } from '../lib/say.mjs'
import { median } from './median.mjs'

const [runs, airframes] = [5, 40]

const printed = (args) => {
  const { status, stdout, stderr } = spawnSync(process.execPath, args, { cwd: root, encoding: 'utf8', maxBuffer: 2 ** 26 })
  if (status !== 0) throw new Error(stderr)
  return JSON.parse(stdout)
}

/** The solvers against a general-purpose library. */
export const coreFigures = () => printed(['--import', 'tsx', join(root, 'scripts/bench/core.ts')])

/** What the simulated airframe costs in time and memory. */
export const rigFigures = () => printed(['--expose-gc', '--import', 'tsx', join(root, 'scripts/bench/rig.ts')])

/** Simulated hours a minute of a campaign on all cores, with the start of its processes. */
export const campaignSpeed = () => {
  const speeds = Array.from({ length: runs }, (_, i) => {
    const report = printed(
      ['--import', 'tsx', join(root, 'apps/campaign/src/main.ts'), '--count', airframes, '--seed', i + 1].map(String),
    )
    return (report.simulatedMinutesPerAirframe * report.airframes) / report.wallSeconds
  })
  return {
    figure: `campaign of ${airframes} airframes, simulated hours a minute`,
    found: median(speeds).toFixed(0),
    wanted: '>= 60',
  }
}
