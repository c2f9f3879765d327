// A real PostgreSQL for the server's tests: a cluster of its own for each of Jest's projects, started once for all files.
import { keysFolder, startCluster } from '../../../scripts/lib/cluster.mjs'
import { runOnce } from '../../../scripts/lib/supervise.mjs'

export default async function startDatabase(_config, { displayName: { name: project } }) {
  const name = `test-${project}`
  const database = await startCluster(name)
  const { urls } = database
  await runOnce('apps/server/src/commands/prepare.ts', [], {
    TARAF_SUPERUSER_URL: urls.superuser,
    TARAF_OWNER_URL: urls.owner,
    TARAF_PASSWORDS: JSON.stringify(urls.passwords),
    TARAF_KEYS: keysFolder(name),
  })
  process.env.TARAF_TEST_URLS = JSON.stringify(urls)
  globalThis.tarafTestDatabases = [...(globalThis.tarafTestDatabases ?? []), database]
}
