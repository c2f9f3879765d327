// What a held control waits for while the shop is asked for all that is heavy: its signs of life must never wait behind other work.
import { Worker } from 'node:worker_threads'
import sharp from 'sharp'
import { pause, quantile } from './median.mjs'
import { caller } from './world.mjs'

const seconds = 20

const settled = (work) => work.catch(() => null)

/** @param world benches with their cards, one of which is held meanwhile */
export const busyFigure = async (up, world) => {
  const [one] = world.linked
  const { job, bench } = one
  await world.hold(one)
  const call = caller(up.url)
  const { cookie } = await call('POST', '/session', { login: 'ines', password: 'saltmarsh' })
  const picture = await sharp({ create: { width: 8_000, height: 7_000, channels: 3, background: '#345' } })
    .png()
    .toBuffer()
  const wide = Buffer.from(`tag,type,board,${Array.from({ length: 120_000 }, (_, i) => `p${i} lot`).join(',')}\nA,N4,B\n`)
  const long = Buffer.from(['tag,type,board', ...Array.from({ length: 5_000 }, (_, i) => `BU-${i},N4,BUB-${i}`)].join('\r\n'))
  const blur = '<feGaussianBlur stdDeviation="90"/>'.repeat(20)
  const drawing = Buffer.from(
    `<svg xmlns="http://www.w3.org/2000/svg" width="9000" height="9000"><filter id="f">${blur}</filter><rect width="9000" height="9000" filter="url(#f)"/></svg>`,
  )
  const image = Buffer.from(':020000040800F2\n'.repeat(60_000))
  let over = false
  const again = async (work) => {
    while (!over) {
      await settled(work())
      await pause(20)
    }
  }
  const visitor = () => caller(up.url)('POST', '/session', { login: 'joren', password: 'dunegrass' })
  const attack = [
    again(() => Promise.all(Array.from({ length: 12 }, () => settled(call('POST', `/jobs/${job}/photos`, picture))))),
    again(() => call('POST', `/jobs/${job}/photos`, drawing)),
    again(() => call('POST', '/airframes/preview', wide)),
    again(() => call('POST', '/airframes/preview', long)),
    again(() => call('POST', '/images?file=none.hex', image)),
    again(() => Promise.all(Array.from({ length: 6 }, () => settled(visitor())))),
  ]
  // In a thread of its own, so that what this process is busy with does not count.
  const waits = await new Promise((resolve, reject) => {
    const pinger = new Worker(new URL('./pinger.mjs', import.meta.url), {
      workerData: { url: up.url, cookie, job, bench, seconds },
    })
    pinger.once('message', resolve)
    pinger.once('error', reject)
  })
  over = true
  await Promise.all(attack)
  await world.release(one)
  return {
    figure: 'signs of life answered beside all that is heavy, p99, ms',
    found: quantile(waits, 0.99).toFixed(1),
    wanted: '<= 20',
  }
}
