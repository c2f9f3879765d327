import { defineCheck } from '../check'
import { want } from '../take'
import { leastMovedUs, movements } from './asked'
import { controls, isOfStick, onTheWay, strengthIn } from './sticks'
import { orderFindings } from './orderFindings'

/** Each control by itself, once to its end and back: which channel it is on, and which way that goes. */
export const order = defineCheck({
  id: 'radio.order',
  version: 2,
  station: 'radio',
  title: 'Controls',
  proves: 'Each stick moves its own channel, the right way, and nothing else.',
  words: {
    leaps: 'What leaps by itself, for moments',
    ...Object.fromEntries(
      controls.flatMap((control) => [
        [`${control}Channel`, `Channel of ${control}`],
        [`${control}Way`, `Direction of ${control}`],
        [`${control}Mixed`, `What else moves with ${control}`],
      ]),
    ),
  },
  needs: ['radio.link'],
  reads: {
    settings: ['radio.throttle.*', 'radio.roll.*', 'radio.pitch.*', 'radio.yaw.*', 'radio.strengthChannel'],
    parts: onTheWay,
    acts: ['transmitter'],
    // No travel and no trim makes another channel of one.
    onTransmitter: (set, sheet) => isOfStick(set, sheet) && ['inverted', 'mix', 'stick'].includes(set.name),
    image: true,
  },
  stages: null,
  *take(soFar) {
    yield* want.capture({
      label: 'rest',
      ask: 'Leave sticks and switches alone, throttle fully down.',
      seconds: 2,
      streams: ['radio'],
      state: { transmitter: true, disarmed: true },
    })
    for (const control of controls) {
      const { label, words } = movements[control]
      yield* want.control({
        label,
        ask: `${words.charAt(0).toUpperCase()}${words.slice(1)}, all the way, and back.`,
        seconds: 60,
        enoughS: 0.5,
        streams: ['radio'],
        leastUs: leastMovedUs,
        times: 1,
        ends: 'back',
        heldS: 0.2,
        ignores: strengthIn(soFar.settings),
        atOnce: true,
        state: { transmitter: true, disarmed: true },
      })
    }
  },
  evaluate: orderFindings,
})
