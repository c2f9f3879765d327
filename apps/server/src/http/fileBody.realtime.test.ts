import { randomUUID } from 'node:crypto'
import { request } from 'node:http'
import { eventually, makeWorld, type Client, type World } from '../../tests/world'

jest.setTimeout(60_000)
let world: World
let ines: Client
let joren: Client
beforeAll(async () => {
  world = await makeWorld({ inRealTime: true })
  ines = await world.signIn('ines')
  joren = await world.signIn('joren')
})
afterAll(() => world.end())

const list = Buffer.from('tag,type,board\nT-900,N4,FB-900\n')
const preview = (who: Client) => who.upload('/airframes/preview', list)

/** A file of which only the first bytes come, as over a connection that is about to fail. */
const stalled = (who: Client) => {
  const sent = request({
    port: who.port,
    method: 'POST',
    path: '/api/airframes/preview',
    headers: {
      cookie: who.cookie,
      'content-type': 'application/octet-stream',
      'content-length': 1_000,
      'idempotency-key': randomUUID(),
    },
  })
  sent.on('error', () => {})
  sent.write('tag,')
  return sent
}

test('files that never come to an end hold up only whoever sends them, and only until they are given up', async () => {
  const sent = [stalled(ines), stalled(ines)]
  await new Promise((resolve) => setTimeout(resolve, 300))
  let answered = false
  const waiting = preview(ines).then((reply) => {
    answered = true
    return reply
  })
  expect((await preview(joren)).status).toBe(200)
  expect(answered).toBe(false)
  for (const one of sent) one.destroy()
  expect((await waiting).status).toBe(200)
})

test('more of one person than may wait are told to come again', async () => {
  const sent = Array.from({ length: 14 }, () => stalled(ines))
  await new Promise((resolve) => setTimeout(resolve, 500))
  expect((await preview(ines)).status).toBe(503)
  expect((await preview(joren)).status).toBe(200)
  for (const one of sent) one.destroy()
  await eventually(async () => (await preview(ines)).status === 200)
})
