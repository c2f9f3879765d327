import fc from 'fast-check'
import type { MotorPosition } from '../geometry'
import { contradictionIn, solveMotors, type Seen } from './solve'

const turnOf = (i: number): MotorPosition['turn'] => (i % 2 === 0 ? 'clockwise' : 'anticlockwise')
const frame = (count: number): MotorPosition[] =>
  Array.from({ length: count }, (_, i) => ({ boom: `boom ${i + 1}`, tier: 'only', output: i + 1, turn: turnOf(i), x: 0, y: 0 }))
const other = (turn: MotorPosition['turn']): MotorPosition['turn'] => (turn === 'clockwise' ? 'anticlockwise' : 'clockwise')
const straight = (output: number) => output

/** The fewest exchanges of two that sort an order, by trying all that are shorter first: apart from what is tested. */
const fewest = (order: readonly number[]): number => {
  let round: (readonly number[])[] = [order]
  const known = new Set([order.join()])
  for (let swaps = 0; ; swaps++) {
    if (round.some((o) => o.every((value, i) => value === i + 1))) return swaps
    const next: number[][] = []
    for (const one of round)
      for (let i = 0; i < one.length; i++)
        for (let j = i + 1; j < one.length; j++) {
          const swapped = [...one]
          ;[swapped[i], swapped[j]] = [one[j] as number, one[i] as number]
          if (known.has(swapped.join())) continue
          known.add(swapped.join())
          next.push(swapped)
        }
    round = next
  }
}
const orders = (count: number): fc.Arbitrary<number[]> =>
  fc.shuffledSubarray(
    Array.from({ length: count }, (_, i) => i + 1),
    { minLength: count, maxLength: count },
  )
const seenIn = (order: readonly number[], reversed: readonly number[]): Seen[] =>
  order.map((position, i) => ({
    output: i + 1,
    position,
    turn: reversed.includes(i + 1) ? other(turnOf(position - 1)) : turnOf(position - 1),
  }))

test('every order of 3 to 6 outputs is solved with the fewest exchanges, and the map that is written is what was seen', () => {
  for (const count of [3, 4, 5, 6])
    fc.assert(
      fc.property(orders(count), (order) => {
        const { map, swaps } = solveMotors(seenIn(order, []), frame(count), straight, false)
        expect(swaps).toBe(fewest(order))
        for (const [i, position] of order.entries()) expect(map[i + 1] ?? i + 1).toBe(position)
      }),
      { numRuns: count === 6 ? 30 : 60 },
    )
})

test('any reversals of 3 to 12 outputs are named, and no other; all of them are the mirrored convention', () => {
  fc.assert(
    fc.property(
      fc
        .integer({ min: 3, max: 12 })
        .chain((count) => fc.tuple(orders(count), fc.subarray(Array.from({ length: count }, (_, i) => i + 1)))),
      ([order, reversed]) => {
        const count = order.length
        const found = solveMotors(seenIn(order, reversed), frame(count), straight, false)
        expect(found.reverse).toEqual([...reversed].sort((a, b) => a - b))
        expect(found.isMirrored).toBe(reversed.length === count)
        // Told that it is mirrored, those that turn as the sheet says are the wrong ones.
        const mirrored = solveMotors(seenIn(order, reversed), frame(count), straight, true)
        expect(mirrored.reverse).toHaveLength(count - reversed.length)
      },
    ),
  )
})

test('every wrong tap that contradicts is caught, with the outputs to ask again and no others', () => {
  fc.assert(
    fc.property(fc.integer({ min: 3, max: 12 }), fc.nat(), fc.nat(), (count, a, b) => {
      const [wrong, as] = [a % count, b % count]
      const seen = seenIn(
        Array.from({ length: count }, (_, i) => i + 1),
        [],
      ).map((one, i) => (i === wrong ? { ...one, position: as + 1 } : one))
      const found = contradictionIn(seen, frame(count))
      if (wrong === as) expect(found).toBeNull()
      else expect([...(found?.outputs ?? [])].sort((x, y) => x - y)).toEqual([wrong + 1, as + 1].sort((x, y) => x - y))
    }),
  )
  expect(contradictionIn([{ output: 1, position: 9, turn: 'clockwise' }], frame(4))?.outputs).toEqual([1])
})
