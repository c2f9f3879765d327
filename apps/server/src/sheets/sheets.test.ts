import type { SheetInput, SheetRow, SheetView } from '@taraf/contract'
import { sheetOf } from '@taraf/demo'
import { makeWorld, type Client, type World } from '../../tests/world'

jest.setTimeout(60_000)
let world: World
let maud: Client
let ines: Client
const base = (): SheetInput => structuredClone(sheetOf('L4'))
beforeAll(async () => {
  world = await makeWorld({ leavesOut: [], type: 'L4', withBoard: true })
  maud = await world.signIn('maud')
  ines = await world.signIn('ines')
  // A board of the target has been linked: its settings are known.
  await ines.begin('T-001', world.benches.sound)
})
afterAll(() => world.end())

const make = <Body>(sheet: object) => maud.post<Body & { detail: string; type: string }>('/sheets', sheet)

describe('build sheets', () => {
  test('a new version takes the next number and leaves the used one as it is', async () => {
    const changed = { ...base(), hoverAmps: 15, why: 'the new props draw more' }
    expect((await make<{ version: number }>(changed)).body).toEqual({ type: 'L4', version: 3 })
    expect((await ines.get<SheetView>('/sheets/L4/2')).body).toMatchObject({
      used: true,
      versions: [3, 2],
      sheet: { hoverAmps: 14 },
    })
    expect((await ines.get<SheetView>('/sheets/L4/3')).body.sheet.hoverAmps).toBe(15)
    expect((await ines.get<SheetRow[]>('/sheets')).body).toMatchObject([
      { type: 'L4', version: 3, airframes: 2, madeBy: 'Maud', why: 'the new props draw more', used: false },
    ])
    // Not even the owner of the tables can change what a job card uses.
    await expect(world.db.sheets.update({ body: changed as never }, { where: { type: 'L4', version: 2 } })).rejects.toThrow(
      /is used/,
    )
  })

  test('a variant says what differs, and takes the rest from its parent', async () => {
    const variant = {
      type: 'L4-cold',
      title: 'Shoreline runner for the ice',
      variantOf: { type: 'L4', version: 2 },
      settings: { 'power.lowCell': 3.4 },
    }
    expect((await make(variant)).status).toBe(201)
    const { sheet } = (await ines.get<SheetView>('/sheets/L4-cold/1')).body
    expect(sheet.settings).toEqual({ ...base().settings, 'power.lowCell': 3.4 })
    expect(sheet.geometry).toEqual(base().geometry)
    expect(sheet.variantOf).toEqual({ type: 'L4', version: 2 })
  })

  test.each<[string, (sheet: SheetInput) => object, RegExp]>([
    ['without a reason', (s) => s, /^why: /],
    ['a boom missing', (s) => ({ ...s, geometry: { ...s.geometry, booms: s.geometry.booms.slice(0, 3) } }), /boom is missing/],
    [
      'two motors on one position',
      (s) => ({
        ...s,
        geometry: {
          ...s.geometry,
          booms: s.geometry.booms.map((b, i) => (i === 1 ? { ...b, bearingDeg: s.geometry.booms[0]?.bearingDeg } : b)),
        },
      }),
      /geometry\.booms\[1\]: .*two motors on one position/,
    ],
    [
      'an output used twice',
      (s) => ({
        ...s,
        geometry: {
          ...s.geometry,
          booms: s.geometry.booms.map((b) => ({ ...b, motors: b.motors.map((m) => ({ ...m, output: 1 })) })),
        },
      }),
      /geometry\.booms\[1\]\.motors\[0\]\.output: output 1 is used/,
    ],
    [
      'an unknown setting',
      (s) => ({ ...s, settings: { ...s.settings, 'curve.roll.wings': 2 } }),
      /settings\["curve\.roll\.wings"\]: no board/,
    ],
    [
      'a setting out of range',
      (s) => ({ ...s, settings: { ...s.settings, 'gain.level': 5000 } }),
      /settings\["gain\.level"\]: 5000 lies outside/,
    ],
    [
      'gates that cannot agree',
      (s) => ({ ...s, settings: { ...s.settings, 'radio.lowGate': 1950, 'radio.highGate': 1900 } }),
      /gates that cannot agree/,
    ],
    [
      'two modes on one span',
      (s) => ({ ...s, switchPlan: [...(s.switchPlan ?? []), { function: 'altitude', channel: 6, from: 1500, to: 1800 }] }),
      /switchPlan\[5\]: gates that cannot agree/,
    ],
    [
      'no number where one must be',
      (s) => ({ ...s, geometry: { ...s.geometry, propDiameterM: 'five inches' } }),
      /geometry\.propDiameterM/,
    ],
    ['a word that no sheet has', (s) => ({ ...s, wings: 2 }), /wings/],
  ])('%s is refused with the place, and nothing is made', async (what, spoil, why) => {
    const before = (await ines.get<SheetRow[]>('/sheets')).body
    const { status, body } = await make(spoil({ ...base(), ...(what === 'without a reason' ? {} : { why: 'a test' }) }))
    expect({ status, type: body.type }).toEqual({ status: 422, type: '/problems/sheet-wrong' })
    expect(body.detail).toMatch(why)
    expect((await ines.get<SheetRow[]>('/sheets')).body).toEqual(before)
  })

  test('a technician reads them and makes none', async () => {
    expect((await ines.post('/sheets', base())).status).toBe(403)
  })

  test('an airframe gets another version once no card of it is open', async () => {
    expect((await maud.post('/airframes/T-001/sheet', { type: 'L4', version: 3 })).body.type).toBe('/problems/job-open')
    expect((await maud.post('/airframes/T-002/sheet', { type: 'L4', version: 3 })).status).toBe(200)
    expect((await ines.get<{ sheet: { version: number } }>('/airframes/T-002')).body.sheet.version).toBe(3)
    expect((await maud.post('/airframes/T-002/sheet', { type: 'L4', version: 30 })).status).toBe(404)
  })
})
