import { defineCheck } from '../check'
import { armedWords } from './meanwhile'
import { want } from '../take'
import { centred, farUs, timesOut } from './asked'
import { centreFindings } from './centreFindings'
import { isOfStick, onTheWay, strengthIn } from './sticks'

/** The sticks that go back by themselves, let go of three times from each side. */
export const centre = defineCheck({
  id: 'radio.centre',
  version: 2,
  station: 'radio',
  title: 'Stick centre',
  proves: 'Let go of, each stick comes to rest in the middle, from either side.',
  words: {
    ...Object.fromEntries(
      centred.flatMap((control) => [
        [`${control}Centre`, `Centre of ${control}`],
        [`${control}Return`, `Spread of its rests, ${control}`],
      ]),
    ),
    ...armedWords,
  },
  needs: ['radio.ends'],
  reads: {
    settings: ['radio.roll.channel', 'radio.pitch.channel', 'radio.yaw.channel'],
    parts: onTheWay,
    acts: ['transmitter'],
    onTransmitter: isOfStick,
    image: true,
  },
  stages: null,
  *take(soFar) {
    for (const control of centred)
      yield* want.control({
        label: control,
        ask: `Move ${control} to one end, let go and wait half a second; to the other end, let go and wait; three times.`,
        seconds: 90,
        enoughS: 2,
        streams: ['radio'],
        leastUs: farUs,
        times: 2 * timesOut,
        ends: 'back',
        heldS: 0.2,
        ignores: strengthIn(soFar.settings),
        atOnce: true,
        state: { transmitter: true, disarmed: true },
      })
  },
  evaluate: centreFindings,
})
