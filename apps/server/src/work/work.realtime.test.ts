import sharp from 'sharp'
import { eventually, makeWorld, passwords, type Client, type World } from '../../tests/world'

jest.setTimeout(120_000)
let world: World
let ines: Client
let job: string
beforeAll(async () => {
  world = await makeWorld({ inRealTime: true })
  ines = await world.signIn('ines')
  job = await ines.begin('T-001', world.benches.sound)
})
afterAll(() => world.end())

/** What was held up for tens of seconds; how long exactly on an idle machine is a figure of `npm run bench`. */
const mostWaitMs = 2_000

/** How long this server leaves a screen waiting while something is done, at the most, ms. */
const longestWait = async (work: () => Promise<unknown>): Promise<number> => {
  const feed = await ines.live({ job, bench: world.benches.sound })
  let longest = 0
  const sentAt = new Map<number, number>()
  feed.socket.on('message', (data: Buffer, binary: boolean) => {
    if (binary) return
    const told = JSON.parse(data.toString('utf8')) as { tell: string; ping?: number }
    if (told.tell === 'pong') longest = Math.max(longest, performance.now() - (sentAt.get(told.ping ?? -1) ?? 0))
  })
  let ping = 0
  const timer = setInterval(() => {
    sentAt.set(++ping, performance.now())
    feed.socket.send(JSON.stringify({ ping }))
  }, 20)
  await work()
  await new Promise((resolve) => setTimeout(resolve, 100))
  clearInterval(timer)
  feed.socket.close()
  return longest
}
const photo = (bytes: Uint8Array) => ines.upload<{ type: string; detail: string; sha256?: string }>(`/jobs/${job}/photos`, bytes)
const preview = (bytes: Uint8Array) => ines.upload<{ type: string; detail: string }>('/airframes/preview', bytes)

/** A drawing of 1.2 kB that asks for an hour of work: filters within filters. */
const drawing = Buffer.from(
  `<svg xmlns="http://www.w3.org/2000/svg" width="9000" height="9000"><filter id="f">${'<feGaussianBlur stdDeviation="90"/><feTurbulence baseFrequency="9" numOctaves="9"/>'.repeat(
    12,
  )}</filter><rect width="9000" height="9000" filter="url(#f)"/></svg>`,
)

test('a file of 120,000 columns, and rows without end: refused at once, and nobody waits', async () => {
  const wide = Buffer.from(`tag,type,board,${Array.from({ length: 120_000 }, (_, i) => `p${i} serial`).join(',')}\nA,N4,B\n`)
  const named = Buffer.from(`tag,type,board,${Array.from({ length: 150 }, (_, i) => `p${i} lot`).join(',')}\nA,N4,B\n`)
  const long = Buffer.from(`tag,type,board\n${'A,N4,B\n'.repeat(200_000)}`)
  const waited = await longestWait(async () => {
    expect((await preview(wide)).body.detail).toMatch(/more than 20000 characters/)
    expect((await preview(named)).body.detail).toMatch(/150 parts; 60 at most/)
    expect((await preview(long)).body.detail).toMatch(/more than 5001 rows/)
  })
  expect(waited).toBeLessThan(mostWaitMs)
})

test('a drawing, a document and a moving picture are no photo: they are not even decoded', async () => {
  const waited = await longestWait(async () => {
    const startedAt = performance.now()
    for (const bytes of [drawing, Buffer.from('%PDF-1.4 ...'), Buffer.from('GIF89a......'), Buffer.from('II*\0........')])
      expect((await photo(bytes)).body.type).toBe('/problems/file-wrong')
    expect(performance.now() - startedAt).toBeLessThan(5_000)
  })
  expect(waited).toBeLessThan(mostWaitMs)
})

test('JPEG, PNG and WebP are taken; one of a hundred million pixels is not, and says why', async () => {
  const plain = sharp({ create: { width: 600, height: 400, channels: 3, background: '#345' } })
  for (const bytes of [
    await plain.clone().jpeg().toBuffer(),
    await plain.clone().png().toBuffer(),
    await plain.clone().webp().toBuffer(),
  ])
    expect((await photo(bytes)).status).toBe(201)
  const huge = await sharp({
    create: { width: 11_000, height: 10_000, channels: 3, background: '#345' },
    limitInputPixels: false,
  })
    .png({ compressionLevel: 9 })
    .toBuffer()
  expect((await photo(huge)).body.detail).toMatch(/million pixels/)
})

test('twenty large pictures at once: some are told to come again, the rest are kept, and people sign in meanwhile', async () => {
  const large = await sharp({ create: { width: 8_000, height: 7_000, channels: 3, background: '#543' } })
    .png()
    .toBuffer()
  const before = process.memoryUsage.rss()
  let [signedInAt, keptAt] = [Infinity, 0]
  const waited = await longestWait(async () => {
    const sent = Promise.all(Array.from({ length: 20 }, (_, i) => photo(Buffer.concat([large, Buffer.from([i])]))))
    expect((await world.visitor().post('/session', { login: 'joren', password: passwords.joren })).status).toBe(200)
    signedInAt = performance.now()
    const replies = await sent
    keptAt = performance.now()
    expect(replies.every((r) => r.status === 201 || r.body.type === '/problems/busy')).toBe(true)
    expect(replies.some((r) => r.status === 201)).toBe(true)
  })
  expect(signedInAt).toBeLessThan(keptAt)
  expect(waited).toBeLessThan(mostWaitMs)
  expect((process.memoryUsage.rss() - before) / 1e6).toBeLessThan(700)
  await eventually(async () => (await photo(large)).status === 201, 30_000)
})
