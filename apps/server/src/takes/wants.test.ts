import type { Change, HandAct, Segment, TakeTell } from '@taraf/contract'
import { defineCheck, shown, want, type Check, type TakeSoFar, type Taking } from '@taraf/core'
import { sheetOf } from '@taraf/demo'
import { MotorHeat, TakeRun } from '@taraf/takes'
import { clock, eventually, lasts, makeWorld, pause, type Client, type World } from '../../tests/world'
import { machinePorts } from '../ports'
import { BenchLink } from '../links/benchLink'

jest.setTimeout(120_000)
// Kinds of want whose first users are checks to come, on a linked bench: a rig behind Bench Link, the server's own recorders.
let world: World
let ines: Client
let link: BenchLink
const bench = () => world.benches.sound
beforeAll(async () => {
  world = await makeWorld()
  ines = await world.signIn('ines')
  link = new BenchLink(`${world.rigUrl}/bench/sound`, machinePorts.dial, clock())
  await eventually(() => link.phase === 'up')
})
afterAll(async () => {
  link.close()
  await world.end()
})
const hands = async (...acts: HandAct[]) => {
  for (const act of acts) expect((await ines.post(`/hands/${bench()}`, act)).status).toBe(200)
}

const run = (take: (soFar: TakeSoFar) => Taking, powerId: string | null = null) => {
  const check: Check = defineCheck({
    id: 'made.up',
    version: 1,
    station: 'sensors',
    title: 'Made up',
    proves: 'The recorders do what a check says.',
    needs: [],
    reads: { settings: [], parts: [], acts: [], image: false },
    appliesTo: () => true,
    stages: null,
    take,
    evaluate: () => [shown('done', 'so', '')],
  })
  const told: TakeTell[] = []
  const changes: Change[] = []
  const one = new TakeRun({
    job: 'j',
    check,
    by: { id: 'p', login: 'p', name: 'P', role: 'technician' },
    link,
    clock: clock(),
    heat: new MotorHeat(link, clock(), { read: () => Promise.resolve(0), keep: () => Promise.resolve() }),
    sheet: sheetOf('N4'),
    airframe: { tag: 'T', board: 'TB-1', parts: [] },
    place: { lat: 54 },
    hovers: [],
    powerId,
    propsOff: () => Promise.resolve(null),
    saidProps: () => Promise.resolve(),
    told: (tell) => void told.push(tell),
    wrote: async () => {},
    changed: async (change) => void changes.push(change),
    found: async () => {},
  })
  const now = () => told.at(-1)
  return { run: one, told, changes, now, taken: lasts(one.capture()) }
}
const segmentIn = (taken: Awaited<ReturnType<TakeRun['capture']>>, label: string) =>
  taken.evidence?.segments.find((s) => s.label === label) as Segment

test('a burst comes at 2 kHz or more, beside the streams that were asked for and no others', async () => {
  const taken = await run(function* () {
    yield* want.capture({ label: 'burst', ask: 'Leave it.', seconds: 0.5, streams: ['imuBurst', 'power'] })
  }).taken
  const { streams } = segmentIn(taken, 'burst')
  expect(Object.keys(streams).sort()).toEqual(['imuBurst', 'power'])
  const t = streams.imuBurst?.t ?? []
  expect((t.length - 1) / ((t[t.length - 1] as number) - (t[0] as number))).toBeGreaterThanOrEqual(2000)
})

// A failed answer that nobody waits for would end a server: it fails this test.
test('a cable that is pulled in a burst ends the take, and nothing but the take', async () => {
  const { taken, now } = run(function* () {
    yield* want.capture({ label: 'burst', ask: 'Leave it.', seconds: 2, streams: ['imuBurst'] })
  })
  await eventually(() => now()?.want?.label === 'burst' && now()?.phase === 'capturing')
  await pause(500)
  await hands({ act: 'cable', in: false })
  expect((await taken).verdict).toBe('refused')
  await hands({ act: 'cable', in: true })
  await eventually(() => link.phase === 'up')
})

