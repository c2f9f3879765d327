import { randomUUID } from 'node:crypto'
import type { EarlierTakes, Evidence, TakeBody } from '@taraf/contract'
import { evaluateDocument } from '@taraf/core/evaluate'
import { eventually, makeWorld, nowMs, passwords, pause, type Client, type World } from '../../tests/world'

jest.setTimeout(120_000)
let world: World
let ines: Client
beforeAll(async () => {
  world = await makeWorld()
  ines = await world.signIn('ines')
})
afterAll(() => world.end())

const finding = (body: unknown, key: string) => (body as TakeBody).findings.find((f) => f.key === key)

describe('one faulty airframe from bench to handover', () => {
  let job: string
  const bench = () => world.benches.faulty
  beforeAll(async () => void (job = await ines.begin('T-002', bench())))

  test('level waits for the gyro', async () => {
    const refused = await ines.post(`/jobs/${job}/takes`, { check: 'orientation.level' })
    expect(refused.body).toMatchObject({ type: '/problems/needs-first', detail: 'First: "Gyro at rest".' })
  })

  test('gyro at rest fails on bias and noise, by what was captured', async () => {
    const { body } = await ines.take(job, 'sensors.gyroRest')
    expect(body).toMatchObject({
      kind: 'take',
      verdict: 'fail',
      evidenceSha256: expect.stringMatching(/^[0-9a-f]{64}$/) as string,
      board: 'TB-2',
    })
    expect(finding(body, 'biasX')).toMatchObject({ verdict: 'fail', value: expect.closeTo(1.5, 1) as number })
    expect(finding(body, 'noiseZ')?.verdict).toBe('fail')
  })

  test('its kept evidence leaves as a document that gives the same findings again', async () => {
    const { body } = await ines.get<Evidence>(`/jobs/${job}/takes/1/evidence`)
    const again = evaluateDocument('take-1.json', JSON.stringify(body))
    expect(again).toMatchObject({ verdict: 'fail', findings: ((await ines.job(job)).entries[0]?.body as TakeBody).findings })
    expect(body.segments[0]?.streams.imu?.t.length).toBeGreaterThanOrEqual(1001)
    expect(body.board).toMatchObject({ settings: { 'gyro.biasX': 0 } })
    const one = await ines.get<Evidence>(`/jobs/${job}/takes/1/evidence?stream=imu`)
    expect(Object.keys(one.body.segments[0]?.streams ?? {})).toEqual(['imu'])
    expect((await ines.get(`/jobs/${job}/takes/1/evidence?stream=smell`)).body.type).toBe('/problems/malformed')
  })

  test('no remedy is done that the take does not name', async () => {
    for (const key of ['biasZ', 'noiseZ', 'nothing'])
      expect((await ines.post(`/jobs/${job}/remedies`, { seq: 1, key })).body.type).toBe('/problems/no-such-remedy')
  })

  test('the remedy measures the bias, saves, restarts, reads back, and is on the card as a change with old and new values', async () => {
    const done = await ines.post<{ seq: number }>(`/jobs/${job}/remedies`, { seq: 1, key: 'biasX' })
    expect(done.status).toBe(200)
    const view = await ines.job(job)
    expect(view.entries.find((e) => e.seq === done.body.seq)?.body).toMatchObject({
      kind: 'change',
      remedyOf: { seq: 1 },
      change: {
        what: 'settings',
        settings: expect.arrayContaining([{ name: 'gyro.biasX', from: 0, to: expect.closeTo(1.5, 0) as number }]) as unknown,
      },
    })
    expect(view.standings['sensors.gyroRest']).toEqual({ state: 'stale', take: 1, by: done.body.seq })
    expect(view.entries).toHaveLength(2)
  })

  test('a remedy of a take that no longer decides is refused', async () => {
    expect((await ines.post(`/jobs/${job}/remedies`, { seq: 1, key: 'biasX' })).body.detail).toContain('no longer decides')
  })

  test('with the screws tightened it passes', async () => {
    await ines.post(`/hands/${bench()}`, { act: 'fasten' })
    expect((await ines.take(job, 'sensors.gyroRest')).body).toMatchObject({ verdict: 'pass' })
  })

  test('level writes its trim within the take, and is decided by what is left with it in force', async () => {
    const take = await ines.take(job, 'orientation.level', bench())
    expect(take.body).toMatchObject({ verdict: 'pass' })
    expect(finding(take.body, 'rollOffsetBefore')).toMatchObject({ verdict: 'shown', value: expect.closeTo(2, 0) as number })
    expect(finding(take.body, 'rollOffset')).toMatchObject({ verdict: 'pass', value: expect.closeTo(0, 1) as number })
    const view = await ines.job(job)
    expect(view.overall).toBe('ready')
    // The write comes before the take that it is part of, so that it spoils what was proved before, and not its own proof.
    expect(view.entries.find((e) => e.seq === take.seq - 1)?.body).toMatchObject({
      kind: 'change',
      cause: 'Written in the take of "Level" that follows.',
      change: { settings: expect.arrayContaining([expect.objectContaining({ name: 'level.roll', from: 0 })]) as unknown },
    })
    const evidence = (await ines.get<Evidence>(`/jobs/${job}/takes/${take.seq}/evidence`)).body
    expect(evidence.segments.map((s) => s.label)).toEqual(['first', 'second', 'proof'])
    expect(evidence.written?.['level.roll']).not.toBe(evidence.board.settings?.['level.roll'])
    expect(evaluateDocument('level.json', JSON.stringify(evidence))).toMatchObject({ verdict: 'pass' })
  })

  test('a knock that the board feels is on the card by itself, and both checks are stale', async () => {
    await ines.post(`/hands/${bench()}`, { act: 'knock' })
    await eventually(async () => (await ines.job(job)).overall === 'stale')
    expect((await ines.job(job)).entries.at(-1)?.body).toMatchObject({
      kind: 'change',
      change: { what: 'knock' },
      cause: 'The board felt a knock.',
    })
  })

  test('a setting that somebody else saves, or only puts in force, during a take makes it worth nothing; what was saved is on the card', async () => {
    const { settings } = world.rigs.faulty.board
    const taken = async (meanwhile: () => void) => {
      const feed = await ines.live({ job })
      const taking = ines.take(job, 'sensors.gyroRest')
      await eventually(() => feed.told.some((t) => t.tell === 'take' && t.phase === 'capturing'))
      await pause(500)
      meanwhile()
      feed.socket.close()
      return (await taking).body as TakeBody
    }
    const saved = await taken(() => {
      settings.write({ 'level.pitch': 3 })
      settings.save()
    })
    expect(saved).toMatchObject({ verdict: 'refused', findings: [{ value: 'somebody else set level.pitch while it was taken' }] })
    expect((await ines.job(job)).entries.at(-2)?.body).toMatchObject({
      change: { settings: [{ name: 'level.pitch', to: 3 }] },
      cause: 'Found changed on the board.',
    })
    expect(await taken(() => settings.write({ 'level.roll': 5 }))).toMatchObject({
      verdict: 'refused',
      findings: [{ value: 'somebody else set level.roll while it was taken' }],
    })
    // What was never saved is out of force again before the next take begins.
    expect((await ines.take(job, 'sensors.gyroRest')).body).toMatchObject({ verdict: 'pass' })
    expect(settings.get('level.roll')).not.toBe(5)
  })

  test('a setting that was changed elsewhere is found when the board is linked again', async () => {
    await ines.remove(`/benches/${bench()}/hold`)
    const { settings } = world.rigs.faulty.board
    settings.write({ 'level.pitch': 4 })
    settings.save()
    await ines.post(`/benches/${bench()}/hold`, { job })
    await eventually(
      async () =>
        (await ines.job(job)).entries.at(-1)?.body.kind === 'change' &&
        JSON.stringify((await ines.job(job)).entries.at(-1)).includes('"to":4'),
    )
  })

  test('signed by two, it is handed over as what it is, the bench is free, and the whole record is sound', async () => {
    for (const [role, login] of [
      ['technician', 'ines'],
      ['lead', 'maud'],
    ] as const)
      expect((await ines.post(`/jobs/${job}/signatures`, { role, login, password: passwords[login] })).status).toBe(201)
    const view = await ines.job(job)
    expect(view).toMatchObject({ overall: 'failed', bench: null })
    expect((await ines.post(`/jobs/${job}/takes`, { check: 'sensors.gyroRest' })).body.type).toBe('/problems/job-closed')
    expect(await world.audit()).toEqual([])
  })
})

