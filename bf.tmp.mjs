import { busyFigure } from './scripts/bench/busy.mjs'
import { addBenches } from './scripts/bench/world.mjs'
import { runningUrls } from './scripts/lib/cluster.mjs'
const up = { url: 'http://127.0.0.1:4711', urls: runningUrls('look') }
const call = (await import('./scripts/bench/world.mjs')).caller(up.url)
await call('POST', '/session', { login: 'ines', password: 'saltmarsh' })
const { body: page } = await call('GET', '/airframes?standing=none&limit=9&search=N4')
const { body: job } = await call('POST', `/airframes/${page.rows[0].tag}/jobs`)
const { body: benches } = await call('GET', '/benches')
const one = { job: job.id, bench: benches[0].id }
console.log(await busyFigure(up, { linked: [one], hold: (o) => call('POST', `/benches/${o.bench}/hold`, { job: o.job }), release: (o) => call('DELETE', `/benches/${o.bench}/hold`) }))
