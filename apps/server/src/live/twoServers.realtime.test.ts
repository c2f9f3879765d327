import { eventually, makeWorld, signIn, type Client, type World } from '../../tests/world'
import { peerHeader } from './peers'
import { WebSocket } from 'ws'

jest.setTimeout(90_000)
let world: World
let second: Awaited<ReturnType<World['another']>>
let [ines, inesThere, maudThere] = [] as unknown as Client[] as [Client, Client, Client]
let job: string
beforeAll(async () => {
  world = await makeWorld({ inRealTime: true })
  second = await world.another()
  ines = await world.signIn('ines')
  inesThere = await second.signIn('ines')
  maudThere = await second.signIn('maud')
  job = await ines.begin('T-001', world.benches.sound)
})
afterAll(() => world.end())

const bench = () => world.benches.sound

describe('a screen at another server than the one that has the link', () => {
  test('shows the link, the samples and the running take', async () => {
    const feed = await maudThere.live({ job, bench: bench() })
    await eventually(() => feed.told.some((t) => t.tell === 'link' && t.phase === 'up' && t.state !== null))
    await eventually(() => feed.frames.length > 20)
    const { entries } = await ines.job(job)
    expect((await ines.post(`/jobs/${job}/takes`, { check: 'sensors.gyroRest' })).status).toBe(202)
    await eventually(() => feed.told.some((t) => t.tell === 'take' && t.phase === 'capturing' && t.share > 0))
    // One who comes while it runs sees it too.
    const late = await maudThere.live({ job, bench: bench() })
    await eventually(() => late.told.some((t) => t.tell === 'take' && t.check === 'sensors.gyroRest'))
    await eventually(() => feed.told.some((t) => t.tell === 'take' && t.phase === 'stored'), 20_000)
    expect((await maudThere.job(job)).entries).toHaveLength(entries.length + 1)
    for (const { socket } of [feed, late]) socket.close()
  })

  test('shows nothing of a card that is not the one on that bench', async () => {
    const other = (await maudThere.post<{ id: string }>('/airframes/T-002/jobs')).body.id
    expect(other).toBeDefined()
    const feed = await maudThere.live({ job: other, bench: bench() })
    await eventually(() => feed.told.some((t) => t.tell === 'link' && t.phase === 'up'))
    const begun = await ines.post(`/jobs/${job}/takes`, { check: 'sensors.gyroRest' })
    expect(begun.status).toBe(202)
    await new Promise((resolve) => setTimeout(resolve, 1_000))
    expect(feed.told.some((t) => t.tell === 'take')).toBe(false)
    await ines.remove(`/jobs/${job}/takes/running`)
    feed.socket.close()
  })

  test('while a take runs there, nobody signs, parks or starts another here; and it goes on undisturbed', async () => {
    const before = (await ines.job(job)).entries.length
    await eventually(async () => (await ines.post(`/jobs/${job}/takes`, { check: 'sensors.gyroRest' })).status === 202)
    const sign = await inesThere.post(`/jobs/${job}/signatures`, { role: 'technician', login: 'ines', password: 'saltmarsh' })
    expect(sign.body.detail).toContain('A take is running')
    expect((await inesThere.post(`/jobs/${job}/park`, { reason: 'lunch' })).body.detail).toContain('A take is running')
    expect((await inesThere.post(`/jobs/${job}/takes`, { check: 'sensors.gyroRest' })).body.type).toMatch(
      /bench-(elsewhere|busy)/,
    )
    expect((await inesThere.remove(`/jobs/${job}/takes/running`)).body.type).toBe('/problems/bench-elsewhere')
    expect((await inesThere.post(`/benches/${bench()}/hold`, { job })).status).toBe(200)
    await eventually(async () => (await ines.job(job)).entries.length === before + 1, 20_000)
    expect((await ines.job(job)).entries.at(-1)?.body).toMatchObject({ kind: 'take', verdict: 'pass' })
    expect((await inesThere.post(`/jobs/${job}/park`, { reason: 'lunch' })).status).toBe(201)
    expect((await inesThere.post(`/jobs/${job}/resume`)).status).toBe(201)
  })

  test('a take that another server took for lost, and put on the card as refused, ends: nothing of it is kept', async () => {
    expect((await ines.post(`/benches/${bench()}/hold`, { job })).status).toBe(200)
    const feed = await ines.live({ job, bench: bench() })
    await eventually(async () => (await ines.post(`/jobs/${job}/takes`, { check: 'sensors.gyroRest' })).status === 202)
    const { entries } = await ines.job(job)
    await world.db.sequelize.query('DELETE FROM running_takes WHERE job_id = $job', { bind: { job } })
    await eventually(() => feed.told.some((t) => t.tell === 'take' && t.phase === 'aborted'), 4_000)
    expect((await ines.job(job)).entries).toHaveLength(entries.length)
    feed.socket.close()
  })

  test('work here has the bench handed over, and work there has it back', async () => {
    const refused: (string | undefined)[] = []
    for (const client of [inesThere, ines]) {
      expect((await client.post(`/benches/${bench()}/hold`, { job })).status).toBe(200)
      const before = (await client.job(job)).entries.length
      await eventually(async () => {
        const { status, body } = await client.post(`/jobs/${job}/takes`, { check: 'sensors.gyroRest' })
        if (status !== 202) refused.push(body.type)
        return status === 202
      })
      await eventually(async () => (await client.job(job)).entries.length > before, 20_000)
      expect((await client.job(job)).entries.at(-1)?.body).toMatchObject({ kind: 'take', verdict: 'pass' })
    }
    expect(refused).toContain('/problems/bench-elsewhere')
  })

  test('nobody who does not know the secret is told anything as a server', async () => {
    for (const token of ['', 'x', `${Date.now() + 10_000}.forged`, `${Date.now() - 1}.${'a'.repeat(43)}`]) {
      const socket = new WebSocket(`ws://127.0.0.1:${world.port}/live`, { headers: { [peerHeader]: token } })
      await expect(
        new Promise((resolve, reject) => socket.on('open', resolve).on('error', (error) => reject(error))),
      ).rejects.toThrow('401')
    }
  })
})

