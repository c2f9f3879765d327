import type { Finding } from '@taraf/contract'
import { defineCheck, judged, refusal, reportsOf } from '../check'
import { limitFor } from '../limits'

const loopHz = [1000, 2000, 4000, 8000]
const rateWithin = 0.01

/** Rate, load and jitter of the control loop, with everything running that the sheet has on. */
export const loop = defineCheck({
  id: 'board.loop',
  version: 1,
  station: 'board',
  title: 'Loop',
  proves: 'The loop keeps its rate with room to spare.',
  needs: ['board.baseline', 'board.sockets'],
  reads: {
    settings: ['loop.rate', 'position.use', 'compass.use', 'telemetry.use', 'log.use', 'video.use', 'esc.replies'],
    parts: ['board'],
    acts: [],
    firmware: true,
  },
  appliesTo: (sheet) => sheet.board !== undefined && !sheet.setAside?.includes('board.loop'),
  capture: {
    stage: 'body',
    segments: [
      { label: 'asked', seconds: 0, ask: 'Leave everything on that will run in flight. The loop is measured.', asks: ['loop'] },
    ],
  },
  evaluate: (evidence) => {
    const { loop } = reportsOf(evidence)
    if (loop === undefined) return refusal('the board was not asked for its loop', 'Take it again.')
    const { rateHz, load, jitter } = loop
    const set = evidence.board.settings?.['loop.rate']
    const wanted = set === undefined ? undefined : loopHz[set]
    const slower = set === undefined || set < 1 ? {} : { settings: { 'loop.rate': set - 1 } }
    return [
      ...(wanted === undefined
        ? []
        : [
            judged(
              'rate',
              rateHz,
              'Hz',
              { min: wanted * (1 - rateWithin), max: wanted * (1 + rateWithin) },
              { act: 'The board does not keep the rate that it is set to. Take the next slower one.', ...slower },
            ),
          ]),
      judged(
        'load',
        load,
        'of the processor',
        { max: limitFor(evidence.sheet, 'loop.load').max },
        {
          act: 'Take the next slower rate of the loop, or switch off what is not needed.',
          ...slower,
        },
      ),
      judged(
        'jitter',
        jitter,
        'of the period, rms',
        { max: limitFor(evidence.sheet, 'loop.jitter').max },
        {
          act: 'A period that varies so much at this load is the clock of the board: replace the board.',
          work: ['replace board'],
        },
      ),
    ] satisfies Finding[]
  },
})
