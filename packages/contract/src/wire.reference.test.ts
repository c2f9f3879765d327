import { decode, decodeSequence, encode } from './wire'

const hex = (bytes: Uint8Array) => Buffer.from(bytes).toString('hex')
const bytes = (text: string) => Uint8Array.from(Buffer.from(text, 'hex'))

// RFC 8949, appendix A: examples of encoded CBOR data items.
describe('CBOR examples of RFC 8949, appendix A', () => {
  test.each([
    ['00', 0],
    ['1903e8', 1000],
    ['3903e7', -1000],
    ['fb3ff199999999999a', 1.1],
    ['f5', true],
    ['f6', null],
    ['6449455446', 'IETF'],
    ['83010203', [1, 2, 3]],
    ['a26161016162820203', { a: 1, b: [2, 3] }],
  ])('%s', (text, value) => {
    expect(decode(bytes(text))).toEqual(value)
    expect(hex(encode(value)).length).toBeLessThanOrEqual(text.length + 4)
    expect(decode(encode(value))).toEqual(value)
  })
})

// RFC 8746, table 1: tag 85 is an IEEE 754 binary32 little-endian array, tag 86 binary64 little-endian.
describe('typed arrays of RFC 8746', () => {
  test('single and double precision columns carry tags 85 and 86', () => {
    expect(hex(encode(new Float32Array([1.5])))).toBe('d855440000c03f')
    expect(hex(encode(new Float64Array([1.5])))).toBe('d85648000000000000f83f')
  })
  test('they come back as they went', () => {
    const back = decode(encode({ t: new Float64Array([0.005, 0.01]), ax: new Float32Array([1, -2]) }))
    expect(back).toEqual({ t: new Float64Array([0.005, 0.01]), ax: new Float32Array([1, -2]) })
  })
})

test('an item cut short is refused at every length', () => {
  const whole = encode({ tell: 'sense', t: new Float64Array([1, 2, 3]) })
  for (let cut = 0; cut < whole.length; cut++) expect(() => decode(whole.slice(0, cut))).toThrow()
})

// RFC 8742: a CBOR sequence is the encoded items one behind the other.
test('a sequence is its items, in order, and one cut short is refused', () => {
  const two = Buffer.concat([encode({ seq: 1 }), encode([2, 3])])
  expect(decodeSequence(two)).toEqual([{ seq: 1 }, [2, 3]])
  expect(() => decodeSequence(two.subarray(0, two.length - 1))).toThrow()
})
