import type { LimitName } from './limits'

/** Of each limit: what makes sense for any type, where its value is from, and why it is there. */
export interface LimitReason {
  readonly sense: readonly [least: number, most: number]
  readonly source: string
  readonly reason: string
}

// Apart from the limits themselves: a phone draws them in every check, and says why only where a sheet sets its own.
export const limitReasons: Readonly<Record<LimitName, LimitReason>> = {
  'firstPower.amps': {
    sense: [0.05, 5],
    source: 'common practice',
    reason: 'more with nothing turning is a part that is fed wrongly, or one that will be warm and drain a parked pack',
  },
  'firstPower.volts': {
    sense: [2.5, 60],
    source: 'common practice',
    reason: 'two cells, empty, give more: less with current flowing is a short behind the limiter',
  },
  'rails.volts': {
    sense: [4.5, 14],
    source: 'common practice',
    reason: 'a 5 V part works from 4.75 V (from memory): what is lower on the bench has nothing left for a servo or a cold pack',
  },
  'rails.sag': {
    sense: [0.02, 0.5],
    source: 'common practice',
    reason: 'a regulator that sags as it warms is one that lets the receiver go in flight',
  },
  'rails.swing': {
    sense: [0.01, 0.5],
    source: 'common practice',
    reason: 'a rail that goes up and down about the right value resets a receiver all the same',
  },
  'sockets.receiverFrames': {
    sense: [5, 1000],
    source: 'common practice',
    reason: 'a receiver sends forty or more; half of that is a plug or a wire that loses them',
  },
  'sockets.positionFrames': {
    sense: [0.5, 50],
    source: 'common practice',
    reason: 'a position receiver says where it is at least once a second, or is not understood',
  },
  'loop.rate': {
    sense: [0.1, 5],
    source: 'common practice',
    reason: 'filters and gains are computed for the rate that is set',
  },
  'loop.load': {
    sense: [0.1, 0.95],
    source: 'common practice',
    reason: 'more leaves nothing for a log, a late frame or a second sensor',
  },
  'loop.jitter': {
    sense: [0.005, 0.2],
    source: 'common practice',
    reason: 'a period that varies more reaches the motors through the derivative of the rate',
  },
  'gyroRest.bias': {
    sense: [0.02, 1],
    source: 'common practice',
    reason: 'more lets a self-levelled craft lean and an unaided one turn by itself',
  },
  'gyroRest.noise': {
    sense: [0.02, 1],
    source: 'common practice',
    reason: 'more reaches the motors through the rate loop as heat',
  },
  'level.offset': {
    sense: [0.1, 2],
    source: 'common practice',
    reason: 'half a degree of lean lets a craft in still air drift at walking pace within seconds',
  },
  'level.magnitude': {
    sense: [0.2, 5],
    source: 'common practice',
    reason: 'an accelerometer further off needs its scale and bias measured first',
  },
  'sixPoses.proof': {
    sense: [0.02, 0.3],
    source: 'common practice',
    reason: 'a calibration that is off by more than 1 % of g in a pose it was not made from is not one',
  },
  'sixPoses.inForce': {
    sense: [0.02, 0.5],
    source: 'common practice',
    reason: 'more leans the craft by nearly a degree and spoils level',
  },
  'compass.coverage': {
    sense: [0.5, 0.95],
    source: 'common practice',
    reason: 'an ellipsoid fitted to less of itself bends where nothing was measured',
  },
  'compass.residual': {
    sense: [0.005, 0.1],
    source: 'common practice',
    reason: 'more turns the heading by over two degrees somewhere',
  },
  'compass.strength': {
    sense: [2, 40],
    source: 'World Magnetic Model; the allowance is common practice',
    reason: "a field further off is not the Earth's alone",
  },
  'compassShift.shift': {
    sense: [1, 30],
    source: 'common practice',
    reason: 'a heading that turns with the throttle makes the craft circle',
  },
  'barometer.noise': {
    sense: [0.03, 1],
    source: 'common practice',
    reason: 'more is heard in the motors when height is held',
  },
  'barometer.drift': {
    sense: [0.1, 5],
    source: 'common practice',
    reason: 'more brings a craft that holds its height to the ground',
  },
  'position.wait': {
    sense: [10, 600],
    source: 'common practice',
    reason: 'a receiver that takes longer under an open sky is covered, disturbed or cold',
  },
  'position.lasts': {
    sense: [0.5, 1],
    source: 'common practice',
    reason: 'a fix that is lost again under an open sky is one that will be lost in flight',
  },
  'position.satellites': {
    sense: [4, 40],
    source: 'common practice',
    reason: 'fewer leave no spare for one that is wrong',
  },
  'position.dilution': {
    sense: [0.5, 5],
    source: 'common practice',
    reason: 'a position is as uncertain as its geometry is poor',
  },
  'position.antenna': {
    sense: [0.001, 0.2],
    source: 'common practice',
    reason: 'a wrong offset moves the craft when it turns',
  },
  'orientation.seating': {
    sense: [0.5, 8],
    source: 'common practice',
    reason: 'what leans further is not seated; a trim must not hide it',
  },
  'follow.level': {
    sense: [2, 30],
    source: 'common practice',
    reason: 'a plate and a seat lean by less: more is another mounting',
  },
  'follow.moved': {
    sense: [5, 45],
    source: 'common practice',
    reason: 'less than this of a tilt of 25 deg or more is another axis, or another way',
  },
  'follow.aside': {
    sense: [5, 40],
    source: 'common practice',
    reason: 'a hand tilts by the eye to within ten or fifteen: more is a board that is set to another turn than it has',
  },
  'follow.turned': {
    sense: [20, 90],
    source: 'common practice',
    reason: 'less than half of a quarter turn is another axis, or another way',
  },
  'follow.tilt': {
    sense: [1, 15],
    source: 'common practice',
    reason: 'a board whose tilt differs from gravity levels the craft wrongly',
  },
  'follow.yaw': {
    sense: [2, 30],
    source: 'common practice',
    reason: 'more is a gyro scale or a mounting that is wrong',
  },
  'radio.quality': {
    sense: [30, 99],
    source: 'common practice',
    reason: 'at a metre nearly every frame arrives whole: what loses one in five there has no reach',
  },
  'radio.gate': {
    sense: [100, 500],
    source: 'common practice: a stick gives 400 to 500 us to either side',
    reason: 'a gate far inside the range is passed by a stick that does not reach its end',
  },
  'radio.centre': {
    sense: [1, 20],
    source: 'common practice',
    reason: 'the middle of a stick is no command: a few us beside it turn the craft slowly with nobody touching it',
  },
  'radio.return': {
    sense: [2, 30],
    source: 'common practice',
    reason: 'a stick that comes to rest elsewhere each time cannot be centred by a trim',
  },
  'radio.beyondGate': {
    sense: [1, 150],
    source: 'common practice',
    reason: 'an end just on its gate is missed in the cold; one far past it wastes the travel of the stick',
  },
  'radio.noise': {
    sense: [0.5, 10],
    source: 'common practice',
    reason: 'a step of a good link is 0.5 to 1 us: what shakes more is seen by the gyro loop as a command',
  },
  'radio.gaps': {
    sense: [0, 10],
    source: 'common practice',
    reason: 'close by, with everything at rest, no two frames in a row are lost',
  },
  'radio.lost': {
    sense: [0.1, 10],
    source: 'common practice',
    reason: 'what is lost at a metre is many times more at a kilometre',
  },
  'switches.margin': {
    sense: [5, 100],
    source: 'common practice',
    reason: 'a position near the edge of its band changes over with the trim or with the cold',
  },
  'escs.errors': {
    sense: [0.1, 10],
    source: 'common practice',
    reason: 'a clean wire loses one in thousands: what loses more on the bench loses speeds, and commands, in flight',
  },
  'start.least': {
    sense: [0.02, 0.2],
    source: 'common practice',
    reason: 'an ESC that begins later has no room left below the idle of a craft in the air',
  },
  'start.spread': {
    sense: [0.005, 0.1],
    source: 'common practice',
    reason: 'motors that begin at different commands tip the craft as it is armed',
  },
  'start.together': {
    sense: [0.03, 0.5],
    source: 'common practice',
    reason: 'one that begins later than the others needs more than one kick',
  },
  'start.holds': {
    sense: [50, 99],
    source: 'common practice: a tenth of the speed is a fifth of the thrust',
    reason: 'a motor that loses speed for a third of a second tips the craft over',
  },
  'start.speeds': {
    sense: [1, 20],
    source: 'common practice',
    reason: 'motors of one winding differ by a few per cent: more is another winding, or something that brakes',
  },
  'start.noLoad': {
    sense: [-60, 60],
    source: 'no-load speed of a direct-current machine; the allowance is common practice',
    reason: 'friction takes a little of it, and timing adds a little: more is another motor, or other poles',
  },
  'range.nought': {
    sense: [-0.1, 0.1],
    source: 'common practice',
    reason: 'an ESC whose zero is higher than this begins later than its neighbours, and one that takes less may creep',
  },
  'range.full': {
    sense: [0.8, 1.2],
    source: 'no-load speed of a direct-current machine; the allowance for KV and friction is common practice',
    reason: 'less is full before the board says so and stops following it; more never gives all',
  },
  'smooth.atTurning': {
    sense: [0.01, 10],
    source: 'velocity as ISO 20816-1 names it; the limit is common practice',
    reason: 'a bell out of balance wears its bearings and shakes the gyro at the rate at which it turns',
  },
  'smooth.whole': {
    sense: [0.01, 10],
    source: 'band and unit of ISO 20816-1; the limit is common practice',
    reason: 'a bearing that grates shakes at many rates, and seizes in the end',
  },
  'smooth.beside': {
    sense: [1.5, 20],
    source: 'common practice',
    reason: 'motors of one make shake alike: one that shakes several times as much is not as it was made',
  },
  'heat.above': {
    sense: [2, 30],
    source: 'common practice',
    reason: 'the same run warms the same motor alike: what is hotter is partly burnt, or rubs',
  },
  'heat.most': {
    sense: [30, 120],
    source: 'common practice',
    reason: 'a bell too hot to touch after a short run without a prop burns its magnets with one',
  },
  'arming.throttleGate': {
    sense: [1000, 1300],
    source: 'common practice: a little above the lowest that a stick reaches',
    reason: 'one that arms with throttle up jumps out of the hand that armed it',
  },
  'arming.tiltGate': {
    sense: [5, 90],
    source: 'common practice',
    reason: 'one that arms lying on its side is carried, or lies where it fell',
  },
  'arming.cellGate': {
    sense: [2.5, 4.2],
    source: 'common practice for lithium cells under no load',
    reason: 'an empty pack lasts to the first climb, and not back',
  },
  'arming.throttleOff': {
    sense: [2, 100],
    source: 'common practice: what a channel trembles by, and one small step of a hand',
    reason: 'a gate that is not where it is set is not the one that was looked at',
  },
  'arming.tiltOff': {
    sense: [0.5, 20],
    source: 'common practice: what a hand that tilts slowly is ahead by',
    reason: 'a limit that is not where it is set means that the board sees another tilt than there is',
  },
  'arming.cellOff': {
    sense: [0.02, 1],
    source: 'common practice, before the voltage is scaled at its own station',
    reason: 'a limit that is not where it is set means other volts or another number of cells than there are',
  },
  'arming.took': {
    sense: [0.1, 5],
    source: 'common practice',
    reason: 'a person who waits for it to arm moves the switch again',
  },
  'disarming.took': {
    sense: [0.05, 2],
    source: 'common practice: a few frames of the radio',
    reason: 'what does not stop at once has hurt somebody by then',
  },
  'disarming.sticks': {
    sense: [0.2, 5],
    source: 'common practice: long enough that no turn in flight looks like it',
    reason: 'what does not stop at once has hurt somebody by then',
  },
  'disarming.idle': {
    sense: [3, 120],
    source: 'common practice: 10 s',
    reason:
      'an airframe that stays armed in the grass starts when somebody picks it up; one that disarms sooner does so in a descent with throttle down',
  },
  'disarming.idleOff': {
    sense: [0.2, 10],
    source: 'common practice',
    reason: 'a time that is another than it is set is not the one that was looked at',
  },
  'idle.spread': {
    sense: [2, 50],
    source: 'common practice: bare motors near the lowest command differ more than at speed',
    reason: 'a motor that idles far slower than its neighbours stops in a steep descent',
  },
  'idle.lifts': {
    sense: [10, 80],
    source: 'common practice: thrust goes with the square of the speed, so half is a quarter of the weight',
    reason: 'what idles close to hover does not come down, and jumps as it is armed',
  },
  'idle.swing': {
    sense: [1, 30],
    source: 'common practice',
    reason: 'a motor that hunts at idle is about to lose its step',
  },
  'loss.notice': {
    sense: [0.1, 3],
    source: 'common practice: a few tens of frames',
    reason: 'until the loss is noticed it flies on as the last stick said',
  },
  'loss.wait': {
    sense: [0.1, 10],
    source: 'common practice',
    reason: 'at ten metres a second it is twenty metres on before it acts',
  },
  'loss.command': {
    sense: [-30, 10],
    source: 'common practice: without height hold a little under hover',
    reason: 'far under hover it falls, and at hover or over it climbs out of reach',
  },
  'loss.lasts': {
    sense: [1, 120],
    source: 'common practice: what sinks slowly is a few metres lower after five seconds',
    reason: 'what stops its motors sooner falls from wherever the signal went',
  },
  'loss.back': {
    sense: [0.1, 5],
    source: 'common practice',
    reason: 'a pilot who sees nothing happen moves the stick further',
  },
  'loss.jump': {
    sense: [1, 50],
    source: 'common practice: what a hand on the stick does not feel as a blow',
    reason: 'a jump as control comes back throws it over close to the ground',
  },
  'home.over': {
    sense: [1, 100],
    source: 'common practice',
    reason: 'what follows pressure alone is a few metres off after a flight: it must pass over the tallest of what stands there',
  },
  'turning.most': {
    sense: [4, 900],
    source: 'common practice',
    reason: 'without its prop no air moves over a motor: what turns for minutes on end gets hot',
  },
  'hop.over': {
    sense: [-20, 20],
    source: 'common practice: a tenth of what holds it up',
    reason: 'what needs more command carries more than its sheet says, or a rotor of it lifts less',
  },
  'hop.throttle': {
    sense: [0.3, 0.9],
    source: 'common practice: twice the weight is wanted, half of that is the least',
    reason: 'what hovers near full command has nothing left to hold itself level with',
  },
  'hop.sway': {
    sense: [1, 20],
    source: 'common practice',
    reason: 'a craft that leans to one side and the other by itself is close to not being held at all',
  },
  'hop.spin': {
    sense: [1, 90],
    source: 'common practice: with the stick of yaw let go the nose stays where it is',
    reason: 'what spins has a rotor that turns the other way than it should',
  },
  'hop.trim': {
    sense: [0.2, 10],
    source: 'common practice: half of what a pilot sees as drift in still air',
    reason: 'let go of, it runs away to one side',
  },
  'hop.wobble': {
    sense: [0.5, 60],
    source: 'common practice: what an eye does not see',
    reason: 'an airframe that swings about its place in still air swings further in wind',
  },
  'hop.vibration': {
    sense: [0.05, 60],
    source: 'common practice: what an accelerometer can still be averaged over',
    reason: 'a frame that shakes deceives its sensors, and shakes its screws loose',
  },
}
