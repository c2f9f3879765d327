import type { AskBody } from '@taraf/contract'
import { ProblemError } from '../http/problem'
import type { BenchLink } from '../links/benchLink'
import { LetGo, Turning } from './turning'

jest.useFakeTimers()
const turn = { powerId: 'p1', outputs: [1, 2], share: 0.4, press: 'thumb' }

/** A link to a board that grants every permit, and what it was asked for. */
const linkWith = (answer: (body: AskBody) => Promise<object> = () => Promise.resolve({})) => {
  const asked: AskBody[] = []
  const ask = async (body: AskBody) => {
    asked.push(body)
    return body.ask === 'permit' ? { token: 'token' } : answer(body)
  }
  return { link: { ask } as unknown as BenchLink, asked, of: (name: string) => asked.filter((a) => a.ask === name) }
}
const pass = (ms: number) => jest.advanceTimersByTimeAsync(ms)
const keepFor = async (turning: Turning, ms: number) => {
  for (let t = 0; t < ms; t += 50) {
    turning.keep('thumb')
    await pass(50)
  }
}

describe('motors that turn while a press is kept', () => {
  test('run up over a second, and stay up for as long as it is', async () => {
    const { link, of } = linkWith()
    const turning = await Turning.begin(link, turn)
    let up = false
    void turning.upToSpeed().then(() => (up = true))
    await keepFor(turning, 1_450)
    expect(up).toBe(false)
    await keepFor(turning, 5_000)
    expect([up, turning.signal.aborted]).toEqual([true, false])
    const shares = of('spin').map((a) => (a as { values: { share: number }[] }).values[0]?.share ?? 0)
    expect(shares[0]).toBe(0)
    expect(Math.max(...shares.slice(1).map((s, i) => s - (shares[i] ?? 0)))).toBeCloseTo((0.4 * 50) / 1_000, 6)
    expect(shares.at(-1)).toBe(0.4)
    await turning.end()
  })

  test('stand a fifth of a second after its last sign of life, and are told so by the dropped permit', async () => {
    const { link, of } = linkWith()
    const turning = await Turning.begin(link, turn)
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
    const turning = await Turning.begin(link, turn)
    for (let i = 0; i < 6; i++) {
      turning.keep('another')
      await pass(50)
    }
    expect(turning.signal.aborted).toBe(true)
    const before = of('spin').length
    turning.keep('thumb')
    await pass(100)
    expect(of('spin')).toHaveLength(before)
  })

  test('outlive a pause of the process whose signs of life are read after it', async () => {
    const { link } = linkWith()
    const turning = await Turning.begin(link, turn)
    await pass(20)
    jest.setSystemTime(Date.now() + 900)
    jest.advanceTimersToNextTimer()
    // What came in over the socket meanwhile is read before the watchdog judges.
    turning.keep('thumb')
    await pass(100)
    expect(turning.signal.aborted).toBe(false)
    await pass(150)
    expect(turning.signal.aborted).toBe(true)
  })

  test('stand when the board refuses, as when it was let go of; when the link is lost, for that', async () => {
    const refusing = await Turning.begin(
      linkWith(() => Promise.reject(new ProblemError('board-refused', 'Stop all was said.'))).link,
      turn,
    )
    await pass(1)
    expect(refusing.signal.reason).toBeInstanceOf(LetGo)
    const lost = new ProblemError('link-lost', 'The cable came out.')
    const losing = await Turning.begin(linkWith(() => Promise.reject(lost)).link, turn)
    const up = losing.upToSpeed().catch((error: unknown) => error)
    await pass(1)
    expect(losing.signal.reason).toBe(lost)
    expect(await up).toBe(lost)
  })
})
