import type { Limit, SheetPart } from '@taraf/contract'

/** Default limits, each with its unit, its source and why. A sheet may set its own with a reason, within what makes sense for any type. */
export const limits = {
  'firstPower.amps': {
    max: 0.6,
    sense: [0.05, 5],
    unit: 'A',
    source: 'common practice',
    reason: 'more with nothing turning is a part that is fed wrongly, or one that will be warm and drain a parked pack',
  },
  'firstPower.volts': {
    min: 5,
    sense: [2.5, 60],
    unit: 'V at the plug',
    source: 'common practice',
    reason: 'two cells, empty, give more: less with current flowing is a short behind the limiter',
  },
  'rails.volts': {
    min: 4.9,
    max: 5.25,
    sense: [4.5, 14],
    unit: 'V',
    source: 'common practice',
    reason: 'a 5 V part works from 4.75 V (from memory): what is lower on the bench has nothing left for a servo or a cold pack',
  },
  'rails.sag': {
    max: 0.2,
    sense: [0.02, 0.5],
    unit: 'V',
    source: 'common practice',
    reason: 'a regulator that sags as it warms is one that lets the receiver go in flight',
  },
  'rails.swing': {
    max: 0.1,
    sense: [0.01, 0.5],
    unit: 'V rms from row to row',
    source: 'common practice',
    reason: 'a rail that goes up and down about the right value resets a receiver all the same',
  },
  'sockets.receiverFrames': {
    min: 20,
    sense: [5, 1000],
    unit: 'good frames a second',
    source: 'common practice',
    reason: 'a receiver sends forty or more; half of that is a plug or a wire that loses them',
  },
  'sockets.positionFrames': {
    min: 1,
    sense: [0.5, 50],
    unit: 'good frames a second',
    source: 'common practice',
    reason: 'a position receiver says where it is at least once a second, or is not understood',
  },
  'loop.rate': {
    max: 1,
    sense: [0.1, 5],
    unit: '% from the rate that is set',
    source: 'common practice',
    reason: 'filters and gains are computed for the rate that is set',
  },
  'loop.load': {
    max: 0.7,
    sense: [0.1, 0.95],
    unit: 'of the processor',
    source: 'common practice',
    reason: 'more leaves nothing for a log, a late frame or a second sensor',
  },
  'loop.jitter': {
    max: 0.05,
    sense: [0.005, 0.2],
    unit: 'of the period, rms',
    source: 'common practice',
    reason: 'a period that varies more reaches the motors through the derivative of the rate',
  },
  'gyroRest.bias': {
    max: 0.2,
    sense: [0.02, 1],
    unit: 'deg/s',
    source: 'common practice',
    reason: 'more lets a self-levelled craft lean and an unaided one turn by itself',
  },
  'gyroRest.noise': {
    max: 0.3,
    sense: [0.02, 1],
    unit: 'deg/s rms',
    source: 'common practice',
    reason: 'more reaches the motors through the rate loop as heat',
  },
  'level.offset': {
    max: 0.5,
    sense: [0.1, 2],
    unit: 'deg',
    source: 'common practice',
    reason: 'half a degree of lean lets a craft in still air drift at walking pace within seconds',
  },
  'level.magnitude': {
    max: 2,
    sense: [0.2, 5],
    unit: '% of local g',
    source: 'common practice',
    reason: 'an accelerometer further off needs its scale and bias measured first',
  },
  'sixPoses.proof': {
    max: 0.1,
    sense: [0.02, 0.3],
    unit: 'm/s2',
    source: 'common practice',
    reason: 'a calibration that is off by more than 1 % of g in a pose it was not made from is not one',
  },
  'sixPoses.inForce': {
    max: 0.15,
    sense: [0.02, 0.5],
    unit: 'm/s2',
    source: 'common practice',
    reason: 'more leans the craft by nearly a degree and spoils level',
  },
  'compass.coverage': {
    min: 0.7,
    sense: [0.5, 0.95],
    unit: 'of all directions',
    source: 'common practice',
    reason: 'an ellipsoid fitted to less of itself bends where nothing was measured',
  },
  'compass.residual': {
    max: 0.04,
    sense: [0.005, 0.1],
    unit: 'of the field',
    source: 'common practice',
    reason: 'more turns the heading by over two degrees somewhere',
  },
  'compass.strength': {
    max: 15,
    sense: [2, 40],
    unit: '% of the field at the shop',
    source: 'World Magnetic Model; the allowance is common practice',
    reason: "a field further off is not the Earth's alone",
  },
  'compassShift.shift': {
    max: 10,
    sense: [1, 30],
    unit: '% of the field',
    source: 'common practice',
    reason: 'a heading that turns with the throttle makes the craft circle',
  },
  'barometer.noise': {
    max: 0.3,
    sense: [0.03, 1],
    unit: 'm rms',
    source: 'common practice',
    reason: 'more is heard in the motors when height is held',
  },
  'barometer.drift': {
    max: 1,
    sense: [0.1, 5],
    unit: 'm in 5 min',
    source: 'common practice',
    reason: 'more brings a craft that holds its height to the ground',
  },
  'position.wait': {
    max: 120,
    sense: [10, 600],
    unit: 's',
    source: 'common practice',
    reason: 'a receiver that takes longer under an open sky is covered, disturbed or cold',
  },
  'position.lasts': {
    min: 0.98,
    sense: [0.5, 1],
    unit: 'of the time since it came',
    source: 'common practice',
    reason: 'a fix that is lost again under an open sky is one that will be lost in flight',
  },
  'position.satellites': {
    min: 8,
    sense: [4, 40],
    unit: 'satellites',
    source: 'common practice',
    reason: 'fewer leave no spare for one that is wrong',
  },
  'position.dilution': {
    max: 2,
    sense: [0.5, 5],
    unit: '',
    source: 'common practice',
    reason: 'a position is as uncertain as its geometry is poor',
  },
  'position.antenna': {
    max: 0.02,
    sense: [0.001, 0.2],
    unit: 'm',
    source: 'common practice',
    reason: 'an offset that is told wrongly moves the craft when it turns',
  },
  'orientation.seating': {
    max: 3,
    sense: [0.5, 8],
    unit: 'deg',
    source: 'common practice',
    reason: 'what leans further is not seated; a trim must not hide it',
  },
  'follow.level': {
    max: 20,
    sense: [2, 30],
    unit: 'deg',
    source: 'common practice',
    reason: 'a plate and a seat lean by less: more is another mounting',
  },
  'follow.moved': {
    min: 20,
    sense: [5, 45],
    unit: 'deg',
    source: 'common practice',
    reason: 'less than this of a tilt of 25 deg or more is another axis, or another way',
  },
  'follow.aside': {
    max: 25,
    sense: [5, 40],
    unit: 'deg',
    source: 'common practice',
    reason: 'a hand tilts by the eye to within ten or fifteen: more is a board that is told another turn than the one it sits at',
  },
  'follow.turned': {
    min: 45,
    sense: [20, 90],
    unit: 'deg',
    source: 'common practice',
    reason: 'less than half of a quarter turn is another axis, or another way',
  },
  'follow.tilt': {
    max: 5,
    sense: [1, 15],
    unit: 'deg',
    source: 'common practice',
    reason: 'a board that reports otherwise than gravity levels the craft wrongly',
  },
  'follow.yaw': {
    max: 15,
    sense: [2, 30],
    unit: 'deg over a quarter turn',
    source: 'common practice',
    reason: 'more is a gyro scale or a mounting that is wrong',
  },
  'radio.quality': {
    min: 80,
    sense: [30, 99],
    unit: '% of frames whole',
    source: 'common practice',
    reason: 'at a metre nearly every frame arrives whole: what loses one in five there has no reach',
  },
  'radio.centre': {
    max: 3,
    sense: [1, 20],
    unit: 'us from 1500',
    source: 'common practice',
    reason: 'the middle of a stick is no command: a few us beside it turn the craft slowly with nobody touching it',
  },
  'radio.return': {
    max: 6,
    sense: [2, 30],
    unit: 'us between the rests of one stick',
    source: 'common practice',
    reason: 'a stick that comes to rest elsewhere each time cannot be centred by a trim',
  },
  'radio.beyondGate': {
    min: 5,
    max: 75,
    sense: [1, 150],
    unit: 'us past its gate',
    source: 'common practice',
    reason: 'an end just on its gate is missed in the cold; one far past it wastes the travel of the stick',
  },
  'radio.noise': {
    max: 2,
    sense: [0.5, 10],
    unit: 'us rms',
    source: 'common practice',
    reason: 'a step of a good link is 0.5 to 1 us: what shakes more is seen by the gyro loop as a command',
  },
  'radio.gaps': {
    max: 0,
    sense: [0, 10],
    unit: 'gaps of two frames or more',
    source: 'common practice',
    reason: 'close by, with everything at rest, no two frames in a row are lost',
  },
  'radio.lost': {
    max: 1,
    sense: [0.1, 10],
    unit: '% of frames',
    source: 'common practice',
    reason: 'what is lost at a metre is many times more at a kilometre',
  },
  'switches.margin': {
    min: 25,
    sense: [5, 100],
    unit: 'us from the nearest band edge',
    source: 'common practice',
    reason: 'a position near the edge of its band changes over with the trim or with the cold',
  },
  'escs.errors': {
    max: 1,
    sense: [0.1, 10],
    unit: '% of replies bad',
    source: 'common practice',
    reason: 'a clean wire loses one in thousands: what loses more on the bench loses speeds, and commands, in flight',
  },
  'start.least': {
    max: 0.07,
    sense: [0.02, 0.2],
    unit: 'of full command',
    source: 'common practice',
    reason: 'an ESC that begins later has no room left below the idle of a craft in the air',
  },
  'start.spread': {
    max: 0.02,
    sense: [0.005, 0.1],
    unit: 'of full command',
    source: 'common practice',
    reason: 'motors that begin at different commands tip the craft as it is armed',
  },
  'start.together': {
    max: 0.15,
    sense: [0.03, 0.5],
    unit: 's',
    source: 'common practice',
    reason: 'one that begins later than the others needs more than one kick',
  },
  'start.speeds': {
    max: 6,
    sense: [1, 20],
    unit: '% of the middle one',
    source: 'common practice',
    reason: 'motors of one winding differ by a few per cent: more is another winding, or something that brakes',
  },
  'start.noLoad': {
    min: -25,
    max: 15,
    sense: [-60, 60],
    unit: '% from KV x volts x command',
    source: 'no-load speed of a direct-current machine; the allowance is common practice',
    reason: 'friction takes a little of it, and timing adds a little: more is another motor, or other poles',
  },
  'range.nought': {
    min: -0.03,
    max: 0.03,
    sense: [-0.1, 0.1],
    unit: 'of the signal',
    source: 'common practice',
    reason: 'an ESC that takes more than this for nought begins later than its neighbours, and one that takes less may creep',
  },
  'range.full': {
    min: 0.93,
    max: 1.08,
    sense: [0.8, 1.2],
    unit: 'of the signal',
    source: 'no-load speed of a direct-current machine; the allowance for KV and friction is common practice',
    reason: 'less is full before the board says so and stops following it; more never gives all',
  },
  'smooth.atTurning': {
    max: 1.5,
    sense: [0.01, 10],
    unit: 'mm/s rms',
    source: 'velocity as ISO 20816-1 names it; the limit is common practice',
    reason: 'a bell out of balance wears its bearings and shakes the gyro at the rate at which it turns',
  },
  'smooth.whole': {
    max: 1.1,
    sense: [0.01, 10],
    unit: 'mm/s rms, 10 to 1000 Hz',
    source: 'band and unit of ISO 20816-1; the limit is common practice',
    reason: 'a bearing that grates shakes at no rate of its own, and ends by seizing',
  },
  'smooth.beside': {
    max: 4,
    sense: [1.5, 20],
    unit: 'times the middle one of the others',
    source: 'common practice',
    reason: 'motors of one make shake alike: one that shakes several times as much is not as it was made',
  },
  'heat.above': {
    max: 7,
    sense: [2, 30],
    unit: 'C above the middle one of the others',
    source: 'common practice',
    reason: 'the same run warms the same motor alike: what is hotter is partly burnt, or rubs',
  },
  'heat.most': {
    max: 60,
    sense: [30, 120],
    unit: 'C after the run',
    source: 'common practice',
    reason: 'a bell too hot to touch after a short run without a prop burns its magnets with one',
  },
} as const

