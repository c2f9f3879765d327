import type { AirframePage, AirframeView, ImportPreview } from '@taraf/contract'
import { makeWorld, type Client, type World } from '../../tests/world'

jest.setTimeout(60_000)
let world: World
let ines: Client
beforeAll(async () => {
  world = await makeWorld({ leavesOut: [], withBoard: true })
  ines = await world.signIn('ines')
})
afterAll(() => world.end())

const count = async () => (await ines.get<AirframePage>('/airframes?limit=1')).body.total
const preview = (csv: string | Uint8Array) =>
  ines.upload<ImportPreview & { detail: string; type: string }>(
    '/airframes/preview',
    typeof csv === 'string' ? Buffer.from(csv) : csv,
  )
const take = (csv: string) => ines.upload<{ tags: string[]; detail: string }>('/airframes/import', Buffer.from(csv))

describe('registering airframes', () => {
  test('one, with the serials and lots of its parts', async () => {
    const parts = [{ part: 'regulator', model: 'Spar 5 V', serial: 'S-1', lot: 'R7' }]
    expect((await ines.post('/airframes', { airframes: [{ tag: 'N4-100', type: 'N4', board: 'FB-100', parts }] })).status).toBe(
      201,
    )
    expect((await ines.get<AirframeView>('/airframes/N4-100')).body).toMatchObject({
      board: 'FB-100',
      parts,
      sheet: { version: 3 },
    })
  })

  test('a series, all of it or nothing', async () => {
    const series = (boards: string[]) => boards.map((board, i) => ({ tag: `N4-20${i}`, type: 'N4', board }))
    const before = await count()
    expect((await ines.post('/airframes', { airframes: series(['FB-200', 'FB-201', 'FB-100']) })).body).toMatchObject({
      type: '/problems/airframe-wrong',
      detail: 'N4-202: board FB-100 is in another airframe.',
    })
    expect(await count()).toBe(before)
    expect((await ines.post('/airframes', { airframes: series(['FB-200', 'FB-201', 'FB-202']) })).status).toBe(201)
    expect(await count()).toBe(before + 3)
  })

  test('a tag is one whatever its case, at the same moment too, and is found in any', async () => {
    const one = (tag: string, board: string) => ines.post('/airframes', { airframes: [{ tag, type: 'N4', board }] })
    const replies = await Promise.all(['N4-x1', 'n4-X1', 'N4-X1', 'n4-x1'].map((tag, i) => one(tag, `FB-39${i}`)))
    expect(replies.map((r) => r.status).sort()).toEqual([201, 422, 422, 422])
    const { tag } = (await ines.get<AirframeView>('/airframes/n4-x1')).body
    expect((await ines.get<AirframeView>('/airframes/N4-X1')).body.tag).toBe(tag)
    expect((await ines.post('/airframes/n4-X1/jobs')).status).toBe(201)
    expect((await ines.post('/airframes/N4-x1/jobs')).body.type).toBe('/problems/job-open')
  })

  test('a reader cannot', async () => {
    const piet = await world.signIn('piet')
    expect((await piet.post('/airframes', { airframes: [{ tag: 'X', type: 'N4', board: 'Y' }] })).status).toBe(403)
  })

  test('a part that is replaced goes on the open card', async () => {
    const { body } = await ines.post<{ id: string }>('/airframes/N4-100/jobs')
    const parts = [{ part: 'regulator', model: 'Spar 5 V', serial: 'S-9', lot: 'R12' }]
    expect((await ines.post('/airframes/N4-100/parts', { parts, cause: 'sagged when warm' })).status).toBe(200)
    expect((await ines.job(body.id)).entries.at(-1)?.body).toMatchObject({
      change: { what: 'part', part: 'regulator', act: 'replaced' },
      cause: 'sagged when warm',
    })
    expect((await ines.get<AirframeView>('/airframes/N4-100')).body.parts).toEqual(parts)
  })
})

describe('a file of airframes', () => {
  test('is shown row by row with what is wrong, and nothing is taken before it is confirmed', async () => {
    const csv =
      'tag,type,board,regulator serial,regulator lot\r\nN4-300,N4,FB-300,S-300,R8\r\nN4-301,N9,FB-301,,\r\nN4-300,N4,FB-302,S-300,\r\n'
    const before = await count()
    const { body } = await preview(csv)
    expect(body.wrong).toBe(2)
    expect(body.rows).toEqual([
      { line: 2, tag: 'N4-300', type: 'N4', board: 'FB-300', parts: 1, wrong: [] },
      { line: 3, tag: 'N4-301', type: 'N9', board: 'FB-301', parts: 0, wrong: ['there is no build sheet N9'] },
      {
        line: 4,
        tag: 'N4-300',
        type: 'N4',
        board: 'FB-302',
        parts: 1,
        wrong: ['tag N4-300 is on row 1 of the list too', 'regulator S-300 is on row 1 of the list too'],
      },
    ])
    const { status, body: refused } = await take(csv)
    expect(status).toBe(422)
    expect(refused.detail).toMatch(/^2 rows cannot be taken; line 3: there is no build sheet N9/)
    expect(await count()).toBe(before)
  })

  test('that is right is taken whole, and is another version than the newest where it says so', async () => {
    const csv = 'board,tag,type,version,regulator lot\nFB-310,N4-310,N4,3,R8\nFB-311,"N4-311",N4,,"R9"\n'
    expect((await take(csv)).body.tags).toEqual(['N4-310', 'N4-311'])
    expect((await ines.get<AirframeView>('/airframes/N4-311')).body.parts).toEqual([
      { part: 'regulator', model: 'Spar 5 V', serial: null, lot: 'R9' },
    ])
  })

  const head = 'tag,type,board\n'
  test.each<[string, string | Uint8Array, RegExp]>([
    ['a quote that is never closed', `${head}"N4-400,N4,FB-400\n`, /quoting is wrong/],
    ['a quote in the middle of a cell', `${head}N4"-400,N4,FB-400\n`, /quoting is wrong/],
    ['text behind a closing quote', `${head}"N4-400"x,N4,FB-400\n`, /quoting is wrong/],
    ['another encoding', Buffer.concat([Buffer.from(head), Buffer.from([0xe9, 0x2c, 0x4e, 0x34])]), /not in UTF-8/],
    ['UTF-16', Buffer.from(`\ufeff${head}`, 'utf16le'), /not in UTF-8/],
    ['UTF-16 without its mark', Buffer.from(head, 'utf16le'), /noughts/],
    ['no first row that names the columns', 'N4-400,N4,FB-400\n', /missing: tag, type, board/],
    ['a column twice', 'tag,type,board,tag\na,N4,b,c\n', /"tag" is there twice/],
    ['a column that nothing is', 'tag,type,board,colour\na,N4,b,red\n', /"colour" is unknown/],
    ['nothing', head, /no row below/],
  ])('%s is refused as a whole', async (_what, csv, why) => {
    const { status, body } = await preview(csv)
    expect({ status, type: body.type }).toEqual({ status: 422, type: '/problems/file-wrong' })
    expect(body.detail).toMatch(why)
  })

  test('a row with too few cells, an empty tag, a part that the sheet lacks: said at the row', async () => {
    const { body } = await preview('tag,type,board,wing serial\nN4-500,N4\n,N4,FB-501,\nN4-502,N4,FB-502,W1\n')
    expect(body.rows.map((r) => r.wrong[0])).toEqual([
      'it has 2 cells where the first row has 4',
      'tag: a tag is needed',
      'the sheet of N4 has no part "wing"',
    ])
  })
})
