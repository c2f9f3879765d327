import { defineCheck } from '../check'
import { onTheWay } from '../radio/sticks'
import { canBeArmed } from '../sheetHas'
import { want } from '../take'
import { attempt } from './attempt'
import { guardsOf, lowered, triedFrom } from './guards'
import { refusesFindings } from './refusesFindings'
import { isOfArming, ready } from './rules'

/** Every precondition of the sheet, caused and tried: the board must refuse to arm, for that reason and for no other. */
export const refuses = defineCheck({
  id: 'arming.refuses',
  version: 2,
  station: 'arming',
  title: 'Must refuse',
  proves: 'Everything that must keep it from arming does, each tried alone.',
  words: (sheet) =>
    Object.fromEntries([
      ['account', 'Motors while it refuses'],
      ['tilt', 'Arms up to a tilt of, by its setting: too far over to be tried'],
      ...guardsOf(sheet).flatMap(({ id, words }) => [
        [id, words],
        [`${id}Gate`, `${words}: refuses from`],
        [`${id}Off`, `${words}: from what is set`],
        [`${id}After`, `${words}: once that is gone, its switch still on`],
      ]),
    ]),
  needs: ['motors.response', 'switches.table'],
  reads: {
    settings: [
      'arm.*',
      'switch.arm.*',
      'radio.throttle.*',
      'board.*',
      'chip.*',
      'power.cells',
      'power.armCell',
      'power.voltScale',
      'power.voltDivides',
      'gyro.*',
      'accel.*',
    ],
    parts: ['board', 'position receiver', 'power wiring', ...onTheWay, 'receiver at loss'],
    acts: ['board', 'remount', 'transmitter'],
    onTransmitter: isOfArming(false),
    image: true,
  },
  appliesTo: canBeArmed,
  stages: ['body'],
  *take({ sheet, settings }) {
    yield* want.state({ label: 'ready', ask: 'Battery in, props and nuts off, transmitter on, throttle down.', state: ready })
    for (const guard of guardsOf(sheet)) {
      for (const step of guard.before) yield step
      const isRefused = yield* attempt(triedFrom(guard, settings), guard.reason)
      if (isRefused && guard.after !== undefined) yield guard.after
    }
    yield* want.state({
      label: 'arming-done',
      ask: 'Arm switch off, throttle down. Take the battery or the supply out.',
      state: { battery: false },
    })
  },
  optional: [lowered],
  evaluate: refusesFindings,
})
