// npm run -s kills -- --count N --seed S: kills and pauses of a shop's parts while people work, then the record held against what was promised.
import { spawnSync } from 'node:child_process'
import { join } from 'node:path'
import { parseArgs } from 'node:util'
import pg from 'pg'
import { erase, keysFolder } from '../lib/cluster.mjs'
import { root, run, say } from '../lib/say.mjs'
import { bringUp } from '../lib/supervise.mjs'
import { drawsOf } from './draws.mjs'
import { Promises, Worker, heldAgainst, takeAway, workAway } from './shop.mjs'

const pause = (ms) => new Promise((resolve) => setTimeout(resolve, ms))

/** What is done to a part: ended at once, or stopped for a while. */
const harm = async (pid, draw) => {
  const isKill = draw() < 0.6
  try {
    process.kill(pid, isKill ? 'SIGKILL' : 'SIGSTOP')
    if (isKill) return 'killed'
    await pause(200 + draw() ** 3 * 8_000)
    process.kill(pid, 'SIGCONT')
    return 'paused'
  } catch {
    return null // it was down already
  }
}

await run(async () => {
  const { values } = parseArgs({
    options: {
      count: { type: 'string', default: '12' },
      seed: { type: 'string', default: '1' },
      name: { type: 'string', default: 'attack' },
    },
  })
  const [count, seed] = [Number(values.count), Number(values.seed)]
  const { name } = values
  erase(name)
  const up = await bringUp({ name, quiet: process.env.TARAF_LOUD === undefined })
  const draw = drawsOf(seed)
  const promises = new Promises()
  let over = false
  const isOver = () => over
  const people = [
    ['ines', 'saltmarsh'],
    ['joren', 'dunegrass'],
    ['maud', 'springtide'],
  ]
  const work = [0, 1, 2, 3, 4, 5].map((i) => {
    const [login, password] = people[i % 3]
    return workAway(new Worker(up.url, login, password), `K${seed}${'abcdef'[i]}`, promises, isOver)
  })
  const db = new pg.Client({ connectionString: up.urls.owner })
  await db.connect()
  const { rows: benches } = await db.query('SELECT id, address FROM benches ORDER BY name LIMIT 2')
  const { rows: boards } = await db.query(
    `SELECT a.tag FROM airframes a WHERE NOT EXISTS (SELECT 1 FROM jobs j WHERE j.airframe_id = a.id) ORDER BY tag LIMIT 2`,
  )
  await db.end()
  benches.forEach(({ id }, i) => work.push(takeAway(new Worker(up.url, ...people[i]), boards[i]?.tag ?? 'none', id, isOver)))
  // What is harmed is a shop at work.
  while (promises.entries.length < 12) await pause(100)
  const done = {}
  for (let i = 0; i < count;) {
    const pids = up.pids()
    const which = draw()
    const part = which < 0.5 ? 'server' : which < 0.8 ? 'database' : 'rig'
    const what = await harm(pids[part], draw)
    if (what !== null) {
      i += 1
      done[`${part} ${what}`] = (done[`${part} ${what}`] ?? 0) + 1
      if (i % 50 === 0) say(`${i} of ${count}: ${promises.entries.length} entries promised`)
    }
    await pause(draw() ** 2 * 4_000)
  }
  over = true
  await Promise.all(work)
  // Whatever was under way ends by itself, and what it left is swept up.
  const visitor = new Worker(up.url, ...people[0])
  for (let waited = 0; (await visitor.once('GET', '/health'))?.status !== 200; waited += 500) {
    if (waited > 90_000) throw new Error('it did not come back')
    await pause(500)
  }
  await pause(9_000)
  const check = new pg.Client({ connectionString: up.urls.owner })
  await check.connect()
  const wrong = await heldAgainst(check, promises)
  await check.end()
  const audit = spawnSync(process.execPath, ['--import', 'tsx', join(root, 'apps/server/src/commands/audit.ts')], {
    cwd: root,
    encoding: 'utf8',
    env: { ...process.env, TARAF_DATABASE_URL: up.urls.server, TARAF_KEYS: keysFolder(name) },
  })
  await up.stop()
  console.log(
    JSON.stringify({
      format: 'taraf-kills/1',
      seed,
      count,
      done,
      promised: { entries: promises.entries.length, airframes: promises.airframes.length, cards: promises.opened.length },
      wrong,
      audit: audit.stdout.trim().split('\n'),
    }),
  )
  return wrong.length === 0 && audit.status === 0 ? 0 : 1
})
