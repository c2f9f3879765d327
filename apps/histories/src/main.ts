import { runHistory } from './history'
import { ShopBase, type Urls } from './base'
const urls = JSON.parse(process.env.TARAF_URLS ?? '{}') as Urls
const base = await ShopBase.make(urls, 'h1')
const [seed = 1, count = 1] = process.argv.slice(2).map(Number)
for (let i = seed; i < seed + count; i++) {
  const at = performance.now()
  const note = await runHistory(base, i, process.env.FOLLOW ? (w) => console.log(w) : null)
  console.log(JSON.stringify(note), Math.round(performance.now() - at), 'ms')
}
await base.close()
process.exit(0)
