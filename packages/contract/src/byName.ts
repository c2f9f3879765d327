import { z } from 'zod'

/** Whether every object answers to a name, whatever it holds: `constructor`, `toString`. */
const isEverybodys = (name: string): boolean => name in {}

/** A map by names that come from outside. Every object answers to some names: those are refused, so that none is taken for an entry. */
export const byName = <Value extends z.ZodType>(value: Value, name: z.ZodString = z.string().min(1)) =>
  z.record(
    name.refine((one) => !isEverybodys(one), 'this name is kept for programs: choose another'),
    value,
  )

/** What a table says of a name from outside; undefined where it holds none of that name. */
export const entryOf = <Value>(table: Readonly<Record<string, Value>>, name: string): Value | undefined =>
  Object.hasOwn(table, name) ? table[name] : undefined
