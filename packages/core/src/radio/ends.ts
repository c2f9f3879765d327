import type { Question, Settings } from '@taraf/contract'
import { defineCheck } from '../check'
import { want } from '../take'
import { nearUs, travelOf } from './asked'
import { endsFindings } from './endsFindings'
import { armedWords } from './meanwhile'
import { channelOf, controls, isOfStick, onTheWay, strengthIn, type Control } from './sticks'

const travelAsked = { kind: 'answers', label: 'travel', ask: 'Read these in the menu of the transmitter.' } as const

/** Each control held at both of its ends. */
export const ends = defineCheck({
  id: 'radio.ends',
  version: 2,
  station: 'radio',
  title: 'Stick ends',
  proves: 'Each stick passes the gates of the board at both ends, by a little.',
  words: {
    ...Object.fromEntries(
      controls.flatMap((control) => [
        [`${control}Low`, `Low end of ${control}`],
        [`${control}High`, `High end of ${control}`],
      ]),
    ),
    throttleRest: 'Throttle at rest, against the arming gate',
    gateLow: 'Low gate of the board',
    gateHigh: 'High gate of the board',
    ...armedWords,
  },
  needs: ['radio.order'],
  reads: {
    settings: [
      'radio.throttle.*',
      'radio.roll.*',
      'radio.pitch.*',
      'radio.yaw.*',
      'radio.lowGate',
      'radio.highGate',
      'arm.throttleMost',
    ],
    parts: onTheWay,
    acts: ['transmitter'],
    onTransmitter: isOfStick,
    image: true,
  },
  stages: null,
  optional: [{ ...travelAsked, questions: [] }],
  *take(soFar) {
    for (const control of controls)
      yield* want.control({
        label: control,
        ask:
          control === 'throttle'
            ? 'Throttle fully up, hold it there for a second, fully down, and leave it there.'
            : `Move ${control} to one end and hold it there for a second, then to the other end.`,
        seconds: 60,
        enoughS: 1.5,
        streams: ['radio'],
        leastUs: nearUs,
        times: control === 'throttle' ? 1 : 2,
        ends: 'back',
        heldS: 0.6,
        ignores: strengthIn(soFar.settings),
        atOnce: true,
        state: { transmitter: true, disarmed: true },
      })
    // What a new travel is computed from is asked only where there is one to set.
    const wrong = soFar.findings().filter((f) => f.verdict === 'fail' && f.key !== 'throttleRest')
    if (wrong.length > 0)
      yield* want.answers({ ...travelAsked, questions: wrong.map((f) => travelQuestion(f.key, soFar.settings)) })
  },
  evaluate: endsFindings,
})

/** Reads the travel that is set for an end. */
const travelQuestion = (key: string, settings: Settings): Question => {
  const side = key.endsWith('Low') ? 'low' : 'high'
  const control = key.slice(0, -side.length) as Control
  return {
    id: travelOf(key),
    words: `Travel of channel ${channelOf(settings, control)} (${control}), ${side} side`,
    why: 'The new travel is computed from it.',
    answer: 'number',
    unit: '%',
  }
}
