import { machineClock } from './clock'

jest.useFakeTimers()

describe('the time of the machine', () => {
  test('what came in while this process was paused is read before a call that is due again and again', () => {
    const order: string[] = []
    const stop = machineClock.every(25, () => void order.push('looked'))
    setImmediate(() => void order.push('read what came in'))
    jest.advanceTimersByTime(26)
    expect(order).toEqual(['read what came in', 'looked'])
    stop()
    jest.advanceTimersByTime(100)
    expect(order).toHaveLength(2)
  })

  test('a call that was cancelled is not made', () => {
    const call = jest.fn()
    machineClock.after(10, call)()
    machineClock.after(10, call)
    jest.advanceTimersByTime(10)
    expect(call).toHaveBeenCalledTimes(1)
  })
})
