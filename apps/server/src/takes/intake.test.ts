import type { Evidence, JobView, Observation, TakeBody } from '@taraf/contract'
import { checkById, openItems, questionsOf } from '@taraf/core'
import { evaluateDocument } from '@taraf/core/evaluate'
import { lookAt } from '@taraf/demo'
import { handsOf } from '@taraf/rig'
import sharp from 'sharp'
import { clock, eventually, makeWorld, pause, type Client, type World } from '../../tests/world'

jest.setTimeout(120_000)
let world: World
let ines: Client
let job: string
const bench = () => world.benches.sound
const rig = () => world.rigs.sound
beforeAll(async () => {
  world = await makeWorld({ leavesOut: [], withBoard: true })
  ines = await world.signIn('ines')
  job = await ines.begin('T-001', bench())
})
afterAll(() => world.end())

const card = () => ines.job(job)
const questions = async (id: string) => {
  const check = checkById(id)
  return check === undefined ? [] : (questionsOf(check, (await card()).sheet) ?? [])
}
/** Answers as somebody at the bench does who looks at everything. */
const looked = async (id: string): Promise<Observation[]> =>
  lookAt(await questions(id), handsOf(rig()), { tag: 'T-001', board: 'TB-1', parts: [] })
const observe = (check: string, observations: Observation[]) =>
  ines.post<{ seq: number; type: string; detail: string }>(`/jobs/${job}/takes`, { check, observations })
const newest = async (): Promise<TakeBody> =>
  (await card()).entries.flatMap(({ body }) => (body.kind === 'take' ? [body] : [])).at(-1) as TakeBody

describe('lists', () => {
  test('are taken without a bench, and the evidence gives the same findings again', async () => {
    expect((await observe('intake.identity', await looked('intake.identity'))).status).toBe(202)
    const { verdict, findings, bench: by } = await newest()
    expect({ verdict, by }).toEqual({ verdict: 'pass', by: 'by eye' })
    const { body } = await ines.get<Evidence>(`/jobs/${job}/takes/${(await card()).standings['intake.identity']?.take}/evidence`)
    expect(evaluateDocument('take.json', JSON.stringify(body))).toMatchObject({ verdict: 'pass', findings })
  })

  test('another frame than that of the card fails', async () => {
    const answers = (await looked('intake.identity')).map((o) => (o.item === 'tag' ? { ...o, answer: 'T-002' } : o))
    await observe('intake.identity', answers)
    expect(await newest()).toMatchObject({
      verdict: 'fail',
      findings: expect.arrayContaining([expect.objectContaining({ key: 'tag', verdict: 'fail' })]) as unknown,
    })
    await observe('intake.identity', await looked('intake.identity'))
  })

  test('what is not answered makes it refused; what was not asked is not taken', async () => {
    await observe('intake.byEye', (await looked('intake.byEye')).slice(1))
    expect(await newest()).toMatchObject({
      verdict: 'refused',
      findings: [{ value: expect.stringMatching(/Props are off/) as unknown }],
    })
    expect((await observe('intake.byEye', [{ segment: 'list', item: 'wings', answer: true }])).status).toBe(400)
  })

  test('nobody can answer for what is measured', async () => {
    expect((await observe('board.identity', [{ segment: 'asked', item: 'target', answer: true }])).body.detail).toMatch(
      /measured/,
    )
  })

  test('a photo is kept upright and small; what is no picture is refused', async () => {
    const bytes = await sharp({ create: { width: 3000, height: 2000, channels: 3, background: '#0e5e6f' } })
      .png()
      .toBuffer()
    const { status, body } = await ines.upload<{ sha256: string }>(`/jobs/${job}/photos`, bytes)
    expect(status).toBe(201)
    const stored = await fetch(`http://127.0.0.1:${world.port}/api/jobs/${job}/photos/${body.sha256}`, {
      headers: { cookie: ines.cookie },
    })
    const { format, width } = await sharp(Buffer.from(await stored.arrayBuffer())).metadata()
    expect({ format, width }).toEqual({ format: 'jpeg', width: 1600 })
    const refused = await ines.upload(`/jobs/${job}/photos`, Buffer.from('a text that says it is a picture'))
    expect(refused.body).toMatchObject({ type: '/problems/file-wrong', detail: expect.stringMatching(/no picture/) as unknown })
    expect((await ines.upload(`/jobs/${job}/photos`, bytes.subarray(0, 200))).status).toBe(422)

    const answers = (await looked('intake.byEye')).map((o) => (o.item === 'leads' ? { ...o, photo: body.sha256 } : o))
    expect((await observe('intake.byEye', answers)).status).toBe(202)
    expect((await newest()).verdict).toBe('pass')
    const missing = answers.map((o) => (o.item === 'leads' ? { ...o, photo: '0'.repeat(64) } : o))
    expect((await observe('intake.byEye', missing)).status).toBe(404)
  })

  test('what it leaves to be put back is open on the card, once', async () => {
    await observe('intake.byEye', await looked('intake.byEye'))
    expect(openItems((await card()).entries)).toMatchObject([
      { what: 'put back', words: 'Take the flags of tape off the motors.', check: 'intake.byEye' },
      { what: 'put back', words: expect.stringMatching(/^Put the nuts back/) as unknown, check: 'intake.byEye' },
    ])
  })
})

