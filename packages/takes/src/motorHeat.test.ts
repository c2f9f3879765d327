import { defineCheck, want } from '@taraf/core'
import { FakeLink } from '../tests/fakeLink'
import { jumping } from '../tests/jumping'
import { Heat } from './heat'
import { MotorHeat, type HeatStore } from './motorHeat'

const never = new AbortController().signal

/** What a database keeps, without one. */
const storeOf = () => {
  const kept = new Map<string, number>()
  const store: HeatStore = {
    read: (board) => Promise.resolve(kept.get(board) ?? 0),
    keep: (board, warmS) => Promise.resolve(void kept.set(board, warmS)),
  }
  return { kept, store }
}

describe('how long motors have turned without cooling', () => {
  test('grows while they turn and goes back while they stand; what nobody hears turns for as long as its battery is in', async () => {
    const clock = jumping()
    const link = new FakeLink()
    const heat = new MotorHeat(link.asLink, clock, storeOf().store)
    link.is({ motors: 'turning' })
    await clock.pass(60_000)
    expect(heat.warmS).toBeCloseTo(60)
    link.is({ motors: 'still' })
    await clock.pass(20_000)
    expect(heat.warmS).toBeCloseTo(40)
    link.is({}, 'lost')
    await clock.pass(5_000)
    expect(heat.warmS).toBeCloseTo(45)
  })

  test('is kept while they turn, so that another link grants nothing anew: less than two seconds are lost with a server', async () => {
    const clock = jumping()
    const { store } = storeOf()
    const first = new FakeLink()
    const before = new MotorHeat(first.asLink, clock, store)
    first.is({ motors: 'armed' })
    await clock.pass(100_500)
    before.end()
    const heat = new MotorHeat(new FakeLink().asLink, clock, store)
    await heat.known(never)
    expect(heat.warmS).toBeGreaterThan(98)
    expect(heat.warmS).toBeLessThanOrEqual(100.5)
  })

  test('belongs to an airframe: another board on the bench is as warm as it was left', async () => {
    const clock = jumping()
    const { kept, store } = storeOf()
    kept.set('FB-2', 30)
    const link = new FakeLink()
    const heat = new MotorHeat(link.asLink, clock, store)
    link.is({ motors: 'turning' })
    await clock.pass(50_000)
    link.identity = { board: 'FB-2' }
    link.is({ motors: 'still' })
    await heat.known(never)
    expect(heat.warmS).toBeCloseTo(30)
  })
})

test('what cannot be read is no cold motor: it is waited for, and never replaced by what turned since', async () => {
  const clock = jumping()
  const { kept, store } = storeOf()
  kept.set('FB-1', 200)
  let isAway = true
  const away: HeatStore = {
    ...store,
    read: (board) => (isAway ? Promise.reject(new Error('the database is away')) : store.read(board)),
  }
  const link = new FakeLink()
  link.identity = { board: 'FB-1' }
  const heat = new MotorHeat(link.asLink, clock, away)
  link.is({ motors: 'turning' })
  await clock.pass(5_000)
  expect(kept.get('FB-1')).toBe(200)
  let isKnown = false
  const known = heat.known(never).then(() => (isKnown = true))
  await clock.pass(3_000)
  expect(isKnown).toBe(false)
  isAway = false
  await clock.until(known)
  expect(heat.warmS).toBeGreaterThan(205)
  await clock.pass(2_000)
  expect(kept.get('FB-1')).toBeGreaterThan(205)
})

describe('a step that turns motors', () => {
  /** Turns motors three times for a minute each. */
  const check = defineCheck({
    id: 'made.up',
    version: 1,
    station: 'motors',
    title: 'Made up',
    proves: 'Nothing is begun that cannot be ended.',
    needs: [],
    reads: { settings: [], parts: [], acts: [], image: false },
    appliesTo: () => true,
    stages: null,
    *take() {
      for (const label of ['first', 'second', 'third'])
        yield* want.turn({ label, ask: 'Hold.', seconds: 58.5, runUpS: 0, outputs: [{ output: 1, share: 0.1 }], streams: [] })
    },
    evaluate: () => [],
  })
  const waitedFor = async (label: string, warmS: number) => {
    const clock = jumping()
    const link = new FakeLink()
    const { kept, store } = storeOf()
    kept.set('FB-1', warmS)
    const heat = new MotorHeat(link.asLink, clock, store)
    await heat.known(never)
    const began = clock.nowMs()
    const words: string[] = []
    const step = { kind: 'turn', label, ask: '', seconds: 58.5, runUpS: 0, outputs: [], streams: [] } as never
    const cooled = new Heat({ check, link: link.asLink, clock, heat, sheet: {} }).cooled(
      step,
      (said) => void words.push(said),
      new AbortController().signal,
    )
    await clock.until(cooled)
    return { waitedS: (clock.nowMs() - began) / 1000, words }
  }

  test('waits until it and those after it fit into what is left of the heat, and says for how long', async () => {
    // 240 s are the most; three minutes are to be turned.
    const { waitedS, words } = await waitedFor('first', 100)
    expect(waitedS).toBeCloseTo(40, 0)
    expect(words[0]).toBe('The motors are warm: they have turned for 100 s. Let them cool for 40 s more.')
    expect((await waitedFor('third', 100)).waitedS).toBe(0)
  })

  test('begins at once where all of it fits', async () => {
    expect(await waitedFor('first', 50)).toEqual({ waitedS: 0, words: [] })
  })
})
