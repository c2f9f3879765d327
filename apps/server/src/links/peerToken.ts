import { createHmac, timingSafeEqual } from 'node:crypto'

const goodMs = 30_000

const proofOf = (secret: string, until: string): string =>
  createHmac('sha256', secret).update(`peer ${until}`).digest('base64url')

/** What a server proves to another that it is one of this shop: it knows the secret of the sessions. Good for half a minute. */
export const peerToken = (secret: string, now: Date): string => {
  const until = String(now.getTime() + goodMs)
  return `${until}.${proofOf(secret, until)}`
}

export const isPeerToken = (secret: string, token: string, now: Date): boolean => {
  const [until = '', proof = ''] = token.split('.')
  const wanted = Buffer.from(proofOf(secret, until))
  const given = Buffer.from(proof)
  const left = Number(until) - now.getTime()
  return given.length === wanted.length && timingSafeEqual(given, wanted) && left > 0 && left <= goodMs
}
