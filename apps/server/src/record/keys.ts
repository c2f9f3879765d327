import { createHash, createPrivateKey, createPublicKey, generateKeyPairSync, sign, verify, type KeyObject } from 'node:crypto'
import { existsSync, mkdirSync, readdirSync, readFileSync, renameSync, statSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import canonicalize from 'canonicalize'

const daysOfKey = 90

/** Which chain a hash is of: a seal of one is worth nothing in another. */
export type Chain = 'card' | 'shop'

export interface Seal {
  readonly keyId: string
  readonly seal: Buffer
}

/**
 * The keys that links of the record are sealed with: Ed25519 (RFC 8032), named by their thumbprint (RFC 7638). The private half is in a
 * file that the database's roles cannot read; the public halves of all keys that ever were lie beside it, for whoever audits.
 */
export interface Keys {
  seal(chain: Chain, hash: Buffer): Seal
  /** Null where it is whole, or what is wrong with it. */
  wrongWith(chain: Chain, hash: Buffer, seal: { keyId: string | null; seal: Buffer | null }): string | null
}

const privateIn = (folder: string) => join(folder, 'sealing-key.pem')
const publicIn = (folder: string) => join(folder, 'public')

const thumbprint = (key: KeyObject): string => {
  const { crv, kty, x } = key.export({ format: 'jwk' })
  return createHash('sha256')
    .update(canonicalize({ crv, kty, x }) ?? '')
    .digest('base64url')
}

const textOf = (chain: Chain, hash: Buffer): Buffer => Buffer.concat([Buffer.from(`taraf ${chain}\n`), hash])

/** Makes the first key of a folder, or the next one where the one in use is old. */
export const wantKey = (folder: string, now: Date): void => {
  const path = privateIn(folder)
  if (existsSync(path) && now.getTime() - statSync(path).mtimeMs < daysOfKey * 24 * 3_600_000) return
  const { privateKey, publicKey } = generateKeyPairSync('ed25519')
  mkdirSync(publicIn(folder), { recursive: true })
  // The public half first: what is sealed can be proved from the first moment on.
  writeFileSync(join(publicIn(folder), `${thumbprint(publicKey)}.pem`), publicKey.export({ type: 'spki', format: 'pem' }))
  writeFileSync(`${path}.new`, privateKey.export({ type: 'pkcs8', format: 'pem' }), { mode: 0o600 })
  renameSync(`${path}.new`, path)
}

/** Whether the public half of a key is in a folder. */
export const knowsKey = (folder: string, keyId: string): boolean => existsSync(join(publicIn(folder), `${keyId}.pem`))

/** The public halves alone prove; they seal nothing. Throws where the folder cannot be read. */
export const openPublicKeys = (folder: string): Pick<Keys, 'wrongWith'> => {
  const known = new Map(
    readdirSync(publicIn(folder)).map((file) => {
      const key = createPublicKey(readFileSync(join(publicIn(folder), file)))
      return [thumbprint(key), key]
    }),
  )
  return {
    wrongWith(chain, hash, { keyId, seal }) {
      if (keyId === null || seal === null) return 'has no seal'
      const key = known.get(keyId)
      if (key === undefined) return `is sealed with a key that is none of this shop's: ${keyId}`
      return verify(null, textOf(chain, hash), key, seal) ? null : 'has a forged seal'
    },
  }
}

export const openKeys = (folder: string): Keys => {
  const key = createPrivateKey(readFileSync(privateIn(folder)))
  const keyId = thumbprint(createPublicKey(key))
  return { seal: (chain, hash) => ({ keyId, seal: sign(null, textOf(chain, hash), key) }), ...openPublicKeys(folder) }
}
