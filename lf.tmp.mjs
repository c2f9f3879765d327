import { listFigure } from './scripts/bench/list.mjs'
import { runningUrls } from './scripts/lib/cluster.mjs'
console.log(await listFigure({ url: 'http://127.0.0.1:4711', urls: runningUrls('look') }))
