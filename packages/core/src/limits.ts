import type { Limit, SheetPart } from '@taraf/contract'

/** Default limits, each with its unit; what each is for is said in limitReasons.ts. A sheet may set its own with a reason. */
export const limits = {
  'firstPower.amps': {
    max: 0.6,
    unit: 'A',
  },
  'firstPower.volts': {
    min: 5,
    unit: 'V at the plug',
  },
  'rails.volts': {
    min: 4.9,
    max: 5.25,
    unit: 'V',
  },
  'rails.sag': {
    max: 0.2,
    unit: 'V',
  },
  'rails.swing': {
    max: 0.1,
    unit: 'V rms from row to row',
  },
  'sockets.receiverFrames': {
    min: 20,
    unit: 'good frames a second',
  },
  'sockets.positionFrames': {
    min: 1,
    unit: 'good frames a second',
  },
  'loop.rate': {
    max: 1,
    unit: '% from the rate that is set',
  },
  'loop.load': {
    max: 0.7,
    unit: 'of the processor',
  },
  'loop.jitter': {
    max: 0.05,
    unit: 'of the period, rms',
  },
  'gyroRest.bias': {
    max: 0.2,
    unit: 'deg/s',
  },
  'gyroRest.noise': {
    max: 0.3,
    unit: 'deg/s rms',
  },
  'level.offset': {
    max: 0.5,
    unit: 'deg',
  },
  'level.magnitude': {
    max: 2,
    unit: '% of local g',
  },
  'sixPoses.proof': {
    max: 0.1,
    unit: 'm/s2',
  },
  'sixPoses.inForce': {
    max: 0.15,
    unit: 'm/s2',
  },
  'compass.coverage': {
    min: 0.7,
    unit: 'of all directions',
  },
  'compass.residual': {
    max: 0.04,
    unit: 'of the field',
  },
  'compass.strength': {
    max: 15,
    unit: '% of the field at the shop',
  },
  'compassShift.shift': {
    max: 10,
    unit: '% of the field',
  },
  'barometer.noise': {
    max: 0.3,
    unit: 'm rms',
  },
  'barometer.drift': {
    max: 1,
    unit: 'm in 5 min',
  },
  'position.wait': {
    max: 120,
    unit: 's',
  },
  'position.lasts': {
    min: 0.98,
    unit: 'of the time since it came',
  },
  'position.satellites': {
    min: 8,
    unit: 'satellites',
  },
  'position.dilution': {
    max: 2,
    unit: '',
  },
  'position.antenna': {
    max: 0.02,
    unit: 'm',
  },
  'orientation.seating': {
    max: 3,
    unit: 'deg',
  },
  'follow.level': {
    max: 20,
    unit: 'deg',
  },
  'follow.moved': {
    min: 20,
    unit: 'deg',
  },
  'follow.aside': {
    max: 25,
    unit: 'deg',
  },
  'follow.turned': {
    min: 45,
    unit: 'deg',
  },
  'follow.tilt': {
    max: 5,
    unit: 'deg',
  },
  'follow.yaw': {
    max: 15,
    unit: 'deg over a quarter turn',
  },
  'radio.quality': {
    min: 80,
    unit: '% of frames whole',
  },
  'radio.gate': {
    min: 350,
    unit: 'us from the middle',
  },
  'radio.centre': {
    max: 3,
    unit: 'us from 1500',
  },
  'radio.return': {
    max: 6,
    unit: 'us between the rests of one stick',
  },
  'radio.beyondGate': {
    min: 5,
    max: 75,
    unit: 'us past its gate',
  },
  'radio.noise': {
    max: 2,
    unit: 'us rms',
  },
  'radio.gaps': {
    max: 0,
    unit: 'gaps of two frames or more',
  },
  'radio.lost': {
    max: 1,
    unit: '% of frames',
  },
  'switches.margin': {
    min: 25,
    unit: 'us from the nearest band edge',
  },
  'escs.errors': {
    max: 1,
    unit: '% of replies bad',
  },
  'start.least': {
    max: 0.07,
    unit: 'of full command',
  },
  'start.spread': {
    max: 0.02,
    unit: 'of full command',
  },
  'start.together': {
    max: 0.15,
    unit: 's',
  },
  'start.holds': {
    min: 90,
    unit: '% of its own speed',
  },
  'start.speeds': {
    max: 6,
    unit: '% of the middle one',
  },
  'start.noLoad': {
    min: -25,
    max: 15,
    unit: '% from KV x volts x command',
  },
  'range.nought': {
    min: -0.03,
    max: 0.03,
    unit: 'of the signal',
  },
  'range.full': {
    min: 0.93,
    max: 1.08,
    unit: 'of the signal',
  },
  'smooth.atTurning': {
    max: 0.9,
    unit: 'mm/s rms',
  },
  'smooth.whole': {
    max: 1.1,
    unit: 'mm/s rms, 10 to 1000 Hz',
  },
  'smooth.beside': {
    max: 4,
    unit: 'times the middle one of the others',
  },
  'heat.above': {
    max: 7,
    unit: 'C above the middle one of the others',
  },
  'heat.most': {
    max: 60,
    unit: 'C after the run',
  },
  'arming.throttleGate': {
    max: 1100,
    unit: 'us',
  },
  'arming.tiltGate': {
    max: 30,
    unit: 'deg',
  },
  'arming.cellGate': {
    min: 3.2,
    unit: 'V a cell',
  },
  'arming.throttleOff': {
    max: 10,
    unit: 'us from the gate that is set',
  },
  'arming.tiltOff': {
    max: 3,
    unit: 'deg from the limit that is set',
  },
  'arming.cellOff': {
    max: 0.15,
    unit: 'V a cell from the limit that is set',
  },
  'arming.took': {
    max: 1.5,
    unit: 's',
  },
  'disarming.took': {
    max: 0.3,
    unit: 's',
  },
  'disarming.sticks': {
    max: 2,
    unit: 's',
  },
  'disarming.idle': {
    min: 5,
    max: 30,
    unit: 's',
  },
  'disarming.idleOff': {
    max: 1,
    unit: 's from the time that is set',
  },
  'idle.spread': {
    max: 12,
    unit: '% of the middle one',
  },
  'idle.lifts': {
    max: 50,
    unit: '% of the command in hover',
  },
  'idle.swing': {
    max: 5,
    unit: '% rms of its own speed',
  },
  'loss.notice': {
    max: 1,
    unit: 's',
  },
  'loss.wait': {
    max: 2,
    unit: 's',
  },
  'loss.command': {
    min: -8,
    max: -2,
    unit: 'points from hover',
  },
  'loss.lasts': {
    min: 5,
    unit: 's',
  },
  'loss.back': {
    max: 1,
    unit: 's',
  },
  'loss.jump': {
    max: 10,
    unit: 'points',
  },
  'home.over': {
    min: 5,
    unit: 'm over what stands in the way',
  },
  'turning.most': {
    max: 240,
    unit: 's',
  },
  'hop.over': {
    min: -5,
    max: 5,
    unit: 'points from others of its type, else from the sheet',
  },
  'hop.throttle': {
    max: 0.7,
    unit: 'of full command',
  },
  'hop.sway': {
    max: 5,
    unit: 'deg rms about its mean',
  },
  'hop.spin': {
    max: 10,
    unit: 'deg/s',
  },
  'hop.trim': {
    max: 2,
    unit: 'deg',
  },
  'hop.wobble': {
    max: 8,
    unit: 'deg/s rms, 1 to 20 Hz',
  },
  'hop.vibration': {
    max: 8,
    unit: 'm/s2 rms, above 20 Hz',
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
