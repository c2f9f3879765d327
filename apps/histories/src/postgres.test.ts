import fc from 'fast-check'
import { Messages, letterOf } from './postgres'

const message = (letter: string, body: Buffer): Buffer => {
  const head = Buffer.from(`${letter}....`)
  head.writeInt32BE(4 + body.length, 1)
  return Buffer.concat([head, body])
}

test('messages are whole again, however they come in pieces', () => {
  fc.assert(
    fc.property(
      fc.array(fc.tuple(fc.constantFrom('A', 'D', 'Z'), fc.uint8Array({ maxLength: 20 })), { maxLength: 12 }),
      fc.array(fc.integer({ min: 1, max: 9 }), { minLength: 1 }),
      (sent, sizes) => {
        const all = sent.map(([letter, body]) => message(letter, Buffer.from(body)))
        const bytes = Buffer.concat(all)
        const messages = new Messages()
        const got: Buffer[] = []
        for (let at = 0, i = 0; at < bytes.length; i++) {
          const size = sizes[i % sizes.length] as number
          got.push(...messages.take(bytes.subarray(at, at + size)).map((one) => Buffer.from(one)))
          at += size
        }
        expect(got.map(letterOf)).toEqual(sent.map(([letter]) => letter))
        expect(Buffer.concat(got).equals(bytes)).toBe(true)
      },
    ),
  )
})
