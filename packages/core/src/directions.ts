import type { Vec3 } from './rotation'

/** Rings of the sphere from top to bottom, each cut into so many patches: all patches are of equal area. */
const rings = [4, 11, 17, 22, 25, 26, 26, 25, 22, 17, 11, 4] as const
const patches = rings.reduce((sum, n) => sum + n, 0)

/** A patch of directions, between two heights of the unit sphere and two longitudes. */
export interface Patch {
  readonly high: number
  readonly low: number
  readonly from: number
  readonly to: number
}

const bounds = rings.reduce<number[]>((edges, n) => [...edges, (edges[edges.length - 1] as number) - (2 * n) / patches], [1])
const starts = rings.reduce<number[]>((at, n) => [...at, (at[at.length - 1] as number) + n], [0])

/** All patches of equal area into which the directions are cut, by number. */
export const directionPatches: readonly Patch[] = rings.flatMap((n, ring) =>
  Array.from({ length: n }, (_, i) => ({
    high: bounds[ring] as number,
    low: bounds[ring + 1] as number,
    from: (2 * Math.PI * i) / n,
    to: (2 * Math.PI * (i + 1)) / n,
  })),
)

/** The number of the patch that a direction is in. */
export const patchOf = (direction: Vec3): number => {
  const z = direction[2] / Math.hypot(...direction)
  let ring = 0
  while (ring < rings.length - 1 && z < (bounds[ring + 1] as number)) ring++
  const n = rings[ring] as number
  const longitude = (Math.atan2(direction[1], direction[0]) + 2 * Math.PI) % (2 * Math.PI)
  return (starts[ring] as number) + Math.min(n - 1, Math.floor((longitude / (2 * Math.PI)) * n))
}
