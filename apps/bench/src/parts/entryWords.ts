import type { Change, Entry } from '@taraf/contract'
import { checkById } from '@taraf/core'

const acts = { knock: 'knocked', remount: 'board remounted' } as const

const changeWords = (change: Change): string => {
  switch (change.what) {
    case 'settings':
      return change.settings.map(({ name, from, to }) => `${name} ${from ?? 'unknown'} to ${to}`).join(', ')
    case 'firmware':
      return `firmware ${change.from} to ${change.to}`
    case 'act':
      return acts[change.act]
    case 'part':
      return `${change.part} ${change.act}`
  }
}

/** One entry of a job card in a line. */
export const entryWords = ({ body }: Pick<Entry, 'body'>): string => {
  switch (body.kind) {
    case 'take':
      return `${checkById(body.check)?.title ?? body.check}: ${body.verdict === 'refused' ? 'refused' : body.verdict}`
    case 'change':
      return `${changeWords(body.change)}. ${body.cause}`
    case 'aside':
      return `${checkById(body.check)?.title ?? body.check} set aside: ${body.reason}`
    case 'signature':
      return `signed as ${body.role}`
    case 'handover':
      return body.outcome === 'pass' ? 'handed over: pass' : 'held back: fail'
  }
}
