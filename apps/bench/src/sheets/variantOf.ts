import type { Sheet, SheetVariant } from '@taraf/contract'

const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b)

/** A sheet as a variant of another is written: what differs, and nothing else. Settings and limits go name by name. */
export const variantOf = (parent: Sheet, { type, title, why, settings, limits, ...rest }: Sheet): SheetVariant => {
  const differing = <V>(own: Readonly<Record<string, V>>, of: Readonly<Record<string, V>>) =>
    Object.fromEntries(Object.entries(own).filter(([name, value]) => !same(of[name], value)))
  const parts = Object.fromEntries(
    Object.entries(rest).filter(
      ([key, value]) => !['version', 'variantOf'].includes(key) && !same(parent[key as keyof Sheet], value),
    ),
  )
  return {
    ...parts,
    type,
    title,
    ...(why === undefined || why === '' ? {} : { why }),
    settings: differing(settings, parent.settings),
    limits: differing(limits, parent.limits),
    variantOf: { type: parent.type, version: parent.version },
  }
}
