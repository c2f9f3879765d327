import type { Evidence } from '@taraf/contract'
import { checks, missingNeeds, type Check } from '@taraf/core'
import { ArmedBench, arm, battery, level, pause, throttle, transmitter } from '../../tests/armedBench'
import { eventually } from '../../tests/world'
import { hoversOf } from './hovers'

jest.setTimeout(240_000)
let bench: ArmedBench
beforeAll(async () => {
  bench = await ArmedBench.make(['failsafe.response', 'hover.hop'])
})
afterAll(() => bench.end())

const cable = (isIn: boolean) => ({ act: 'cable', in: isIn })
const waits = (label: string) => eventually(() => bench.now()?.want?.label === label && bench.now()?.phase === 'waiting', 20_000)
const begin = () => bench.ines.post(`/jobs/${bench.job}/takes`, { check: 'hover.hop' })
const hop = checks.find(({ id }) => id === 'hover.hop') as Check

/** Carried out with its props on; what stands before it is answered as it is said. */
const carriedOut = async (isClear = true) => {
  await bench.hands(transmitter(true), throttle(-1), arm(0), battery('none'))
  expect((await begin()).status).toBe(202)
  await waits('hop-ready')
  await bench.hands({ act: 'put out' }, { act: 'props', on: true }, { act: 'nuts', on: true }, battery('pack'))
  await waits('place')
  const list = bench.now()?.want
  const questions = list?.kind === 'answers' ? list.questions : []
  const observations = questions.map(({ id }) => ({ segment: 'place', item: id, answer: id !== 'hopPlace' || isClear }))
  expect((await bench.ines.post(`/jobs/${bench.job}/takes/next`, { observations })).status).toBe(202)
}
/** Carried out, its cable pulled, and armed. */
const armedOut = async () => {
  await carriedOut()
  await bench.step('flight')
  await bench.hands(cable(false))
  await bench.led(/The cable is out/)
  await pause(700)
  await bench.hands(arm(1))
}
const carriedIn = async () => {
  await bench.hands(throttle(-1), arm(0), battery('none'), { act: 'props', on: false }, { act: 'nuts', on: false }, level)
}
const stands = () => eventually(() => !bench.rig.turning && bench.rig.state().motors === 'still', 5_000)

test('nothing flies before every check of the bench stands', async () => {
  const { status, body } = await begin()
  expect([status, body.type]).toEqual([409, '/problems/needs-first'])
  const { standings } = await bench.ines.job(bench.job)
  const maud = await bench.world.signIn('maud')
  for (const check of missingNeeds(hop, standings))
    expect((await maud.post(`/jobs/${bench.job}/asides`, { check, reason: 'has a test of its own' })).status).toBe(201)
})

test('where not all is ready nothing is told to fly, and it says what', async () => {
  await carriedOut(false)
  await bench.stored()
  expect(await bench.last()).toMatchObject({
    verdict: 'refused',
    findings: [{ value: expect.stringContaining('A clear place') as string }],
  })
  expect(bench.rig.board.permits.current).toBeNull()
  await carriedIn()
})

test('armed with the cable in, everything stands at once and the take is refused', async () => {
  await carriedOut()
  await bench.step('flight')
  await eventually(() => bench.rig.board.permits.current?.kind === 'flight')
  await pause(400)
  await bench.hands(arm(1))
  await bench.stored()
  expect(await bench.last()).toMatchObject({ verdict: 'refused', findings: [{ value: 'it was armed with the cable in' }] })
  await stands()
  await carriedIn()
})

test('a take that is stopped while it flies leaves no permit behind: with the cable in again all stands', async () => {
  await armedOut()
  await eventually(() => bench.rig.turning)
  expect((await bench.ines.remove(`/jobs/${bench.job}/takes/running`)).status).toBe(200)
  await pause(500)
  // What flies is not cut out of the air by a take that ends on the ground.
  expect(bench.rig.state()).toMatchObject({ permit: 'flight', motors: 'armed' })
  await bench.hands(cable(true))
  await bench.linked()
  await eventually(() => bench.rig.state().permit === null)
  await stands()
  await carriedIn()
})

test('flown on its battery, read from the log of the board, and known for every loss after it', async () => {
  await armedOut()
  await pause(700)
  await bench.hands({ act: 'hop' })
  await eventually(() => bench.rig.pilot === null, 60_000)
  await bench.hands(arm(0))
  await pause(500)
  await bench.hands(cable(true))
  await waits('hop-done')
  await bench.hands(arm(0), battery('none'))
  await bench.stored()
  const take = await bench.last()
  expect(take.findings.filter((f) => f.verdict !== 'pass' && f.verdict !== 'shown')).toEqual([])
  expect(take.verdict).toBe('pass')
  expect(bench.rig.incidents).toEqual([])
  await carriedIn()

  // What was said of props is on the card, and nobody turns a motor by it.
  const { entries } = await bench.ines.job(bench.job)
  expect(entries.filter(({ body }) => body.kind === 'confirmed').map(({ body }) => body)).toMatchObject([
    { what: 'props on' },
    { what: 'props on' },
    { what: 'props on' },
  ])
  const { evidenceSha256 } = take
  expect(evidenceSha256).not.toBeNull()
  const value = (key: string) => take.findings.find((f) => f.key === key)?.value
  const { sheet } = (await bench.ines.job(bench.job)) as { sheet: Evidence['sheet'] }
  const known = () => hoversOf(bench.world.db, bench.job, sheet)
  expect(await known()).toEqual([{ tag: 'T-001', command: value('hoverThrottle'), volts: value('volts') }])

  // Another prop, and nobody knows any more what holds it up.
  expect(
    (
      await bench.ines.post(`/jobs/${bench.job}/changes`, {
        change: { what: 'prop', words: 'another set of props' },
        cause: 'a nick',
      })
    ).status,
  ).toBe(201)
  expect(await known()).toEqual([])
})
