import { defineCheck } from '../check'
import { onTheWay, strengthIn } from '../radio/sticks'
import { want } from '../take'
import { gesturesFound, switchFindings } from './findings'
import { segmentOf } from './segment'

const state = { transmitter: true, disarmed: true } as const

/** Each switch moved through its positions by itself, and the whole table of what they switch. */
export const table = defineCheck({
  id: 'switches.table',
  version: 3,
  station: 'switches',
  title: 'Switches',
  proves: 'Each position of each switch does what the build sheet plans, with room to the edges of its band.',
  words: (sheet) => ({
    combinations: 'Combinations of all positions',
    unplanned: 'Functions that nobody planned',
    ...Object.fromEntries((sheet.switches ?? []).map(({ name }) => [`${name} arms`, `Switch ${name}, moved`])),
    ...Object.fromEntries(
      (sheet.switches ?? []).flatMap(({ name, positions }) =>
        Array.from({ length: positions }, (_, p) => `${name} ${p + 1}`).flatMap((position) => [
          [position, `Switch ${position}`],
          [`${position} margin`, `Switch ${position}, to the nearest edge`],
          [`${position} mode`, `Switch ${position}, mode that the board reports`],
          [`${position} functions`, `Switch ${position}, functions of the board`],
        ]),
      ),
    ),
  }),
  needs: ['radio.order'],
  reads: {
    settings: ['switch.*'],
    parts: onTheWay,
    acts: ['transmitter'],
    onTransmitter: ({ channel }, { switches }) => switches?.some((one) => one.channel === channel) ?? true,
    image: true,
  },
  appliesTo: (sheet) => sheet.switches !== undefined,
  stages: null,
  *take({ sheet, settings }) {
    for (const one of sheet.switches ?? [])
      yield* want.control({
        label: segmentOf(one),
        ask: `Move the switch ${one.name} through all of its ${one.positions} positions and back, half a second in each.`,
        seconds: 60,
        enoughS: 1,
        streams: ['radio'],
        leastUs: 100,
        times: 1,
        ends: 'back',
        heldS: 0.3,
        events: ['mode'],
        ignores: strengthIn(settings),
        atOnce: true,
        state,
      })
  },
  evaluate: switchFindings,
})

/** What the sticks do beside flying. */
export const gestures = defineCheck({
  id: 'switches.gestures',
  version: 1,
  station: 'switches',
  title: 'Stick gestures',
  proves: 'No corner of the sticks does more than the build sheet says.',
  words: {
    'gesture.calibrate': 'Calibration by the sticks',
    'gesture.trim': 'Trim by the sticks',
    'gesture.profile': 'Another profile by the sticks',
  },
  needs: [],
  reads: { settings: ['gesture.*'], parts: ['board'], acts: [], image: true },
  stages: null,
  *take() {
    yield* want.reports({ label: 'asked', ask: 'Nothing to do: the board is asked.', of: ['identity'], atOnce: true })
  },
  evaluate: gesturesFound,
})
