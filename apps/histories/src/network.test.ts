import { JumpClock } from '@taraf/takes'
import fc from 'fast-check'
import { End } from './connection'
import { Network, Way, type Fate } from './network'
import { Part } from './part'

const clockOf = () => new JumpClock(new Date(0), () => new Promise((resolve) => setImmediate(resolve)))

const twoParts = (fates: (n: number) => Fate = () => 'arrives') => {
  const time = clockOf()
  let n = 0
  const network = new Network(time, () => fates(n++))
  return { time, network, near: new Part('near', time), far: new Part('far', time) }
}

describe('a part', () => {
  test('that has ended hears nothing and does nothing; one that is stopped hears all of it once it goes on, in its order', async () => {
    const { time, near } = twoParts()
    const heard: string[] = []
    near.clock.every(10, () => heard.push('tick'))
    near.stop()
    near.hear(() => heard.push('first'))
    near.hear(() => heard.push('second'))
    await time.pass(15)
    expect(heard).toEqual([])
    near.goOn()
    expect(heard).toEqual(['first', 'second', 'tick'])
    near.end()
    near.hear(() => heard.push('late'))
    await time.pass(100)
    expect(heard).toHaveLength(3)
  })

  test('that was slow and is not any more hears in order all the same', async () => {
    const { time, near } = twoParts()
    const heard: number[] = []
    near.slowMs = 100
    near.hear(() => heard.push(1))
    near.slowMs = 0
    near.hear(() => heard.push(2))
    expect(heard).toEqual([])
    await time.pass(200)
    expect(heard).toEqual([1, 2])
  })

  test('has its own date: setting it moves nothing that waits', async () => {
    const { time, near } = twoParts()
    let at = 0
    near.clock.after(1_000, () => (at = time.nowMs()))
    near.shiftDate(3_600_000)
    expect(near.clock.date().getTime()).toBe(3_600_000)
    await time.pass(2_000)
    expect(at).toBe(1_000)
  })
})

describe('a way', () => {
  test('keeps the order of what is sent, however late; what parted parts say comes once they are joined', async () => {
    await fc.assert(
      fc.asyncProperty(fc.array(fc.nat({ max: 300 }), { maxLength: 30 }), fc.boolean(), async (lates, isParted) => {
        const { time, network, near, far } = twoParts((n) => ({ lateMs: lates[n] ?? 0 }))
        const way = new Way(network, near, far, 'database', true, () => {})
        const heard: number[] = []
        if (isParted) network.part(near, far)
        for (const i of lates.keys())
          way.send(
            () => heard.push(i),
            () => '',
          )
        await time.pass(1_000)
        if (isParted) expect(heard).toEqual([])
        network.join(near, far)
        expect(heard).toEqual([...lates.keys()])
      }),
      { numRuns: 30 },
    )
  })

  test.each([
    ['lost', []],
    ['twice', [0, 0, 1]],
    ['overtaken', [1, 0]],
  ] as const)('of messages: one that is %s', async (fate, wanted) => {
    const { time, network, near, far } = twoParts((n) => (n === 0 ? fate : 'arrives'))
    const way = new Way(network, near, far, 'ask', false, () => {})
    const heard: number[] = []
    for (const i of [0, 1])
      way.send(
        () => heard.push(i),
        () => '',
      )
    await time.pass(1_000)
    expect(heard).toEqual(fate === 'lost' ? [1] : wanted)
  })
})

describe('a connection', () => {
  const opened = async (fates?: (n: number) => Fate) => {
    const parts = twoParts(fates)
    const { time, network, near, far } = parts
    const ends: End[] = []
    const end = End.pair(network, near, far, 'web', (other) => ends.push(other))
    await time.pass(10)
    const [other] = ends as [End]
    const heard: string[] = []
    for (const one of [end, other]) one.on('error', (error) => heard.push(error.message))
    other.on('data', (bytes: Buffer) => heard.push(bytes.toString()))
    return { ...parts, end, other, heard }
  }

  test('carries bytes and its end', async () => {
    const { time, end, other, heard } = await opened()
    let isOver = false
    other.on('end', () => (isOver = true))
    end.write('one')
    end.end('two')
    await time.pass(10)
    expect([heard.join(''), isOver]).toEqual(['onetwo', true])
  })

  test('is cut for both by a message that is lost, and by the end of one of them', async () => {
    const lost = await opened((n) => (n === 1 ? 'lost' : 'arrives'))
    lost.end.write('gone')
    await lost.time.pass(10)
    expect(lost.heard).toEqual(['read ECONNRESET', 'read ECONNRESET'])
    const { time, near, far, end, heard } = await opened()
    far.end()
    await time.pass(10)
    expect([heard, end.destroyed, near.isOver]).toEqual([['read ECONNRESET'], true, false])
  })
})
