const series = /^(?<before>[^[\]]*)\[(?<from>\d+)-(?<to>\d+)\](?<after>[^[\]]*)$/
const mostOfSeries = 500

/**
 * The tags of a pattern: `N4-[041-052]` stands for N4-041 to N4-052, as wide as they are written; one without brackets for itself.
 * What is wrong with it, as a string, where it is none.
 */
export const tagsOf = (pattern: string): string[] | string => {
  const text = pattern.trim()
  if (text === '') return 'write a tag, or a series as in N4-[041-052]'
  if (!/[[\]]/.test(text)) return [text]
  const { before = '', from = '', to = '', after = '' } = series.exec(text)?.groups ?? {}
  if (from === '') return 'write a series as in N4-[041-052]: one pair of brackets, two whole numbers'
  if (from.length !== to.length)
    return `write both numbers as wide: ${from.padStart(to.length, '0')}-${to.padStart(from.length, '0')}`
  const count = Number(to) - Number(from) + 1
  if (count < 1) return `${from} is not before ${to}`
  if (count > mostOfSeries) return `${count} tags at once; ${mostOfSeries} at most`
  return Array.from({ length: count }, (_, i) => `${before}${String(Number(from) + i).padStart(from.length, '0')}${after}`)
}

/** Orders lots as people read them: R9 before R10. */
export const compareLots = (a: string, b: string): number => a.localeCompare(b, 'en', { numeric: true, sensitivity: 'base' })

/** Whether a lot is in a range, both ends in it. */
export const isInLots = (lot: string, from: string, to: string): boolean =>
  compareLots(lot, from) >= 0 && compareLots(lot, to) <= 0