test('what a check found on other airframes of the type is told: the last take that proved something, its numbers alone', async () => {
  const earlierOf = async (job: string) => (await ines.get<EarlierTakes>(`/jobs/${job}/checks/orientation.level/earlier`)).body
  const [first] = (await ines.get<{ jobs: { id: string }[] }>('/airframes/T-002')).body.jobs
  expect(await earlierOf(first?.id ?? '')).toEqual([])
  const other = (await ines.post<{ id: string }>('/airframes/T-001/jobs')).body.id
  const [found, ...more] = await earlierOf(other)
  expect(more).toEqual([])
  expect(found).toMatchObject({ tag: 'T-002', values: { rollOffset: expect.closeTo(0, 0) as number } })
  expect(found?.values.rollOffsetBefore).toBeCloseTo(2, 0)
  expect((await ines.get('/jobs/none/checks/orientation.level/earlier')).body.type).toBe('/problems/malformed')
})

describe('what can go wrong with a take', () => {
  let job: string
  beforeAll(async () => {
    const [card] = (await ines.get<{ jobs: { id: string }[] }>('/airframes/T-001')).body.jobs
    job = card?.id ?? ''
    expect((await ines.post(`/benches/${world.benches.sound}/hold`, { job })).status).toBe(200)
    await ines.untilLinked(job)
  })
  const gyro = { check: 'sensors.gyroRest' }

  test('a second technician is told who holds the bench', async () => {
    const joren = await world.signIn('joren')
    const other = (await joren.post<{ id: string }>('/airframes/T-002/jobs')).body.id
    expect((await joren.post(`/benches/${world.benches.sound}/hold`, { job: other })).body).toMatchObject({
      type: '/problems/bench-held',
      detail: 'Ines holds sound bench for T-001.',
    })
    expect((await joren.post(`/jobs/${job}/takes`, gyro)).body).toMatchObject({
      type: '/problems/bench-held',
      detail: 'Ines holds sound bench.',
    })
    expect((await joren.remove(`/benches/${world.benches.sound}/hold`)).body.type).toBe('/problems/bench-held')
  })

  test("another airframe's board on the bench is refused", async () => {
    const joren = await world.signIn('joren')
    const [card] = (await joren.get<{ jobs: { id: string }[] }>('/airframes/T-001')).body.jobs
    await ines.remove(`/benches/${world.benches.sound}/hold`)
    await ines.post(`/benches/${world.benches.faulty}/hold`, { job: card?.id })
    await pause(700)
    expect((await ines.post(`/jobs/${job}/takes`, gyro)).body).toMatchObject({
      type: '/problems/wrong-board',
      detail: expect.stringContaining('TB-2') as string,
    })
    await ines.remove(`/benches/${world.benches.faulty}/hold`)
    await ines.post(`/benches/${world.benches.sound}/hold`, { job })
    await pause(700)
  })

  test('two takes at once on one bench are refused, and one that is stopped leaves nothing', async () => {
    expect((await ines.post(`/jobs/${job}/takes`, gyro)).status).toBe(202)
    expect((await ines.post(`/jobs/${job}/takes`, gyro)).body.type).toBe('/problems/bench-busy')
    expect((await ines.remove(`/jobs/${job}/takes/running`)).status).toBe(200)
    await eventually(async () => (await ines.post(`/jobs/${job}/takes/next`)).body.type === '/problems/no-take')
    expect((await ines.job(job)).entries).toHaveLength(0)
  })

  test('the same request sent again while its take runs starts no second one', async () => {
    const key = { 'idempotency-key': randomUUID() }
    const replies = [await ines.post(`/jobs/${job}/takes`, gyro, key), await ines.post(`/jobs/${job}/takes`, gyro, key)]
    expect(replies.map((r) => r.status)).toEqual([202, 202])
    await eventually(async () => (await ines.job(job)).entries.length === 1)
    await pause(500)
    expect((await ines.job(job)).entries).toHaveLength(1)
  })

  test('an unknown check and a malformed request are refused', async () => {
    expect((await ines.post(`/jobs/${job}/takes`, { check: 'motors.hum' })).body.type).toBe('/problems/not-found')
    expect((await ines.post(`/jobs/${job}/takes`, { checks: 'sensors.gyroRest' })).body.type).toBe('/problems/malformed')
    expect((await ines.post(`/jobs/not-a-job/takes`, gyro)).body.type).toBe('/problems/not-found')
  })

  test('a knock during the take makes it refused, and the standing stays', async () => {
    const before = (await ines.job(job)).standings['sensors.gyroRest']
    expect((await ines.post(`/jobs/${job}/takes`, gyro)).status).toBe(202)
    await pause(1500)
    await ines.post(`/hands/${world.benches.sound}`, { act: 'knock' })
    await eventually(
      async () => (await ines.job(job)).entries.some((e) => e.body.kind === 'take' && e.body.verdict === 'refused'),
      8_000,
    )
    const { standings, entries } = await ines.job(job)
    expect(standings['sensors.gyroRest']).toMatchObject({ take: before?.take, state: 'stale' })
    expect(entries.find((e) => e.body.kind === 'take' && e.body.verdict === 'refused')?.body).toMatchObject({
      findings: [{ key: 'refused', value: expect.stringContaining('knock') as string }],
    })
  })

  test('a link lost during the take: refused with the reason, nothing half is kept, and the link comes back by itself', async () => {
    const feed = await ines.live({ job, bench: world.benches.sound })
    await ines.post(`/jobs/${job}/takes`, gyro)
    await pause(1500)
    const before = (await ines.job(job)).entries.length
    const lostAt = nowMs()
    world.rigs.sound.restart()
    // A board that starts again drops its link.
    await eventually(async () => (await ines.job(job)).entries.length > before)
    const last = (await ines.job(job)).entries.at(-1)
    expect(last?.body).toMatchObject({
      verdict: 'refused',
      evidenceSha256: null,
      findings: [{ value: expect.stringContaining('the link was lost') as string }],
    })
    expect(nowMs() - lostAt).toBeLessThan(1_500)
    expect(await world.db.evidence.count({ where: { jobId: job, seq: last?.seq } })).toBe(0)
    feed.socket.close()
  })
})

describe('two servers on one database', () => {
  test('show the same job card live, and the second takes over the link when the first stops', async () => {
    const second = await world.another()
    const maud = await second.signIn('maud')
    const [card] = (await maud.get<{ jobs: { id: string }[] }>('/airframes/T-001')).body.jobs
    const job = card?.id ?? ''
    const feed = await maud.live({ job, bench: world.benches.sound })
    await ines.post(`/jobs/${job}/changes`, {
      change: { what: 'part', part: 'board', act: 'fastened' },
      cause: 'seen by the other',
    })
    await eventually(() => feed.told.some((t) => t.tell === 'changed' && t.job === job))
    expect((await maud.job(job)).entries.at(-1)?.body).toMatchObject({ cause: 'seen by the other' })

    const inesThere = await second.signIn('ines')
    const before = feed.told.length
    await world.stop()
    // Until then it was told what the first said; from then on by its own link.
    const phases = () => feed.told.slice(before).flatMap((t) => (t.tell === 'link' ? [t.phase] : []))
    await eventually(() => phases().includes('none') && phases().at(-1) === 'up', 12_000)
    expect((await inesThere.take(job, 'sensors.gyroRest')).body).toMatchObject({ verdict: 'pass' })
    feed.socket.close()
  })
})
