import type { Sheet } from '@taraf/contract'
import type { Contradiction } from './contradictions'

/** Flight modes: of these only one can rule at a time. */
const modes = ['rate', 'selfLevel', 'blend', 'altitude', 'position', 'heading', 'returnHome']

type Row = NonNullable<Sheet['switchPlan']>[number]
type Band = NonNullable<Row['with']>
const bandsOf = (row: Row): Band[] => (row.with === undefined ? [row] : [row, row.with])

/** What of the switch plan cannot be: bands the wrong way round, a function twice, two flight modes on at once. */
export const inSwitchPlan = ({ switchPlan = [] }: Sheet): Contradiction[] =>
  switchPlan.flatMap((row, i): Contradiction[] => {
    const place = `switchPlan[${i}]`
    const wrong = bandsOf(row).find(({ from, to }) => from >= to)
    if (wrong !== undefined) return [{ place, why: `gates that cannot agree: ${wrong.from} us is not below ${wrong.to} us` }]
    if (row.with?.channel === row.channel)
      return [{ place: `${place}.with.channel`, why: 'both conditions are on one channel: choose another for the second' }]
    const before = switchPlan.slice(0, i)
    if (before.some((b) => b.function === row.function)) return [{ place, why: `"${row.function}" is planned twice` }]
    if (!modes.includes(row.function)) return []
    return before
      .filter((b) => modes.includes(b.function))
      .flatMap((b): Contradiction[] => {
        const shared = sharedOf(row, b)
        return shared === null
          ? []
          : [{ place, why: `gates that cannot agree: "${row.function}" and "${b.function}" are both on ${shared}` }]
      })
  })

/** Where two functions are on at once by a channel that both of them ask for; null where no channel says so. */
const sharedOf = (one: Row, other: Row): string | null => {
  const pairs = bandsOf(one).flatMap((a) => bandsOf(other).flatMap((b) => (a.channel === b.channel ? [{ a, b }] : [])))
  if (pairs.length === 0) return null
  const both = pairs.map(({ a, b }) => ({ channel: a.channel, from: Math.max(a.from, b.from), to: Math.min(a.to, b.to) }))
  if (both.some(({ from, to }) => from > to)) return null
  return both.map(({ channel, from, to }) => `from ${from} to ${to} us of channel ${channel}`).join(' and ')
}

/** What of the switches cannot be: two on one channel, a power-up position that there is none of, a function without a switch. */
export const inSwitches = ({ switches, switchPlan = [] }: Sheet): Contradiction[] =>
  switches === undefined
    ? []
    : [
        ...switches.flatMap(({ channel, positions, atPowerUp }, i): Contradiction[] => {
          const place = `switches[${i}]`
          const same = switches.findIndex((s) => s.channel === channel)
          if (same < i) return [{ place: `${place}.channel`, why: `channel ${channel} is that of "${switches[same]?.name}" too` }]
          return atPowerUp > positions
            ? [{ place: `${place}.atPowerUp`, why: `it has ${positions} positions, and no position ${atPowerUp}` }]
            : []
        }),
        ...switchPlan.flatMap((row, i): Contradiction[] => {
          const without = bandsOf(row).find((band) => !switches.some((s) => s.channel === band.channel))
          return without === undefined || row.meant !== undefined
            ? []
            : [
                {
                  place: `switchPlan[${i}]`,
                  why: `"${row.function}" wants channel ${without.channel}, and no switch is on it: add the switch, or say why it goes without one`,
                },
              ]
        }),
      ]
