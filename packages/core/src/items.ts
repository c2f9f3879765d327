import type { Entry, ItemBody } from '@taraf/contract'

export interface OpenItem extends ItemBody {
  readonly seq: number
}

/** What is open on a job card: every item that no later entry has closed. A pure fold, by sequence numbers. */
export const openItems = (entries: readonly Pick<Entry, 'seq' | 'body'>[]): OpenItem[] => {
  const closed = new Set(entries.flatMap(({ body }) => (body.kind === 'closed' ? [body.item] : [])))
  return entries.flatMap(({ seq, body }) => (body.kind === 'item' && !closed.has(seq) ? [{ seq, ...body }] : []))
}

/** Why a job card is parked, or null where it is not. */
export const parkedFor = (entries: readonly Pick<Entry, 'body'>[]): string | null =>
  entries.reduce<string | null>(
    (reason, { body }) => (body.kind === 'parked' ? body.reason : body.kind === 'resumed' ? null : reason),
    null,
  )
