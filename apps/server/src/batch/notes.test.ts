import type { BatchNote } from '@taraf/contract'
import { openItems } from '@taraf/core'
import { makeWorld, type Client, type World } from '../../tests/world'

jest.setTimeout(60_000)
let world: World
let ines: Client
let maud: Client
beforeAll(async () => {
  world = await makeWorld()
  ines = await world.signIn('ines')
  maud = await world.signIn('maud')
  const regulator = (lot: string) => [{ part: 'regulator', model: 'Spar 5 V', serial: null, lot }]
  const airframes = [
    ['A-1', 'R9'],
    ['A-2', 'R10'],
    ['A-3', 'R11'],
    ['A-4', 'R12'],
  ].map(([tag = '', lot = '']) => ({ tag, type: 'N4', board: `B-${tag}`, parts: regulator(lot) }))
  await ines.post('/airframes', { airframes })
})
afterAll(() => world.end())

const note = {
  part: 'regulator',
  lotFrom: 'R9',
  lotTo: 'R11',
  defect: 'sags when warm',
  inspection: 'Measure the rail after two minutes on the battery.',
}
const open = async (tag: string) => (await ines.post<{ id: string }>(`/airframes/${tag}/jobs`)).body.id
const itemsOf = async (job: string) => openItems((await ines.job(job)).entries)

test('a note reaches the open cards of the lots and those opened later; what is handed over is listed', async () => {
  const before = await open('A-1')
  const outside = await open('A-4')
  // Handed over before anybody knew.
  const done = await open('A-3')
  await maud.post(`/jobs/${done}/changes`, { change: { what: 'knock' }, cause: 'a start' })
  expect((await ines.post(`/jobs/${done}/signatures`, { role: 'technician', login: 'ines', password: 'saltmarsh' })).status).toBe(
    201,
  )
  expect((await maud.post(`/jobs/${done}/signatures`, { role: 'lead', login: 'maud', password: 'springtide' })).status).toBe(201)

  const { status, body } = await ines.post<BatchNote>('/batch-notes', note)
  expect(status).toBe(201)
  expect(body).toMatchObject({ open: [{ tag: 'A-1', job: before }], handedOver: [{ tag: 'A-3' }], waiting: ['A-2'] })
  expect(await itemsOf(before)).toMatchObject([
    { what: 'inspection', blocks: true, note: body.id, words: expect.stringMatching(/sags when warm/) as unknown },
  ])
  expect(await itemsOf(outside)).toEqual([])
  // R10 is between R9 and R11, as people read it.
  expect(await itemsOf(await open('A-2'))).toHaveLength(1)
  expect((await ines.get<BatchNote[]>('/batch-notes')).body[0]?.waiting).toEqual([])
})

test('the inspection blocks the signature until it is closed with what was found', async () => {
  const { job } = (await ines.get<BatchNote[]>('/batch-notes')).body[0]?.open[0] ?? { job: '' }
  const sign = () => ines.post(`/jobs/${job}/signatures`, { role: 'technician', login: 'ines', password: 'saltmarsh' })
  expect((await sign()).body).toMatchObject({
    type: '/problems/cannot-sign',
    detail: expect.stringMatching(/^Still open: regulator/) as unknown,
  })
  const [item] = await itemsOf(job)
  expect((await ines.post(`/jobs/${job}/items/${item?.seq}/close`, { words: '5.02 V after two minutes' })).status).toBe(201)
  expect((await ines.post(`/jobs/${job}/items/${item?.seq}/close`, { words: 'once more' })).status).toBe(404)
  expect((await sign()).status).toBe(201)
})

test('lots the wrong way round are refused', async () => {
  expect((await ines.post('/batch-notes', { ...note, lotFrom: 'R11', lotTo: 'R9' })).body.detail).toMatch(/R9 comes before R11/)
})
