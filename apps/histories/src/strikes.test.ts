import { randomFrom } from '@taraf/rig'
import { JumpClock } from '@taraf/takes'
import { Part } from './part'
import { Strikes, drawStrikes, type Struck } from './strikes'

test('the same seed draws the same, others draw every kind', () => {
  expect(drawStrikes(randomFrom(5), 12_000)).toEqual(drawStrikes(randomFrom(5), 12_000))
  const drawn = Array.from({ length: 300 }, (_, seed) => drawStrikes(randomFrom(seed), 12_000)).flat()
  expect(new Set(drawn.map(({ what }) => what)).size).toBe(10)
  expect(new Set(drawn.map(({ traffic }) => traffic)).size).toBe(6)
})

test('one falls at its message, once, and none once all is to go well', async () => {
  const time = new JumpClock(new Date(0), () => new Promise((resolve) => setImmediate(resolve)))
  const [near, far] = [new Part('near', time), new Part('far', time)]
  const done: string[] = []
  const does = (what: string) => (part: Part) => void done.push(`${what} ${part.name}`)
  const struck: Struck = { end: does('end'), stop: does('stop'), slow: does('slow'), date: does('date'), part: does('part') }
  const strike = { fromMs: 100, traffic: 'web', after: 1, atReceiver: true, forMs: 50 } as const
  const strikes = new Strikes(
    time,
    [
      { ...strike, what: 'end' },
      { ...strike, what: 'lost', fromMs: 200 },
    ],
    struck,
    null,
  )
  const fate = (traffic: 'web' | 'live' = 'web') => strikes.fate(traffic, near, far, () => '')
  expect([fate(), fate()]).toEqual(['arrives', 'arrives'])
  await time.pass(150)
  expect([fate('live'), fate(), done]).toEqual(['arrives', 'arrives', []])
  expect([fate(), done]).toEqual(['arrives', ['end far']])
  strikes.end()
  await time.pass(100)
  expect([fate(), fate(), fate(), strikes.fallen]).toEqual(['arrives', 'arrives', 'arrives', 1])
})
