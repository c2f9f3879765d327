import type { Change, Entry, Runs } from '@taraf/contract'
import { checkById, transmitterWords } from '@taraf/core'

const runsWords = (runs: Runs | null): string => (runs === null ? 'none' : `${runs.name} ${runs.version}`)

const changeWords = (change: Change): string => {
  switch (change.what) {
    case 'settings':
      return settingsWords(change.settings)
    case 'image':
      return `firmware ${runsWords(change.from)} to ${runsWords(change.to)}`
    case 'escs':
      return settingsWords(
        change.settings.map(({ output, name, ...values }) => ({ name: `output ${output} ${name}`, ...values })),
      )
    case 'board':
      return `board ${change.from} replaced by ${change.to}`
    case 'part':
      return `${change.part} ${change.act}`
    case 'transmitter':
      return change.set === undefined
        ? `transmitter: ${change.words}`
        : `transmitter${change.transmitter === undefined ? '' : ` ${change.transmitter}, model ${change.model ?? 'not known'}`}: ${transmitterWords(change.set)}`
    case 'lead':
    case 'prop':
      return `${change.what}: ${change.words}`
    case 'remount':
      return 'board remounted'
    case 'knock':
      return 'knocked'
  }
}

type Differing = Extract<Change, { what: 'settings' }>['settings']
const mostNamed = 6

/** Every setting that changed where they are few, else the first of them and how many more. */
const settingsWords = (settings: Differing): string => {
  const words = settings
    .slice(0, mostNamed)
    .map(
      ({ name, from, to, asked }) =>
        `${name} ${from ?? 'unknown'} to ${to}${asked === undefined ? '' : `, where ${asked} was written`}`,
    )
  const left = settings.length - words.length
  return left === 0 ? words.join(', ') : `${words.join(', ')} and ${left} more settings`
}

const sentence = (words: string): string => words.charAt(0).toUpperCase() + words.slice(1)

/** One entry of a job card in a line. */
export const entryWords = ({ body }: Pick<Entry, 'body'>): string => {
  switch (body.kind) {
    case 'take':
      return `${checkById(body.check)?.title ?? body.check}: ${body.verdict === 'refused' ? 'refused' : body.verdict}`
    case 'change':
      return `${changeWords(body.change)}. ${sentence(body.cause)}`
    case 'confirmed':
      return `${body.what} confirmed for this battery connection`
    case 'aside':
      return `${checkById(body.check)?.title ?? body.check} set aside: ${body.reason}`
    case 'item':
      return `${{ open: 'left open', 'put back': 'to be put back', inspection: 'to be inspected' }[body.what]}: ${body.words}`
    case 'closed':
      return `entry ${body.item} closed: ${body.words}`
    case 'parked':
      return `parked: ${body.reason}`
    case 'resumed':
      return 'taken up again'
    case 'signature':
      return `signed as ${body.role}`
    case 'handover':
      return body.outcome === 'pass' ? 'handed over: pass' : 'held back: fail'
  }
}
