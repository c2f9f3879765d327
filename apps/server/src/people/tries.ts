import { RateLimiterPostgres, type RateLimiterRes } from 'rate-limiter-flexible'
import type { Database } from '../database/database'
import { ProblemError } from '@taraf/contract'

const rememberS = 900
const mostWaitS = 60
/** Wrong tries that cost nothing yet: of a name from one place, of a name from anywhere, of a place whatever the name. */
const freeTries = { name: 4, anywhere: 30, place: 20 } as const

/** How many names are tried at the same time from one place. */
const lanes = 4
const laneOf = (place: string, name: string): string =>
  `${place} lane ${[...name].reduce((sum, letter) => sum + (letter.codePointAt(0) ?? 0), 0) % lanes}`

/**
 * Counts wrong passwords, and lets whoever gave them wait: a second at first, then twice as long each time, a minute at the most. A name is
 * tried once at a time, and from one place a few names are: a thousand tries at once are counted like a thousand one after the other.
 */
export interface Tries {
  /**
   * Runs one try. A wrong one counts.
   * @param session of the person whose password it is, where they are signed in already: what others try never makes them wait
   */
  count<T>(name: string, place: string, session: string | null, attempt: () => Promise<T>): Promise<T>
}

export const triesOf = (db: Database): Tries => {
  const limiter = (keyPrefix: string) =>
    new RateLimiterPostgres({
      storeClient: db.sequelize,
      storeType: 'sequelize',
      schemaName: 'public',
      tableName: 'sign_in_tries',
      tableCreated: true,
      clearExpiredByTimeout: false,
      keyPrefix,
      points: 1_000_000,
      duration: rememberS,
    })
  const wrong = limiter('wrong')
  const waits = limiter('waits')
  const queues = new Map<string, Promise<unknown>>()

  const wantNoWait = async (keys: readonly string[]): Promise<void> => {
    const found = await Promise.all(keys.map((key) => waits.get(key)))
    const ms = Math.max(0, ...found.map((one: RateLimiterRes | null) => one?.msBeforeNext ?? 0))
    if (ms <= 0) return
    const seconds = Math.ceil(ms / 1000)
    throw new ProblemError('too-many-tries', `After so many wrong tries the next one waits ${seconds} s.`, seconds)
  }
  const countWrong = async (key: string, free: number): Promise<void> => {
    const { consumedPoints } = await wrong.penalty(key)
    if (consumedPoints > free) await waits.block(key, Math.min(mostWaitS, 2 ** (consumedPoints - free - 1)))
  }

  /** After all work of the same key that came before. */
  const inTurn = <T>(name: string, work: () => Promise<T>): Promise<T> => {
    const before = queues.get(name) ?? Promise.resolve()
    const mine = before.then(work, work)
    const quiet = mine.catch(() => {})
    queues.set(name, quiet)
    void quiet.then(() => queues.get(name) === quiet && queues.delete(name))
    return mine
  }

  return {
    count: (name, place, session, attempt) => {
      const one = async () => {
        const counted: [string, number][] =
          session === null
            ? [
                [`${name} ${place}`, freeTries.name],
                [`name ${name}`, freeTries.anywhere],
                [`place ${place}`, freeTries.place],
              ]
            : [[`session ${session}`, freeTries.name]]
        const keys = counted.map(([key]) => key.slice(0, 200))
        await wantNoWait(keys)
        try {
          const found = await attempt()
          await wrong.delete(keys[0] as string)
          return found
        } catch (error) {
          if (error instanceof ProblemError && error.type === 'sign-in-wrong')
            for (const [i, [, free]] of counted.entries()) await countWrong(keys[i] as string, free)
          throw error
        }
      }
      return session === null ? inTurn(laneOf(place, name), () => inTurn(name, one)) : inTurn(session, one)
    },
  }
}

/** Forgets tries that count no longer. */
export const forgetOldTries = async (db: Database, now: Date): Promise<void> => {
  await db.sequelize.query('DELETE FROM sign_in_tries WHERE expire < $now', { bind: { now: now.getTime() } })
}
