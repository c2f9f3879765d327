import type { Place } from '@taraf/contract'

/** Standard acceleration of free fall, m/s2 (3rd CGPM, 1901). */
export const standardGravity = 9.80665

// Defining and derived constants of WGS 84 (NIMA TR8350.2, third edition, tables 3.1 to 3.4).
const a = 6378137
const f = 1 / 298.257223563
const gravityAtEquator = 9.7803253359
const somigliana = 0.00193185265241
const eccentricitySquared = 0.00669437999014
const m = 0.00344978650684

/**
 * Normal gravity on and near the ellipsoid of WGS 84, m/s2: Somigliana's closed form, and the expansion in height
 * (NIMA TR8350.2, equations 4-1 and 4-3). Without a place: standard gravity.
 */
export const localGravity = (place: Place | undefined): number => {
  if (place === undefined) return standardGravity
  const sin2 = Math.sin((place.lat * Math.PI) / 180) ** 2
  const surface = (gravityAtEquator * (1 + somigliana * sin2)) / Math.sqrt(1 - eccentricitySquared * sin2)
  const h = (place.heightM ?? 0) / a
  return surface * (1 - 2 * h * (1 + f + m - 2 * f * sin2) + 3 * h * h)
}
