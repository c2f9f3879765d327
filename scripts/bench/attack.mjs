// All that is heavy, asked of a shop again and again until this process is ended. It gives way to whoever measures: attackers are elsewhere.
import { constants, setPriority } from 'node:os'
import sharp from 'sharp'
import { pause } from './median.mjs'
import { caller } from './world.mjs'

setPriority(constants.priority.PRIORITY_LOW)
const [url, job] = process.argv.slice(2)
const call = caller(url)
await call('POST', '/session', { login: 'ines', password: 'saltmarsh' })
const settled = (work) => work.catch(() => null)
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
const again = async (work) => {
  for (;;) {
    await settled(work())
    await pause(20)
  }
}
const visitor = () => caller(url)('POST', '/session', { login: 'joren', password: 'dunegrass' })
const attack = [
  again(() => Promise.all(Array.from({ length: 12 }, () => settled(call('POST', `/jobs/${job}/photos`, picture))))),
  again(() => call('POST', `/jobs/${job}/photos`, drawing)),
  again(() => call('POST', '/airframes/preview', wide)),
  again(() => call('POST', '/airframes/preview', long)),
  again(() => call('POST', '/images?file=none.hex', image)),
  again(() => Promise.all(Array.from({ length: 6 }, () => settled(visitor())))),
]
process.send?.('attacking')
await Promise.all(attack)