describe('a server that is killed', () => {
  test('while a take runs leaves a refused take that says so; its keys are answered by what the record says', async () => {
    const { child, port } = await world.fork()
    const joren = await signIn(port, 'joren')
    const card = (await joren.get<{ jobs: { id: string }[] }>('/airframes/T-002')).body.jobs[0]?.id ?? ''
    expect((await joren.post(`/benches/${world.benches.faulty}/hold`, { job: card })).status).toBe(200)
    await joren.untilLinked(card)
    const before = (await joren.job(card)).entries.length
    expect((await joren.post(`/jobs/${card}/takes`, { check: 'sensors.gyroRest' })).status).toBe(202)
    // As if it had died after it had recorded, and before it had answered; and before it had done anything.
    const [recorded, lost] = [
      { 'idempotency-key': 'recorded-and-not-answered' },
      { 'idempotency-key': 'neither-recorded-nor-answered' },
    ]
    const knock = { change: { what: 'knock' }, cause: 'hit the bench' }
    expect((await joren.post(`/jobs/${card}/changes`, knock, recorded)).status).toBe(201)
    const unanswered = 'UPDATE requests SET status = NULL, body = NULL WHERE key = $key'
    await world.db.sequelize.query(unanswered, { bind: { key: recorded['idempotency-key'] } })
    await world.db.sequelize.query(
      `INSERT INTO requests (person_id, key, fingerprint, server_id)
       SELECT person_id, $lost, fingerprint, server_id FROM requests WHERE key = $recorded`,
      { bind: { lost: lost['idempotency-key'], recorded: recorded['idempotency-key'] } },
    )
    child.kill('SIGKILL')
    const there = await signIn(second.port, 'joren')
    expect((await there.post(`/jobs/${card}/changes`, knock, recorded)).body.type).toBe('/problems/in-progress')
    await eventually(async () => (await there.job(card)).entries.length === before + 2, 20_000)
    expect((await there.job(card)).entries.at(-1)?.body).toMatchObject({
      kind: 'take',
      check: 'sensors.gyroRest',
      verdict: 'refused',
      evidenceSha256: null,
      findings: [{ value: expect.stringContaining('The server ended during the take') as string }],
    })
    expect(await there.post(`/jobs/${card}/changes`, knock, recorded)).toMatchObject({ status: 201, body: { seq: before + 1 } })
    expect((await there.job(card)).entries).toHaveLength(before + 2)
    expect(await there.post(`/jobs/${card}/changes`, knock, lost)).toMatchObject({ status: 201, body: { seq: before + 3 } })
    expect(await world.db.select('SELECT 1 FROM running_takes')).toEqual([])
    expect(await world.audit()).toEqual([])
  })
})
