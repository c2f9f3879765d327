import { unsafeUniformIntDistribution, xoroshiro128plus } from 'pure-rand'

/** A source of random numbers that gives the same ones for the same seed. */
export interface Random {
  /** Uniform in [0, 1). */
  uniform(): number
  /** Standard normal (Box and Muller, 1958). */
  normal(): number
}

export const randomFrom = (seed: number): Random => {
  const generator = xoroshiro128plus(seed)
  const uniform = () => unsafeUniformIntDistribution(0, 0x7ffffffe, generator) / 0x7fffffff
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
  return { uniform, normal }
}
