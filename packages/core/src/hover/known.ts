import type { Evidence, Finding, FlownHover } from '@taraf/contract'
import { midPackVolts } from '../cells'
import { shown } from '../check'
import { median } from '../statistics'

/** The command that holds an airframe up at mid-pack voltage, with the payload of its sheet, and where that is known from. */
export interface KnownHover {
  /** Collective, 0..1. */
  readonly command: number
  readonly from: 'this airframe' | 'its type' | 'the sheet'
  /** Mid-pack voltage, V; null where nobody says how many cells its packs have. */
  readonly volts: number | null
  /** Of how many others of its type it is the middle one, and how far these lie apart, 0..1. */
  readonly others: { readonly count: number; readonly spread: number } | null
}

/** Fewer others than this are no type (common practice). */
const leastOthers = 3
/** Others that lie further apart than this are not alike: their middle one says little about the next. 0.01 is a point of command. */
const mostSpread = 0.02
/** Of what is normally distributed, the median distance from the median is this share of the standard deviation. */
const normalShare = 0.6745

/**
 * The command in hover that a loss is judged against: from the hover proof of this airframe, else the middle one of others of its type, else
 * what the sheet says. A motor's speed follows the voltage that it gets, and thrust its speed: what was flown at another voltage is brought to
 * mid-pack in proportion.
 */
export const hoverOf = ({
  sheet,
  airframe,
  board,
  hovers = [],
}: Pick<Evidence, 'sheet' | 'airframe' | 'board' | 'hovers'>): KnownHover | null => {
  const cells = sheet.pack?.cells ?? board.settings?.['power.cells'] ?? 0
  const volts = cells > 0 ? midPackVolts(cells) : null
  const atMid = (flown: FlownHover): number => (volts === null ? flown.command : (flown.command * flown.volts) / volts)
  const own = hovers.find(({ tag }) => tag === airframe?.tag)
  if (own !== undefined) return { command: atMid(own), from: 'this airframe', volts, others: null }
  const known = hovers.map(atMid)
  const middle = median(known)
  const spread = median(known.map((command) => Math.abs(command - middle))) / normalShare
  const said = sheet.rotor?.hover
  const areAlike = known.length >= leastOthers && spread <= mostSpread
  // Where the sheet says nothing, few are better than nobody.
  if (areAlike || (said === undefined && known.length > 0))
    return { command: middle, from: 'its type', volts, others: { count: known.length, spread } }
  return said === undefined ? null : { command: said, from: 'the sheet', volts, others: null }
}

/** What a loss was judged against, for the record: another one by over two points spoils what was. */
export const hoverFindings = (evidence: Evidence): Finding[] => {
  const known = hoverOf(evidence)
  if (known === null) return []
  const { command, from, volts, others } = known
  const whose =
    others === null
      ? from === 'this airframe'
        ? 'the hover proof of this airframe'
        : from
      : `${others.count} others of its type, ${(100 * others.spread).toFixed(1)} points apart`
  return [
    shown('hover', command, ''),
    shown('hoverFrom', `${whose}, with the payload of the sheet`, ''),
    ...(volts === null ? [] : [shown('hoverVolts', volts, 'V')]),
  ]
}
