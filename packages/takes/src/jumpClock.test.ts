import fc from 'fast-check'
import { jumping } from '../tests/jumping'
import { elapsed, timeLimit } from './clock'

describe('a clock that jumps', () => {
  test('makes calls in the order of their time, and those of one time in the order in which they were asked for', async () => {
    await fc.assert(
      fc.asyncProperty(fc.array(fc.integer({ min: 0, max: 50 }), { minLength: 1, maxLength: 60 }), async (times) => {
        const clock = jumping()
        const made: [number, number][] = []
        times.forEach((ms, i) => clock.after(ms, () => void made.push([clock.nowMs(), i])))
        await clock.pass(60)
        expect(made).toEqual(times.map((ms, i) => [ms, i]).sort(([a = 0, i = 0], [b = 0, j = 0]) => a - b || i - j))
      }),
    )
  })

  test('lets nobody wait for a call that was cancelled, nor for one that comes again and again', async () => {
    const clock = jumping()
    const made: string[] = []
    clock.after(10, () => void made.push('never'))()
    const stop = clock.every(10, () => {
      made.push(`at ${clock.nowMs()}`)
      if (clock.nowMs() >= 30) stop()
    })
    await clock.pass(100)
    expect(made).toEqual(['at 10', 'at 20', 'at 30'])
    expect(clock.date().toISOString()).toBe('2026-11-02T09:00:00.100Z')
  })

  test('waits for what is in flight before it jumps, and says where nothing can end a wait', async () => {
    const clock = jumping()
    const order: string[] = []
    clock.after(5, () => void order.push('later'))
    const work = async () => {
      for (let i = 0; i < 20; i++) await Promise.resolve()
      order.push('first')
      await elapsed(clock, 1)
      return 'done'
    }
    expect(await clock.until(work())).toBe('done')
    expect(order).toEqual(['first', 'later'])
    await expect(clock.until(new Promise(() => {}))).rejects.toThrow('nothing is due any more')
  })

  test('a wait ends with the reason of its signal, and a limit of time aborts unless it is ended', async () => {
    const clock = jumping()
    const stopper = new AbortController()
    const waits = elapsed(clock, 1, stopper.signal)
    stopper.abort(new Error('stopped'))
    await expect(waits).rejects.toThrow('stopped')
    const [kept, ended] = [timeLimit(clock, 500), timeLimit(clock, 500)]
    ended.end()
    await clock.pass(600)
    expect([kept.signal.aborted, ended.signal.aborted]).toEqual([true, false])
  })
})
