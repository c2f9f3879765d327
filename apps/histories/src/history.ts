import { randomFrom } from '@taraf/rig'
import { JumpClock } from '@taraf/takes'
import { broken } from './promises'
import { begins, type ShopBase } from './base'
import { drawFrom, drawFromMachine } from './sameEachTime'
import { Shop } from './shop'

/** A history that has not come to its end by then hangs, ms of the shop's time. */
const longestMs = 180_000

export interface HistoryNote {
  readonly seed: number
  readonly broken: readonly string[]
  /** What was done: takes by verdict, notes. */
  readonly takes: Readonly<Record<string, number>>
  readonly notes: number
  /** How many things went wrong. */
  readonly strikes: number
  readonly seconds: number
}

/**
 * One history of a shop: two servers on one database, two boards, technicians and a lead with their screens. Things go wrong at messages that the
 * seed draws; then everything is well again, and what was promised is looked at.
 *
 * @param follow is told of every step, where somebody replays it
 */
export const runHistory = async (
  base: ShopBase,
  seed: number,
  follow: ((words: string) => void) | null = null,
): Promise<HistoryNote> => {
  await base.reset()
  const random = randomFrom(seed)
  const time = new JumpClock(begins, () => settled(base))
  drawFrom(randomFrom(seed ^ 0x5eed), () => time.date().getTime())
  const told = follow === null ? null : (words: string) => follow(`${(time.nowMs() / 1000).toFixed(4)} ${words}`)
  const shop = new Shop(base, time, random, told)
  const hangs = new Promise<void>((resolve) =>
    time.after(longestMs, () => {
      shop.stuck.push(`it hangs at ${shop.stands}`)
      resolve()
    }),
  )
  await time.until(Promise.race([shop.live(), hangs]))
  shop.close()
  drawFromMachine()
  const wrong = [...shop.stuck, ...(await broken(base, shop.promised, shop.boards))]
  for (const one of wrong.length === 0 ? ['every promise was kept'] : wrong) told?.(one)
  return {
    seed,
    broken: wrong,
    takes: shop.verdicts,
    notes: shop.promised.notes.length,
    strikes: shop.struck,
    seconds: time.nowMs() / 1000,
  }
}

/** Nothing is in flight: no query is at the database, and nothing that follows from what came waits for its turn. */
const settled = async ({ postgres }: ShopBase): Promise<void> => {
  for (let quiet = 0; quiet < 2; quiet++) {
    await new Promise((resolve) => setImmediate(resolve))
    if (postgres.isBusy) {
      await postgres.settled()
      quiet = -1
    }
  }
}
