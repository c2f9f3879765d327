import type { Geometry } from '@taraf/contract'

/** Where the end of each boom is on a plan of so many pixels, nose up, and how many pixels a metre has. */
export const planAt = ({ booms, propDiameterM }: Geometry, size: number) => {
  const reach = Math.max(...booms.map((b) => b.radiusM)) + propDiameterM / 2
  const scale = (size / 2 - 26) / reach
  const middle = size / 2
  return {
    reach,
    scale,
    middle,
    // Forward is up on the drawing, right is right: bearings turn clockwise from the nose.
    end: ({ bearingDeg, radiusM }: Pick<Geometry['booms'][number], 'bearingDeg' | 'radiusM'>) => {
      const a = (bearingDeg * Math.PI) / 180
      return { x: middle + Math.sin(a) * radiusM * scale, y: middle - Math.cos(a) * radiusM * scale }
    },
  }
}
