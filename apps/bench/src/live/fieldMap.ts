import { directionPatches, patchOf } from '@taraf/core/directions'
import { fitEllipsoid } from '@taraf/core/ellipsoid'
import { apply, type Vec3 } from '@taraf/core/rotation'

const leastSpread = 5 // uT, under which nothing has been turned yet

/** What the field samples of a free turn show so far. */
export interface FieldMap {
  /** The patches of direction that have a sample, by number. */
  readonly seen: ReadonlySet<number>
  readonly coverage: number
  /** Of the ellipsoid through them: null while there is too little of one. */
  readonly residual: number | null
  readonly strength: number | null
}

export const noMap: FieldMap = { seen: new Set(), coverage: 0, residual: null, strength: null }

/** Columns of samples, sensor axes, uT. */
export interface Field {
  readonly x: Float32Array<ArrayBuffer>
  readonly y: Float32Array<ArrayBuffer>
  readonly z: Float32Array<ArrayBuffer>
}

/** Directions about the fitted ellipsoid's middle; before one can be fitted, about the middle of what was seen. */
export const fieldMapOf = ({ x, y, z }: Field): FieldMap => {
  const spans = [x, y, z].map(spanOf)
  if (x.length === 0 || spans.some(({ span }) => span < leastSpread)) return noMap
  const fit = fitEllipsoid(x, y, z)
  const direction =
    fit === null
      ? (v: Vec3): Vec3 => v.map((value, i) => (value - (spans[i]?.middle ?? 0)) / (spans[i]?.span ?? 1)) as unknown as Vec3
      : ([a, b, c]: Vec3): Vec3 => apply(fit.softIron, [a - fit.hardIron[0], b - fit.hardIron[1], c - fit.hardIron[2]])
  const seen = new Set<number>()
  for (let i = 0; i < x.length; i++) seen.add(patchOf(direction([x[i] as number, y[i] as number, z[i] as number])))
  return {
    seen,
    coverage: seen.size / directionPatches.length,
    residual: fit?.residual ?? null,
    strength: fit?.strength ?? null,
  }
}

const spanOf = (column: Float32Array): { span: number; middle: number } => {
  let [low, high] = [Infinity, -Infinity]
  for (const v of column) {
    low = Math.min(low, v)
    high = Math.max(high, v)
  }
  return { span: high - low, middle: (low + high) / 2 }
}
