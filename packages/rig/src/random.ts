import { xoroshiro128plus } from 'pure-rand'

/** A source of random numbers that gives the same ones for the same seed. */
export interface Random {
  /** Uniform in [0, 1). */
  uniform(): number
  /** Standard normal (Box and Muller, 1958). */
  normal(): number
  /** Uniform in [from, to). */
  between(from: number, to: number): number
  /** A whole number from 0 below `count`. */
  below(count: number): number
  /** Normal about zero with the given deviation, cut off at three of them: the ordinary spread of a part. */
  spread(deviation: number): number
}

/** Seeds that lie together must not give streams that begin alike: mixed as MurmurHash3 ends (Appleby, public domain). */
const mixed = (seed: number): number => {
  let h = (seed + 0x9e3779b9) | 0
  h = Math.imul(h ^ (h >>> 16), 0x85ebca6b)
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35)
  return h ^ (h >>> 16)
}

export const randomFrom = (seed: number): Random => {
  const generator = xoroshiro128plus(mixed(seed))
  const uniform = () => (generator.unsafeNext() >>> 0) / 2 ** 32
  let spare: number | null = null
  const normal = () => {
    if (spare !== null) {
      const value = spare
      spare = null
      return value
    }
    const radius = Math.sqrt(-2 * Math.log(1 - uniform()))
    const angle = 2 * Math.PI * uniform()
    spare = radius * Math.sin(angle)
    return radius * Math.cos(angle)
  }
  return {
    uniform,
    normal,
    between: (from, to) => from + (to - from) * uniform(),
    below: (count) => Math.floor(uniform() * count),
    spread: (deviation) => deviation * Math.max(-3, Math.min(3, normal())),
  }
}
