import type { Limit, SheetPart } from '@taraf/contract'

/** Default limits, each with its unit, its source and why. A sheet may set its own with a reason. */
export const limits = {
  'gyroRest.bias': {
    max: 0.2,
    unit: 'deg/s',
    source: 'common practice',
    reason: 'more lets a self-levelled craft lean and an unaided one turn by itself',
  },
  'gyroRest.noise': {
    max: 0.3,
    unit: 'deg/s rms',
    source: 'common practice',
    reason: 'more reaches the motors through the rate loop as heat',
  },
  'level.offset': {
    max: 0.5,
    unit: 'deg',
    source: 'common practice',
    reason: 'half a degree of lean lets a craft in still air drift at walking pace within seconds',
  },
  'level.magnitude': {
    max: 2,
    unit: '% of local g',
    source: 'common practice',
    reason: 'an accelerometer further off needs its scale and bias measured first',
  },
} as const

export type LimitName = keyof typeof limits

/** The limit that holds for a sheet: its own, else the default. */
export const limitFor = (sheet: SheetPart, name: LimitName): { max: number; unit: string } => {
  const { max, unit } = limits[name]
  return { max: sheet.limits?.[name]?.max ?? max, unit }
}

export const isWithin = (value: number, { min, max }: Limit): boolean =>
  (min === undefined || value >= min) && (max === undefined || value <= max)
