import type { AnswerOf, Change } from '@taraf/contract'
import type { LinkStep } from './ask'

type Escs = AnswerOf<'escs.list'>['escs']
export interface EscsWritten {
  readonly before: Escs
  readonly after: Escs
  readonly differs: readonly string[]
}

/**
 * Writes settings to ESCs and reads them back, and reads them back again after the battery was off: an ESC that does not keep
 * what it was told shows itself then. What was written is kept on the card before the battery goes off. Whoever has the link does each step; the power cycle is the technician's.
 */
export function* changeEscs(
  outputs: readonly number[],
  settings: Readonly<Record<string, number>>,
): Generator<LinkStep, EscsWritten | { readonly why: string }, never> {
  const list = function* (): Generator<LinkStep, Escs, never> {
    return ((yield { ask: 'escs.list' }) as AnswerOf<'escs.list'>).escs
  }
  const before = yield* list()
  const silent = outputs.filter((output) => before.find((e) => e.output === output)?.found !== true)
  if (silent.length > 0) return { why: `No ESC answers on output ${silent.join(', ')}. Nothing was written.` }
  const { written } = (yield { ask: 'escs.write', outputs: [...outputs], settings: { ...settings } }) as AnswerOf<'escs.write'>
  const missed = outputs.filter((output) => !written.includes(output))
  if (missed.length > 0)
    return { why: `Output ${missed.join(', ')} took nothing; look at what was written: ${written.join(', ')}.` }
  const now = yield* list()
  const change = escsChange({ before, after: now })
  if (change !== null) yield { keep: change }
  const atOnce = differing(now, outputs, settings, 'read back')
  if (atOnce.length > 0) return { before, after: now, differs: atOnce }
  yield { battery: 'off' }
  yield { battery: 'on' }
  const after = yield* list()
  const lost = escsChange({ before: now, after })
  if (lost !== null) yield { keep: lost }
  return { before, after, differs: differing(after, outputs, settings, 'after the battery was off') }
}

/** What a write left differently from it was, as it stands on a card; null where nothing is. */
const escsChange = ({ before, after }: Pick<EscsWritten, 'before' | 'after'>): Extract<Change, { what: 'escs' }> | null => {
  const settings = after.flatMap(({ output, settings: now }) => {
    const was = before.find((esc) => esc.output === output)?.settings
    return Object.entries(now ?? {}).flatMap(([name, to]) => {
      const from = was?.[name] ?? null
      return from === to ? [] : [{ output, name, from, to }]
    })
  })
  return settings.length === 0 ? null : { what: 'escs', settings }
}

const differing = (escs: Escs, outputs: readonly number[], settings: Readonly<Record<string, number>>, when: string): string[] =>
  outputs.flatMap((output) => {
    const kept = escs.find((e) => e.output === output)?.settings
    return Object.entries(settings)
      .filter(([name, value]) => kept?.[name] !== value)
      .map(([name, value]) => `output ${output}, ${name}: wrote ${value}, ${when} ${kept?.[name] ?? 'nothing'}`)
  })