test('a control is found by what moved, and says meanwhile what to do', async () => {
  await hands({ act: 'transmitter', on: true })
  await eventually(() => link.state?.radio === 'heard')
  const { taken, told, now } = run(function* () {
    yield* want.control({
      label: 'roll-right',
      ask: 'Roll to the right, and let go.',
      seconds: 20,
      streams: ['radio'],
      leastUs: 100,
      times: 1,
      ends: 'back',
      heldS: 0.1,
    })
  })
  await eventually(() => now()?.guide?.words === 'Move it.')
  await hands({ act: 'stick', stick: 'roll', to: 1 })
  await eventually(() => now()?.guide?.words === 'Let it go back.')
  await hands({ act: 'stick', stick: 'roll', to: 0 })
  const radio = segmentIn(await taken, 'roll-right').streams.radio as Record<string, Float32Array>
  const span = (c: number) => Math.max(...(radio[`ch${c}`] ?? [])) - Math.min(...(radio[`ch${c}`] ?? []))
  const channel = sheetOf('N4').settings['radio.roll.channel'] ?? 1
  expect(span(channel)).toBeGreaterThan(300)
  for (const other of [1, 2, 3, 4].filter((c) => c !== channel)) expect(span(other)).toBeLessThan(40)
  expect(told.every((t) => t.want === null || t.want.kind === 'control')).toBe(true)
  await hands({ act: 'transmitter', on: false })
})

test('what waits for frames to last ends with those of its own, however long nothing came', async () => {
  await hands({ act: 'transmitter', on: true })
  await eventually(() => link.state?.radio === 'heard')
  const { taken, now } = run(function* () {
    const radio = { streams: ['radio'], mayLack: ['radio'] } as const
    yield* want.watch({ ...radio, label: 'off', ask: 'Switch it off.', seconds: 20, until: ['loss:wait'] })
    const until = { stream: 'radio', column: 'quality', least: 0.1, lastsS: 1 } as const
    yield* want.capture({ ...radio, label: 'on', ask: 'Switch it on.', seconds: 20, atOnce: true, until, enoughS: 1 })
  })
  await eventually(() => now()?.want?.label === 'off' && now()?.phase === 'capturing')
  await pause(300)
  await hands({ act: 'transmitter', on: false })
  await eventually(() => now()?.want?.label === 'on')
  await pause(3_000)
  await hands({ act: 'transmitter', on: true })
  const segments = await taken
  const known = segmentIn(segments, 'off').events?.find((e) => e.what === 'loss' && e.phase === 'wait')?.t ?? 0
  const t = segmentIn(segments, 'on').streams.radio?.t ?? []
  expect(t[0]).toBeGreaterThan(known + 2)
  expect((t[t.length - 1] as number) - (t[0] as number)).toBeGreaterThan(0.99)
  expect(segments.verdict).toBe('pass')
})

test('events are watched over a link that is gone for a part of it, and the board’s log tells what happened meanwhile', async () => {
  await hands(
    { act: 'props', on: false },
    { act: 'nuts', on: false },
    { act: 'battery', source: 'pack' },
    { act: 'transmitter', on: true },
  )
  await eventually(() => link.state?.radio === 'heard' && link.state.power === 'both')
  // A transmitter that has just come on is told as the end of a loss, a moment after it is heard.
  await pause(1_500)
  const { taken, now } = run(function* () {
    yield* want.watch({
      label: 'alone',
      ask: 'Cable out, and in again.',
      seconds: 30,
      streams: ['attitude'],
      until: ['link:up'],
      mayLoseLink: true,
    })
    yield* want.log({ label: 'log', ask: 'The log is read.', since: 'alone' })
  })
  await eventually(() => now()?.want?.kind === 'watch' && now()?.phase === 'capturing')
  await pause(500)
  await hands({ act: 'cable', in: false })
  await eventually(() => link.phase === 'lost')
  const { board } = world.rigs.sound
  board.log.add(board.boots, { t: board.clock, what: 'mode', detail: { mode: 'selfLevel' } })
  await pause(800)
  await hands({ act: 'cable', in: true })
  const found = await taken
  const { events = [], streams } = segmentIn(found, 'alone')
  expect(events.map((e) => [e.what, e.link])).toEqual([
    ['link', 'lost'],
    ['link', 'up'],
  ])
  expect((events[1]?.t ?? 0) - (events[0]?.t ?? 0)).toBeGreaterThan(0.6)
  expect(streams.attitude?.t.length).toBeGreaterThan(50)
  expect(segmentIn(found, 'log').events).toContainEqual(expect.objectContaining({ what: 'mode', mode: 'selfLevel' }))
  await hands({ act: 'battery', source: 'none' }, { act: 'transmitter', on: false })
})