describe('first power', () => {
  const hand = (act: object) => ines.post(`/hands/${bench()}`, act)
  const power = async () => {
    await hand({ act: 'battery', source: 'none' })
    await hand({ act: 'limiter', in: true })
    await hand({ act: 'props', on: false })
    await hand({ act: 'nuts', on: false })
    const before = (await card()).entries.length
    expect((await ines.post(`/jobs/${job}/takes`, { check: 'intake.firstPower' })).status).toBe(202)
    await pause(700)
    await hand({ act: 'battery', source: 'pack' })
    await eventually(async () => (await card()).entries.slice(before).some((e) => e.body.kind === 'take'), 20_000)
    return newest()
  }

  test('a short trips it, and what to look for is said', async () => {
    rig().airframe.power.short = true
    const { verdict, findings } = await power()
    expect(verdict).toBe('fail')
    expect(findings[0]).toMatchObject({
      key: 'short',
      remedy: { work: ['clear short'], act: expect.stringMatching(/Unplug the battery/) as unknown },
    })
    await hand({ act: 'battery', source: 'none' })
    await hand({ act: 'clear short' })
  })

  test('the current at rest is measured for three seconds against the limit, and the trace is kept', async () => {
    expect(await power()).toMatchObject({ verdict: 'pass' })
    const { standings, entries } = await card()
    const { body } = await ines.get<Evidence>(`/jobs/${job}/takes/${standings['intake.firstPower']?.take}/evidence`)
    const { meter } = body.segments[0]?.streams ?? {}
    expect(meter?.t.length).toBeGreaterThan(60)
    expect(openItems(entries).map((i) => i.words)).toContain('Take the current limiter out of the battery’s lead.')
  })

  test('the heat clock runs from the battery’s connection, and on over a second server', async () => {
    const { told, socket } = await ines.live({ job, bench: bench() })
    await eventually(() => told.some((t) => t.tell === 'link' && t.powerSince !== null))
    const since = told.flatMap((t) => (t.tell === 'link' && t.powerSince !== null ? [t.powerSince] : [])).at(-1) ?? ''
    expect(clock().date().getTime() - Date.parse(since)).toBeGreaterThan(3_000)
    const [row] = await world.db.select<{ since: Date }>('SELECT power_since AS since FROM benches WHERE id = $id', {
      id: bench(),
    })
    expect(row?.since.toISOString()).toBe(since)
    socket.close()
  })
})

describe('parking', () => {
  const act = (what: string, body: object = {}) => ines.post<{ type: string }>(`/jobs/${job}/${what}`, body)
  test('keeps takes and signatures off until somebody takes the card up again', async () => {
    expect((await act('park', { reason: 'waits for a regulator' })).status).toBe(201)
    expect((await act('park', { reason: 'twice' })).body.type).toBe('/problems/parked')
    const joren = await world.signIn('joren')
    expect((await joren.post(`/jobs/${job}/takes`, { check: 'board.loop' })).body.type).toBe('/problems/parked')
    expect(((await card()) satisfies JobView).bench).toBeNull()
    expect((await joren.post(`/jobs/${job}/resume`)).status).toBe(201)
    expect((await joren.post(`/benches/${bench()}/hold`, { job })).status).toBe(200)
    expect((await act('resume')).status).toBe(404)
  })
})
