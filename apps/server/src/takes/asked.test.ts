import type { Evidence, TakeBody } from '@taraf/contract'
import { evaluateDocument } from '@taraf/core/evaluate'
import { makeWorld, type Client, type World } from '../../tests/world'

jest.setTimeout(120_000)
let world: World
let ines: Client
let job: string
const bench = () => world.benches.sound
const rig = () => world.rigs.sound
beforeAll(async () => {
  world = await makeWorld({ leavesOut: [], type: 'L4', withBoard: true })
  ines = await world.signIn('ines')
  // Left over from another build.
  rig().board.settings.write({ 'curve.roll.rate': 900 })
  rig().board.settings.save()
  job = await ines.begin('T-001', bench())
})
afterAll(() => world.end())

const take = async (check: string) => {
  const { body, seq } = await ines.take(job, check)
  return { seq, ...(body as TakeBody) }
}
const finding = (body: Pick<TakeBody, 'findings'>, key: string) => body.findings.find((f) => f.key === key)

describe('what a board is asked', () => {
  test('who it is: kept as evidence that gives the same findings again', async () => {
    const { seq, verdict, findings } = await take('board.identity')
    expect(verdict).toBe('pass')
    expect(finding({ findings }, 'serial')?.value).toBe('TB-1')
    const { body } = await ines.get<Evidence>(`/jobs/${job}/takes/${seq}/evidence`)
    expect(body.segments).toMatchObject([{ label: 'asked', streams: {}, reports: { identity: { target: 'TIDEBOARD-4' } } }])
    expect(evaluateDocument('take.json', JSON.stringify(body))).toMatchObject({ verdict: 'pass', findings })
  })

  test('what it was when it came is kept, and what it runs is approved', async () => {
    const received = await take('board.asReceived')
    expect(received.verdict).toBe('pass')
    const { body } = await ines.get<Evidence>(`/jobs/${job}/takes/${received.seq}/evidence`)
    expect(body.segments[0]?.reports?.settings?.find((s) => s.name === 'curve.roll.rate')).toMatchObject({
      saved: 900,
      unit: 'deg/s',
    })
    expect(finding(await take('board.firmware'), 'firmware')?.value).toBe('shoreline 3.2.0, approved')
  })

  test('a setting that the sheet has otherwise is written as one act, and what read it before is stale', async () => {
    const failed = await take('board.baseline')
    expect(finding(failed, 'curve.roll.rate')).toMatchObject({ value: 900, limit: { equals: 400 } })
    expect((await ines.post(`/jobs/${job}/remedies`, { seq: failed.seq, key: 'differing' })).status).toBe(200)
    expect(rig().board.settings.get('curve.roll.rate')).toBe(400)
    expect((await ines.job(job)).standings['board.baseline']?.state).toBe('stale')
    await ines.untilLinked(job)
    expect((await take('board.baseline')).verdict).toBe('pass')
  })

  test('frames are counted for a second: none without the transmitter, then those that it sends', async () => {
    const silent = await take('board.sockets')
    expect(finding(silent, 'frames1')).toMatchObject({ value: 0, verdict: 'fail', remedy: { socket: 1 } })
    await ines.post(`/hands/${bench()}`, { act: 'transmitter', on: true })
    const heard = await take('board.sockets')
    expect(heard.verdict).toBe('pass')
    // One every 9 ms.
    expect(Number(finding(heard, 'frames1')?.value)).toBeGreaterThan(70)
    expect(Number(finding(heard, 'frames2')?.value)).toBeGreaterThan(2)
  })

  test('a sensor at its other bus address is found there, and the board is left as it was told', async () => {
    rig().airframe.baro.address = 1
    const found = await take('board.sensors')
    expect(finding(found, 'baro')).toMatchObject({ verdict: 'fail', remedy: { settings: { 'baro.bus': 1 } } })
    expect(rig().board.settings.get('baro.bus')).toBe(0)
    expect((await ines.post(`/jobs/${job}/remedies`, { seq: found.seq, key: 'baro' })).status).toBe(200)
    await ines.untilLinked(job)
    expect((await take('board.sensors')).verdict).toBe('pass')
  })

  test('settings among themselves and the loop', async () => {
    expect((await take('board.rules')).verdict).toBe('pass')
    const loop = await take('board.loop')
    expect(loop.verdict).toBe('pass')
    expect(finding(loop, 'rate')?.value).toBe(4000)
  })
})
