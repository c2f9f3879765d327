import { fork } from 'node:child_process'
import { availableParallelism } from 'node:os'
import { fileURLToPath } from 'node:url'
import type { Deed, LifeOrder } from './life'

/** What was done with an airframe, deed by deed, as it comes; nobody has to be there as it does. */
class Deeds {
  private readonly told: (Deed | null)[] = []
  private wake = () => {}
  private failed: Error | null = null

  push(deed: Deed | null): void {
    this.told.push(deed)
    this.wake()
  }

  fail(error: Error): void {
    this.failed = error
    this.wake()
  }

  async *[Symbol.asyncIterator](): AsyncGenerator<Deed> {
    for (let next = await this.next(); next !== null; next = await this.next()) yield next
  }

  private async next(): Promise<Deed | null> {
    for (;;) {
      const first = this.told.shift()
      if (first !== undefined) return first
      if (this.failed !== null) throw this.failed
      await new Promise<void>((resolve) => (this.wake = resolve))
    }
  }
}

/**
 * Lives airframes through in processes beside this one, one for each core: those of one type follow each other, since a loss of signal is judged
 * by what others of its type were flown with.
 */
export const livesOf = (orders: readonly LifeOrder[], shopAt: Date): ReadonlyMap<string, AsyncIterable<Deed>> => {
  const deeds = new Map(orders.map(({ tag }) => [tag, new Deeds()]))
  for (const share of sharesOf(orders)) {
    const child = fork(fileURLToPath(new URL('./livingProcess.ts', import.meta.url)), {
      execArgv: ['--import', 'tsx'],
      serialization: 'advanced',
    })
    child.on('message', ({ tag, deed }: { tag: string; deed: Deed | null }) => deeds.get(tag)?.push(deed))
    child.send({ orders: share, shopAtMs: shopAt.getTime() })
    // By then all that it told has come.
    child.once('disconnect', () => {
      for (const { tag } of share) deeds.get(tag)?.fail(new Error(`the demo's history ended in the middle of ${tag}`))
    })
  }
  return deeds
}

/** Whole types, each to the share that has the least to live through so far, the largest first. */
const sharesOf = (orders: readonly LifeOrder[]): LifeOrder[][] => {
  const costOf = (some: readonly LifeOrder[]) => some.filter(({ story }) => story !== 'none' && story !== 'open').length
  const types = [...new Set(orders.map(({ type }) => type))].map((type) => orders.filter((one) => one.type === type))
  const shares: LifeOrder[][] = Array.from({ length: Math.min(types.length, availableParallelism()) }, () => [])
  for (const some of types.sort((a, b) => costOf(b) - costOf(a)))
    shares.reduce((least, share) => (costOf(share) < costOf(least) ? share : least)).push(...some)
  return shares
}