export type LimitName = keyof typeof limits

/** The limit that holds for a sheet: its own, else the default. */
export const limitFor = <Name extends LimitName>(
  sheet: SheetPart,
  name: Name,
): Record<keyof (typeof limits)[Name] & ('min' | 'max'), number> & { unit: string } => {
  const { unit, ...bound } = limits[name] as { unit: string; min?: number; max?: number }
  const own = sheet.limits?.[name]
  const low = own?.min ?? bound.min
  const high = own?.max ?? bound.max
  return { ...('min' in bound ? { min: low } : {}), ...('max' in bound ? { max: high } : {}), unit } as never
}

export const isWithin = (value: number, { min, max }: Limit): boolean =>
  (min === undefined || value >= min) && (max === undefined || value <= max)

/** What is wrong with a limit that a sheet sets: the place, and what is wrong there. */
export interface WrongLimit {
  readonly place: string
  readonly why: string
}

interface Known {
  readonly min?: number
  readonly max?: number
  readonly sense: readonly [number, number]
  readonly unit: string
}
const sides = ['min', 'max'] as const

/** Limits of a sheet that no check can apply as they are said: unknown, by the side that there is none of, or that no value meets. */
export const limitsAgainst = (own: NonNullable<SheetPart['limits']>): WrongLimit[] =>
  Object.entries(own).flatMap(([name, said]): WrongLimit[] => {
    const place = `limits["${name}"]`
    if (!(name in limits)) return [{ place, why: `there is no limit of this name; there are ${Object.keys(limits).join(', ')}` }]
    const has: Known = limits[name as LimitName]
    const side = sides.find((s) => said[s] !== undefined && has[s] === undefined)
    if (side !== undefined) {
      const other = side === 'min' ? 'max' : 'min'
      const why = `this limit has no ${side}, only a ${other}: write ${said[side]} as that, or leave it out`
      return [{ place: `${place}.${side}`, why }]
    }
    const [low, high] = [said.min ?? has.min, said.max ?? has.max]
    return low !== undefined && high !== undefined && low > high
      ? [{ place, why: `no value is from ${low} to ${high}: one of them is the shop’s where the sheet does not say it` }]
      : []
  })

/** Limits of a sheet that make no sense for any type: too wide to find anything, or narrower than anything can be measured. */
export const limitsBeyondSense = (own: NonNullable<SheetPart['limits']>): WrongLimit[] =>
  Object.entries(own).flatMap(([name, said]): WrongLimit[] => {
    if (!(name in limits)) return []
    const { sense, unit }: Known = limits[name as LimitName]
    const [least, most] = sense
    return sides.flatMap((side): WrongLimit[] => {
      const value = said[side]
      return value === undefined || (value >= least && value <= most)
        ? []
        : [{ place: `limits["${name}"].${side}`, why: `${value} is beyond sense: write ${least} to ${most} ${unit}`.trimEnd() }]
    })
  })
