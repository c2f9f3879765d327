import type { Sheet, SheetVariant } from '@taraf/contract'

/** One place where two sheets differ. Null where one of them has nothing there. */
export interface Difference {
  readonly place: string
  readonly from: string | null
  readonly to: string | null
}

/** Where two sheets differ, place by place, in the order of the first. Type, version and reason are not compared. */
export const compareSheets = (from: Sheet, to: Sheet): Difference[] => {
  const [before, after] = [leavesOf(from), leavesOf(to)]
  return [...new Set([...before.keys(), ...after.keys()])].flatMap((place) => {
    const [a, b] = [before.get(place) ?? null, after.get(place) ?? null]
    return a === b || ['type', 'version', 'why'].includes(place) || place.startsWith('variantOf')
      ? []
      : [{ place, from: a, to: b }]
  })
}

const leavesOf = (value: unknown, place = '', found = new Map<string, string>()): Map<string, string> => {
  if (typeof value === 'object' && value !== null)
    for (const [key, inner] of Object.entries(value))
      leavesOf(
        inner,
        Array.isArray(value)
          ? `${place}[${key}]`
          : key.includes('.')
            ? `${place}["${key}"]`
            : place === ''
              ? key
              : `${place}.${key}`,
        found,
      )
  else if (value !== undefined) found.set(place, String(value))
  return found
}

/** A variant with all that it takes from its parent: settings and limits name by name, everything else as a whole. */
export const resolveVariant = (parent: Sheet, { variantOf, ...own }: SheetVariant): Sheet => ({
  ...parent,
  ...own,
  version: own.version ?? 1,
  settings: { ...parent.settings, ...own.settings },
  limits: { ...parent.limits, ...own.limits },
  variantOf,
})
