import { place } from '@taraf/contract'
import { z } from 'zod'

const environment = z.object({
  TARAF_PORT: z.coerce.number().int().min(0).max(65535).default(0),
  TARAF_HOST: z.string().default('127.0.0.1'),
  TARAF_DATABASE_URL: z.url(),
  TARAF_SESSION_SECRET: z.string().min(16),
  TARAF_KEYS: z.string().min(1),
  TARAF_PEER_ADDRESS: z.url().optional(),
  TARAF_RIG_URL: z.url().optional(),
  TARAF_HANDS: z.stringbool().default(false),
  TARAF_WEB: z.string().optional(),
  TARAF_LAT: z.coerce.number().default(54.2),
  TARAF_LON: z.coerce.number().default(7.9),
  TARAF_HEIGHT_M: z.coerce.number().default(4),
  TARAF_LOG: z.enum(['debug', 'info', 'warn', 'error', 'silent']).default('warn'),
})

/** What the server is told from outside. */
export const configFrom = (env: Readonly<Record<string, string | undefined>>) => {
  const e = environment.parse(env)
  return {
    port: e.TARAF_PORT,
    host: e.TARAF_HOST,
    databaseUrl: e.TARAF_DATABASE_URL,
    sessionSecret: e.TARAF_SESSION_SECRET,
    /** The folder of the keys that the record is sealed with. */
    keysFolder: e.TARAF_KEYS,
    /** Where other servers on the same database find this one; its host and port where it is not said. */
    peerAddress: e.TARAF_PEER_ADDRESS ?? null,
    /** Where simulated benches (`rig:NAME`) are reached. */
    rigUrl: e.TARAF_RIG_URL ?? null,
    hands: e.TARAF_HANDS,
    webFolder: e.TARAF_WEB ?? null,
    place: place.parse({ lat: e.TARAF_LAT, lon: e.TARAF_LON, heightM: e.TARAF_HEIGHT_M }),
    logLevel: e.TARAF_LOG,
  }
}
export type Config = ReturnType<typeof configFrom>
