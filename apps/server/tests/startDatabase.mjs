// A real PostgreSQL for the server's tests: a cluster of its own, started once for all files.
import { keysFolder, startCluster } from '../../../scripts/lib/cluster.mjs'
import { runOnce } from '../../../scripts/lib/supervise.mjs'

export default async function startDatabase() {
  const database = await startCluster('test')
  const { urls } = database
  await runOnce('apps/server/src/commands/prepare.ts', [], {
    TARAF_SUPERUSER_URL: urls.superuser,
    TARAF_OWNER_URL: urls.owner,
    TARAF_PASSWORDS: JSON.stringify(urls.passwords),
    TARAF_KEYS: keysFolder('test'),
  })
  process.env.TARAF_TEST_URLS = JSON.stringify(urls)
  globalThis.tarafTestDatabase = database
}
