import type { LinkTell } from '@taraf/contract'
import type { BenchLink } from './benchLink'

/** How a link stands, as the screens are told. */
export const linkTellOf = (bench: string, link: BenchLink | null): LinkTell => ({
  tell: 'link',
  bench,
  phase: link?.phase ?? 'none',
  detail: link?.detail ?? 'The bench is not linked.',
  board: link?.identity?.board ?? null,
  bootedAtMs: link?.bootedAtMs ?? null,
  state: link?.phase === 'up' ? link.state : null,
  lostBlocks: link?.lostBlocks ?? 0,
  loader: link?.phase === 'up' && link.identity?.loader === true,
  powerSince: link?.powerSince?.toISOString() ?? null,
})
