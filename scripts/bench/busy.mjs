// What a held control waits for while the shop is asked for all that is heavy: its signs of life must never wait behind other work.
import { fork } from 'node:child_process'
import { Worker } from 'node:worker_threads'
import { pause, quantile } from './median.mjs'
import { caller } from './world.mjs'

const seconds = 20
// A server that has just started compiles its code first; a shop's has been up since the morning.
const warmUpMs = 8_000

/** @param world benches with their cards, one of which is held meanwhile */
export const busyFigure = async (up, world) => {
  const [one] = world.linked
  const { job, bench } = one
  await world.hold(one)
  const call = caller(up.url)
  const { cookie } = await call('POST', '/session', { login: 'ines', password: 'saltmarsh' })
  const attack = fork(new URL('./attack.mjs', import.meta.url), [up.url, job])
  await new Promise((resolve) => attack.once('message', resolve))
  await pause(warmUpMs)
  // In a thread of its own, so that what this process is busy with does not count.
  const waits = await new Promise((resolve, reject) => {
    const pinger = new Worker(new URL('./pinger.mjs', import.meta.url), {
      workerData: { url: up.url, cookie, job, bench, seconds },
    })
    pinger.once('message', resolve)
    pinger.once('error', reject)
  })
  attack.kill()
  await world.release(one)
  return {
    figure: 'signs of life answered beside all that is heavy, p99, ms',
    found: quantile(waits, 0.99).toFixed(1),
    wanted: '<= 20',
  }
}
