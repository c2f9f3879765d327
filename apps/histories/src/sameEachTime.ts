import crypto, { createHash, webcrypto } from 'node:crypto'
import { syncBuiltinESMExports } from 'node:module'
import type { Random } from '@taraf/rig'

/** A pool of threads computes a hash later, at no fixed moment: here it is computed at once. */
Object.defineProperty(webcrypto.subtle, 'digest', {
  value: (name: string, data: ArrayBuffer | NodeJS.ArrayBufferView): Promise<ArrayBuffer> => {
    const bytes = ArrayBuffer.isView(data) ? data : new Uint8Array(data)
    const hash = createHash(name.replace('-', '').toLowerCase()).update(bytes).digest()
    return Promise.resolve(Uint8Array.from(hash).buffer)
  },
})

const machine = { now: Date.now, randomBytes: crypto.randomBytes, randomUUID: crypto.randomUUID }

/** While a history lasts, what is drawn at random, and the date that libraries read, are its own: it names things the same each time. */
export const drawFrom = (random: Random, nowMs: () => number): void => {
  Date.now = nowMs
  crypto.randomBytes = ((size: number) =>
    Buffer.from(Array.from({ length: size }, () => random.below(256)))) as typeof crypto.randomBytes
  crypto.randomUUID = () => {
    const hex = Array.from({ length: 30 }, () => random.below(16).toString(16)).join('')
    return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-4${hex.slice(12, 15)}-8${hex.slice(15, 18)}-${hex.slice(18)}`
  }
  syncBuiltinESMExports()
}

/** The machine's own again. */
export const drawFromMachine = (): void => {
  Date.now = machine.now
  Object.assign(crypto, { randomBytes: machine.randomBytes, randomUUID: machine.randomUUID })
  syncBuiltinESMExports()
}
