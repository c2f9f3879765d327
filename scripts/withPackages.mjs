// Runs a TypeScript command of the project, after installing the npm packages where they are missing.
import { spawnSync } from 'node:child_process'
import { join } from 'node:path'
import { bundle } from './lib/bundle.mjs'
import { wantNode, wantPackages } from './lib/install.mjs'
import { keysFolder, runningUrls } from './lib/cluster.mjs'
import { root, run } from './lib/say.mjs'

await run(async () => {
  wantNode()
  wantPackages()
  const [file, ...args] = process.argv.slice(2)
  const urls = file.endsWith('audit.ts') && !process.env.TARAF_DATABASE_URL ? runningUrls('main') : null
  const how = file.startsWith('apps/campaign/')
    ? ['--enable-source-maps', await bundle(file)]
    : ['--import', 'tsx', join(root, file)]
  const { status } = spawnSync(process.execPath, [...how, ...args], {
    stdio: 'inherit',
    env: { ...process.env, ...(urls === null ? {} : { TARAF_DATABASE_URL: urls.server, TARAF_KEYS: keysFolder('main') }) },
  })
  return status ?? 1
})
