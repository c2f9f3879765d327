// npm run -s histories -- --count N --seed S [--replay SEED]: a whole shop as a simulation, on a PostgreSQL of its own.
import { spawnSync } from 'node:child_process'
import { keysFolder, startCluster } from './lib/cluster.mjs'
import { bundle } from './lib/bundle.mjs'
import { wantDebian, wantNode, wantPackages } from './lib/install.mjs'
import { run } from './lib/say.mjs'
import { runOnce } from './lib/supervise.mjs'

await run(async () => {
  wantNode()
  wantDebian(['postgresql'])
  wantPackages()
  const bundled = bundle('apps/histories/src/main.ts')
  const { urls, stop } = await startCluster('histories')
  try {
    await runOnce('apps/server/src/commands/prepare.ts', [], {
      TARAF_SUPERUSER_URL: urls.superuser,
      TARAF_OWNER_URL: urls.owner,
      TARAF_PASSWORDS: JSON.stringify(urls.passwords),
      TARAF_KEYS: keysFolder('histories'),
    })
    const { status } = spawnSync(process.execPath, ['--enable-source-maps', await bundled, ...process.argv.slice(2)], {
      stdio: 'inherit',
      env: { ...process.env, TARAF_URLS: JSON.stringify(urls) },
    })
    return status ?? 1
  } finally {
    await stop()
  }
})
