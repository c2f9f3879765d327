// npm run -s db:url [-- --owner] [-- --name NAME]: the connection URL of the running database.
import { parseArgs } from 'node:util'
import { runningUrls } from './lib/cluster.mjs'
import { Stop, run } from './lib/say.mjs'

await run(() => {
  const { values } = parseArgs({ options: { owner: { type: 'boolean' }, name: { type: 'string' } } })
  const urls = runningUrls(values.name ?? 'main')
  if (urls === null) throw new Stop('The database does not run.', 'Start it with: npm start')
  console.log(values.owner ? urls.owner : urls.server)
})
