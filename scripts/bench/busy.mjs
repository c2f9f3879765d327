// What a held control waits for while the shop is asked for all that is heavy: its signs of life must never wait behind other work.
import { fork } from 'node:child_process'
import { Worker } from 'node:worker_threads'
import { median, pause, quantile } from './median.mjs'
import { caller } from './world.mjs'

const runs = 5
const seconds = 8
// A server that has just started compiles its code first; a shop's has been up since the morning.
const warmUpMs = 8_000

/** How long signs of life waited for their answers, ms. In a thread of its own, so that what this process is busy with does not count. */
const waits = (given) =>
  new Promise((resolve, reject) => {
    const pinger = new Worker(new URL('./pinger.mjs', import.meta.url), { workerData: { ...given, seconds } })
    pinger.once('message', resolve)
    pinger.once('error', reject)
  })

/** @param world benches with their cards, one of which is held meanwhile */
export const busyFigures = async (up, world) => {
  const [one] = world.linked
  const { job, bench } = one
  await world.hold(one)
  const call = caller(up.url)
  const { cookie } = await call('POST', '/session', { login: 'ines', password: 'saltmarsh' })
  const echo = fork(new URL('./echo.mjs', import.meta.url))
  const { port } = await new Promise((resolve) => echo.once('message', resolve))
  const attack = fork(new URL('./attack.mjs', import.meta.url), [up.url, job])
  await new Promise((resolve) => attack.once('message', resolve))
  await pause(warmUpMs)
  const found = []
  for (let i = 0; i < runs; i++)
    found.push(
      await Promise.all([
        waits({ url: up.url, cookie, job, bench }),
        waits({ url: `http://127.0.0.1:${port}`, cookie, job, bench }),
      ]),
    )
  attack.kill()
  echo.kill()
  await world.release(one)
  const p99 = (which) => median(found.map((run) => quantile(run[which], 0.99))).toFixed(1)
  return [
    { figure: 'a bare process that only answers signs of life, beside the same, p99, ms', found: p99(1), wanted: 'baseline' },
    { figure: 'signs of life answered beside all that is heavy, p99, ms', found: p99(0), wanted: '<= 20' },
  ]
}