test('a list in the middle of a take is waited for, takes only what it asks, and goes on with the take', async () => {
  const question = { id: 'burns', words: 'It burns.', why: 'It must be seen from behind.', answer: 'so' as const }
  const {
    run: one,
    taken,
    now,
  } = run(function* () {
    yield* want.capture({ label: 'on', ask: 'Leave it.', seconds: 0.2, streams: ['power'] })
    const { observations = [] } = yield* want.answers({ label: 'list', ask: 'Look at the tail.', questions: [question] })
    if (observations[0]?.answer === true)
      yield* want.capture({ label: 'again', ask: 'Leave it.', seconds: 0.2, streams: ['power'], atOnce: true })
  })
  await eventually(() => one.list !== null)
  expect(now()?.want).toMatchObject({ kind: 'answers', questions: [question] })
  expect(() => one.answer([{ segment: 'x', item: 'smells', answer: true }])).toThrow(/not asked/)
  expect(() => one.next()).toThrow(/not waiting/)
  one.answer([{ segment: 'x', item: 'burns', answer: true }])
  expect(() => one.answer([])).toThrow(/does not wait/)
  const { evidence } = await taken
  expect(evidence?.observations).toEqual([{ segment: 'list', item: 'burns', answer: true }])
  expect(evidence?.segments.map((s) => s.label)).toEqual(['on', 'list', 'again'])
})

test('a link that is lost where it may not be ends the take with words', async () => {
  const { taken, now } = run(function* () {
    yield* want.watch({ label: 'loss', ask: 'Watch.', seconds: 30, streams: [], until: ['armed'] })
  })
  await eventually(() => now()?.want?.kind === 'watch')
  await hands({ act: 'cable', in: false })
  expect(await taken).toMatchObject({
    verdict: 'refused',
    evidence: null,
    findings: [{ value: expect.stringMatching(/link was lost/) as unknown }],
  })
  await hands({ act: 'cable', in: true })
  await eventually(() => link.phase === 'up')
})

test('ESC settings are written and read back over a power cycle that the technician is asked for', async () => {
  const { taken, changes, now } = run(function* () {
    yield* want.state({ label: 'battery', ask: 'Battery in.', state: { battery: true } })
    yield* want.escs({ label: 'escs', ask: 'Written and read back.', outputs: [1, 2, 3, 4], settings: { brake: 1 } })
  })
  // A state that is not there yet is waited for.
  await eventually(() => now()?.want?.label === 'battery' && now()?.phase === 'waiting')
  await hands({ act: 'battery', source: 'pack' })
  await eventually(() => now()?.guide?.words === 'Take the battery out.')
  // What was written is on the card before the battery is touched.
  expect(changes).toEqual([{ what: 'escs', settings: [1, 2, 3, 4].map((output) => ({ output, name: 'brake', from: 0, to: 1 })) }])
  await hands({ act: 'battery', source: 'none' })
  await eventually(() => now()?.guide?.words === 'Put the battery in again.')
  await hands({ act: 'battery', source: 'pack' })
  expect(await taken).toMatchObject({ verdict: 'pass', findings: [{ key: 'done' }] })
  expect(world.rigs.sound.airframe.drives[0]?.esc.saved.brake).toBe(1)
  await hands({ act: 'battery', source: 'none' })
})

test('a state that is left ends the step with what was left', async () => {
  await hands({ act: 'battery', source: 'pack' })
  await eventually(() => link.state?.power === 'both')
  const { taken, now } = run(function* () {
    yield* want.capture({ label: 'warm', ask: 'Leave it.', seconds: 30, streams: ['meter'], state: { battery: true } })
  })
  await eventually(() => (now()?.share ?? 0) > 0)
  await hands({ act: 'battery', source: 'none' })
  expect(await taken).toMatchObject({ verdict: 'refused', findings: [{ value: 'the battery is not in' }] })
})

test('five minutes are captured whole', async () => {
  const taken = await run(function* () {
    yield* want.capture({ label: 'rest', ask: 'Leave it.', seconds: 300, streams: ['attitude', 'power'] })
  }).taken
  const { attitude, power } = segmentIn(taken, 'rest').streams
  const t = attitude?.t ?? []
  expect(t.length).toBeGreaterThanOrEqual(60_000)
  expect((t[t.length - 1] as number) - (t[0] as number)).toBeGreaterThanOrEqual(300)
  expect(power?.t.length).toBeGreaterThanOrEqual(5_900)
})
