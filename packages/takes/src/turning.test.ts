import { EventEmitter } from 'node:events'
import { ProblemError, type AskBody } from '@taraf/contract'
import { jumping } from '../tests/jumping'
import type { BoardLink } from './link/boardLink'
import { KeptTurning, LetGo, Turning } from './turning'

const clock = jumping()
const outputs = [1, 2].map((output) => ({ output, share: 0.4 }))
const screen = {}
const thumb = { press: 'thumb', screen }
const begin = async (link: BoardLink) => {
  const turning = await Turning.begin(link, clock, 'p1', thumb)
  turning.turn(outputs)
  return turning
}

/** A link to a board that grants every permit, and what it was asked for. */
const linkWith = (answer: (body: AskBody) => Promise<object> = () => Promise.resolve({})) => {
  const asked: AskBody[] = []
  const ask = async (body: AskBody) => {
    asked.push(body)
    return body.ask === 'permit' ? { token: 'token' } : answer(body)
  }
  return { link: { ask } as unknown as BoardLink, asked, of: (name: string) => asked.filter((a) => a.ask === name) }
}
const pass = (ms: number) => clock.pass(ms)
const keepFor = async (turning: Turning, ms: number) => {
  for (let t = 0; t < ms; t += 50) {
    turning.keep(thumb)
    await pass(50)
  }
}

describe('motors that turn while a press is kept', () => {
  test('begin where motors turn, run up over a second, and stay up for as long as it is', async () => {
    const { link, of } = linkWith()
    const turning = await begin(link)
    await keepFor(turning, 6_450)
    expect(turning.signal.aborted).toBe(false)
    const shares = of('spin').map((a) => (a as { values: { share: number }[] }).values[0]?.share ?? 0)
    expect(shares[0]).toBe(0.06)
    expect(Math.max(...shares.slice(1).map((s, i) => s - (shares[i] ?? 0)))).toBeCloseTo((0.34 * 50) / 1_000, 6)
    expect(shares.at(-1)).toBe(0.4)
    await turning.end()
  })

  test('stand a fifth of a second after its last sign of life, and are told so by the dropped permit', async () => {
    const { link, of } = linkWith()
    const turning = await begin(link)
    await keepFor(turning, 500)
    await pass(145)
    expect(turning.signal.aborted).toBe(false)
    await pass(60)
    expect(turning.signal.aborted).toBe(true)
    expect(turning.signal.reason).toBeInstanceOf(LetGo)
    expect(of('permit.drop')).toHaveLength(1)
  })

  test('never turn again for a press that comes back, and not at all for another', async () => {
    const { link, of } = linkWith()
    const turning = await begin(link)
    for (let i = 0; i < 6; i++) {
      turning.keep({ press: 'another', screen })
      // The same name on another screen, or on another connection of the same one, is another press.
      turning.keep({ press: 'thumb', screen: {} })
      await pass(50)
    }
    expect(turning.signal.aborted).toBe(true)
    const before = of('spin').length
    turning.keep(thumb)
    await pass(100)
    expect(of('spin')).toHaveLength(before)
  })

  test('stand when the board refuses, as when it was let go of; when the link is lost, for that', async () => {
    const refusing = await begin(linkWith(() => Promise.reject(new ProblemError('board-refused', 'Stop all was said.'))).link)
    await pass(1)
    expect(refusing.signal.reason).toBeInstanceOf(LetGo)
    const lost = new ProblemError('link-lost', 'The cable came out.')
    const losing = await begin(linkWith(() => Promise.reject(lost)).link)
    await pass(1)
    expect(losing.signal.reason).toBe(lost)
  })
})

describe('a permit that goes on from step to step', () => {
  const live = (motors: { now: string }) => {
    const found = linkWith()
    const emitter = new EventEmitter()
    const state = {
      get motors() {
        return motors.now
      },
    }
    const link = Object.assign(emitter, {
      ask: (found.link as unknown as { ask: unknown }).ask,
      phase: 'up',
      state,
    }) as unknown as BoardLink
    return { ...found, link, emitter }
  }
  test('is asked for once while the press is kept; what turned before comes to rest before the next turns', async () => {
    const motors = { now: 'still' }
    const { link, of, emitter } = live(motors)
    const kept = new KeptTurning(link, clock)
    const letGo = clock.every(50, () => kept.keep(thumb))
    const { signal } = new AbortController()
    await Promise.all([kept.turn('p1', { outputs: [{ output: 1, share: 0.1 }] }, signal), pass(60)])
    motors.now = 'turning'
    let second: Turning | null = null
    void kept.turn('p1', { outputs: [{ output: 2, share: 0.1 }] }, signal).then((turning) => (second = turning))
    await pass(500)
    expect(second).toBeNull()
    expect((of('spin').at(-1) as { values: unknown[] }).values).toEqual([])
    motors.now = 'still'
    emitter.emit('phase')
    await pass(100)
    expect(second).not.toBeNull()
    expect((of('spin').at(-1) as { values: { output: number }[] }).values[0]?.output).toBe(2)
    expect(of('permit')).toHaveLength(1)
    letGo()
    await kept.end()
  })
  test('the command rises to its share as slowly as a step says', async () => {
    const { link, of } = live({ now: 'still' })
    const kept = new KeptTurning(link, clock)
    const letGo = clock.every(50, () => kept.keep(thumb))
    const { signal } = new AbortController()
    await Promise.all([kept.turn('p1', { outputs, riseS: 10 }, signal), pass(1_000)])
    const shares = of('spin').map((ask) => (ask as { values: { share: number }[] }).values[0]?.share ?? 0)
    const [last] = outputs.map(({ share }) => share)
    expect(shares[0]).toBeLessThan(0.02 * (last ?? 0))
    expect(shares.at(-1)).toBeGreaterThan(0.05 * (last ?? 0))
    expect(shares.at(-1)).toBeLessThan(0.2 * (last ?? 0))
    letGo()
    await kept.end()
  })
  test('let go of, it wants another press and asks for another one, for the battery connection that was confirmed', async () => {
    const { link, of } = live({ now: 'still' })
    const kept = new KeptTurning(link, clock)
    const { signal } = new AbortController()
    const first = kept.turn('p1', { outputs }, signal)
    kept.keep(thumb)
    await first
    await pass(300)
    expect(kept.isKept).toBe(false)
    const again = kept.turn('p1', { outputs }, signal)
    kept.keep(thumb)
    await pass(100)
    expect(of('permit')).toHaveLength(1)
    kept.keep({ press: 'another', screen })
    await again
    expect(of('permit')).toEqual([expect.objectContaining({ powerId: 'p1' }), expect.objectContaining({ powerId: 'p1' })])
    await kept.end()
  })
})
