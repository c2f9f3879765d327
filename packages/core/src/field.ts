import geomagnetism from 'geomagnetism'
import type { Place } from '@taraf/contract'
import type { Vec3 } from './rotation'

/**
 * The Earth's magnetic field at a place and date by the World Magnetic Model, as north, east and down, uT. Throws a RangeError
 * for a date beyond the models that are shipped.
 */
export const fieldAt = (place: Pick<Place, 'lat' | 'heightM'> & { lon: number }, at: Date): Vec3 => {
  let model
  try {
    model = geomagnetism.model(at)
  } catch {
    throw new RangeError(`no field model for ${at.toISOString().slice(0, 10)}`)
  }
  const { x, y, z } = model.point([place.lat, place.lon, (place.heightM ?? 0) / 1000])
  return [x / 1000, y / 1000, z / 1000]
}
