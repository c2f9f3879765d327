import { velocitySpectrum } from '../motors/spectrum'
import { median } from '../statistics'

type Burst = Parameters<typeof velocitySpectrum>[0]

const mostPoles = 42
/** A bin this many times as strong as the middle one is no noise: of thousands, one is so by chance in none of ten thousand bursts. */
const standsOut = 8

/** As force: a motor out of balance pushes with the square of its speed, and noise is even. */
const forceIn = (burst: Burst): { binHz: number; force: Float64Array; floor: number } => {
  const { binHz, square } = velocitySpectrum(burst)
  const force = square.map((v, k) => v * (2 * Math.PI * k * binHz) ** 2)
  return { binHz, force, floor: median([...force.subarray(1)]) }
}

/** The rate of the strongest shake between two frequencies, Hz: what one motor that turns alone does. Null where none stands out. */
export const turningHzBy = (burst: Burst, fromHz: number, toHz: number): number | null => {
  const { binHz, force, floor } = forceIn(burst)
  if (binHz === 0) return null
  let best = 0
  for (let k = Math.max(1, Math.ceil(fromHz / binHz)); k <= Math.min(force.length - 2, Math.floor(toHz / binHz)); k++)
    if (best === 0 || (force[k] as number) > (force[best] as number)) best = k
  if (best === 0 || (force[best] as number) < standsOut * floor) return null
  // Between bins, by where the three about the peak have their middle.
  const about = [best - 1, best, best + 1].map((k) => ({ k, weight: Math.sqrt(force[k] as number) }))
  const sum = about.reduce((total, { weight }) => total + weight, 0)
  return (binHz * about.reduce((total, { k, weight }) => total + k * weight, 0)) / sum
}

/**
 * The count of poles by which a motor whose windings are switched round `electricalHz` times a second shakes once a turn: an ESC counts
 * the pole pairs that pass (a definition of electrical machines). Null where no count stands out of the others and of the noise.
 */
export const polesBy = (burst: Burst, electricalHz: number): number | null => {
  const { binHz, force, floor } = forceIn(burst)
  if (electricalHz <= 0 || binHz === 0) return null
  const strength = (hz: number): number => {
    const half = Math.max(2, Math.round((0.012 * hz) / binHz))
    const at = Math.round(hz / binHz)
    let most = 0
    for (let k = Math.max(1, at - half); k <= Math.min(force.length - 1, at + half); k++)
      most = Math.max(most, force[k] as number)
    return most
  }
  const counts = Array.from({ length: mostPoles / 2 }, (_, i) => 2 * (i + 1))
    .filter((poles) => (2 * electricalHz) / poles < 0.45 * binHz * 2 * force.length)
    .map((poles) => ({ poles, strength: strength((2 * electricalHz) / poles) }))
    .sort((a, b) => b.strength - a.strength)
  const [best] = counts
  return best === undefined || best.strength < standsOut * floor ? null : best.poles
}
