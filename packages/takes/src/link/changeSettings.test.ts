import { ProblemError, type AskBody, type Settings } from '@taraf/contract'
import { valuesOf } from '@taraf/core/atLink'
import { asker, demoShop, rigOf } from '@taraf/demo'
import type { Rig } from '@taraf/rig'
import fc from 'fast-check'
import type { BoardLink } from './boardLink'
import { changeSettings } from './changeSettings'

const rig = () => rigOf({ type: 'N4', board: 'FB-1', seed: 3 }, demoShop(new Date('2026-11-02T09:00:00Z')))

/** A link to a rig that is cut at its n-th message, before or after the board has taken it. */
const linkTo = (of: Rig, cutAt = Infinity, taken = false): BoardLink => {
  const answer = asker(of)
  let n = 0
  const lost = () => new ProblemError('link-lost', 'The cable came out.')
  const send = (work: () => unknown) => {
    n += 1
    if (n > cutAt) return Promise.reject(lost())
    if (n === cutAt && !taken) return Promise.reject(lost())
    const found = work()
    return n === cutAt ? Promise.reject(lost()) : Promise.resolve(found)
  }
  return {
    state: { motors: 'still' },
    ask: (body: AskBody) => send(() => answer(body)),
    restart: () => send(() => of.restart()),
  } as unknown as BoardLink
}
const saved = (of: Rig): Settings => valuesOf(of.board.settings.list())

const some = fc.dictionary(
  fc.constantFrom('filter.gyro', 'curve.roll.rate', 'gain.level', 'level.most', 'power.warnCell'),
  fc.integer({ min: 0, max: 3 }),
  { minKeys: 1 },
)
const scaled = (steps: Settings): Settings => {
  const of = rig().board.settings.list()
  return Object.fromEntries(
    Object.entries(steps).map(([name, step]) => {
      const { min = 0, max = 1 } = of.find((s) => s.name === name) ?? {}
      return [name, min + ((max - min) * step) / 3]
    }),
  )
}

test('a write cut at any message ends equal, or says that it was lost; then the board has all of it or nothing', async () => {
  await fc.assert(
    fc.asyncProperty(some, fc.integer({ min: 1, max: 6 }), fc.boolean(), async (steps, cutAt, taken) => {
      const board = rig()
      const wanted = scaled(steps)
      const before = saved(board)
      const end = await changeSettings(linkTo(board, cutAt, taken), { do: 'write', settings: wanted }).catch(
        (error: unknown) => error,
      )
      // Whatever was not saved is gone with the power.
      board.restart()
      const after = saved(board)
      if (!(end instanceof ProblemError)) return void expect(after).toEqual({ ...before, ...wanted })
      expect(end.type).toBe('link-lost')
      expect([JSON.stringify(before), JSON.stringify({ ...before, ...wanted })]).toContain(JSON.stringify(after))
    }),
    { numRuns: 60 },
  )
})

test.each([false, true])('clearing cut at any message (taken: %p) leaves all as it was, or is whole', async (taken) => {
  const ends = new Set<string>()
  for (let cutAt = 1; cutAt <= 7; cutAt++) {
    const board = rig()
    board.board.settings.write({ 'level.roll': 0.4, 'gain.level': 3 })
    board.board.settings.save()
    const before = saved(board)
    const cleared = Object.fromEntries(board.board.settings.list().map((s) => [s.name, s.factory]))
    const whole = { ...cleared, 'level.roll': 0.4, 'filter.gyro': 90 }
    const end = await changeSettings(linkTo(board, cutAt, taken), {
      do: 'clear',
      wanted: (was) => ({ 'level.roll': was['level.roll'] ?? 0, 'filter.gyro': 90 }),
    }).catch((error: unknown) => error)
    board.restart()
    const after = saved(board)
    if (end instanceof ProblemError) expect(end.type).toBe('link-lost')
    else expect(after).toEqual(whole)
    expect([JSON.stringify(before), JSON.stringify(whole)]).toContain(JSON.stringify(after))
    ends.add(JSON.stringify(after))
  }
  expect(ends.size).toBe(2)
})

test('a board that does not keep a value is named', async () => {
  const board = rig()
  board.board.settings.save = () => {}
  const end = await changeSettings(linkTo(board), { do: 'write', settings: { 'filter.gyro': 90 } })
  expect(end).toMatchObject({ differs: ['filter.gyro: wrote 90, read back 120'], after: { 'filter.gyro': 120 } })
})
