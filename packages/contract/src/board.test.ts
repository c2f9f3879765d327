import fc from 'fast-check'
import { z } from 'zod'
import { boardSetting, boardSettings } from './board'

const value = fc.oneof(
  fc.double(),
  fc.string(),
  fc.constant(null),
  fc.constant(undefined),
  fc.array(fc.oneof(fc.string(), fc.integer())),
)
const good = fc.record(
  {
    name: fc.string(),
    unit: fc.string(),
    min: fc.integer(),
    max: fc.integer(),
    factory: fc.integer(),
    value: fc.integer(),
    saved: fc.integer(),
    choices: fc.array(fc.string()),
  },
  { requiredKeys: ['name', 'unit', 'min', 'max', 'factory', 'value', 'saved'] },
)
const keys = ['name', 'unit', 'min', 'max', 'factory', 'value', 'saved', 'choices', 'other']
/** A record with one field overwritten, put in or taken out. */
const spoilt = fc.tuple(good, fc.constantFrom(...keys), value, fc.boolean()).map(([one, key, other, out]) => {
  const { [key]: _, ...rest } = one as Record<string, unknown>
  return out ? rest : { ...rest, [key]: other }
})

test('the plain loop proves of a list of settings just what the schema proves', () => {
  const slow = z.array(boardSetting)
  const entry = fc.oneof({ weight: 3, arbitrary: good as fc.Arbitrary<unknown> }, spoilt, value)
  fc.assert(
    fc.property(fc.oneof(fc.array(entry, { maxLength: 3 }), value), (list: unknown) => {
      expect(boardSettings.safeParse(list).success).toBe(slow.safeParse(list).success)
    }),
    { numRuns: 2_000 },
  )
})
