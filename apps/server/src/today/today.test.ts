import type { TodayView } from '@taraf/contract'
import { eventually, makeWorld, ofOrientation, type Client, type World } from '../../tests/world'

jest.setTimeout(60_000)
let world: World
let [ines, joren, maud, piet] = [] as unknown as Client[] as [Client, Client, Client, Client]
beforeAll(async () => {
  world = await makeWorld({ leavesOut: ofOrientation })
  ines = await world.signIn('ines')
  joren = await world.signIn('joren')
  maud = await world.signIn('maud')
  piet = await world.signIn('piet')
})
afterAll(() => world.end())

const todayOf = async (client: Client) => (await client.get<TodayView>('/today')).body

test('nothing on the benches, nothing to do', async () => {
  expect(await todayOf(ines)).toEqual({ benches: [], cards: [], toSign: [], stale: [], notes: [] })
})

test('a card on a bench says who, where and what comes next; each sees their own, a lead and a reader all', async () => {
  const card = await ines.begin('T-001', world.benches.sound)
  await joren.post('/airframes/T-002/jobs')
  const mine = await todayOf(ines)
  expect(mine.benches).toEqual([
    {
      bench: world.benches.sound,
      name: 'sound bench',
      job: card,
      tag: 'T-001',
      by: { id: world.ids.ines, name: 'Ines' },
      next: expect.any(String) as string,
      motors: 'still',
    },
  ])
  expect(mine.cards.map((c) => c.tag)).toEqual(['T-001'])
  expect((await todayOf(joren)).cards.map((c) => c.tag)).toEqual(['T-002'])
  expect((await todayOf(joren)).benches).toEqual(mine.benches)
  for (const all of [maud, piet]) expect((await todayOf(all)).cards.map((c) => c.tag).sort()).toEqual(['T-001', 'T-002'])
})

test('what a knock made stale says so with the entry, and what is parked says why', async () => {
  const { job } = (await todayOf(ines)).benches[0] ?? { job: '' }
  await ines.take(job, 'sensors.gyroRest')
  await ines.post(`/jobs/${job}/changes`, { change: { what: 'knock' }, cause: 'Taken out to solder.' })
  const { stale } = await todayOf(ines)
  expect(stale).toEqual([
    {
      job,
      tag: 'T-001',
      checks: 1,
      by: expect.objectContaining({ body: expect.objectContaining({ cause: 'Taken out to solder.' }) as object }) as object,
    },
  ])
  await ines.post(`/jobs/${job}/park`, { reason: 'waits for a receiver' })
  const parked = await todayOf(ines)
  expect(parked.benches).toEqual([])
  expect(parked.cards[0]).toMatchObject({ tag: 'T-001', parked: 'waits for a receiver' })
  await ines.post(`/jobs/${job}/resume`)
  expect((await todayOf(ines)).cards[0]?.parked).toBeNull()
})

test('a signature waits for the lead, who is somebody else; the screens of the shop are told when a bench changes', async () => {
  const { job } = (await todayOf(ines)).cards[0] ?? { job: '' }
  expect((await ines.post(`/jobs/${job}/signatures`, { role: 'technician', login: 'ines', password: 'saltmarsh' })).status).toBe(
    201,
  )
  expect((await todayOf(maud)).toSign).toEqual([{ job, tag: 'T-001', as: 'lead', after: 'Ines' }])
  expect((await todayOf(ines)).toSign).toEqual([])
  const feed = await maud.live({})
  await ines.post(`/benches/${world.benches.sound}/hold`, { job })
  await eventually(() => feed.told.some((t) => t.tell === 'changed'))
  feed.socket.close()
})
