import type { Finding, Remedy } from '@taraf/contract'
import { byHand, defineCheck, judged, refusal, reportsOf } from '../check'
import { hasBoard } from '../sheetHas'
import { want } from '../take'
import { hertz } from './hertz'
import { limitFor } from '../limits'

/** Rate, load and jitter of the control loop, with everything running that the sheet has on. */
export const loop = defineCheck({
  id: 'board.loop',
  version: 2,
  station: 'board',
  title: 'Loop load',
  proves: 'The loop keeps its rate with room to spare.',
  words: { rate: 'Loop rate', load: 'Load', jitter: 'Jitter of the period' },
  needs: ['board.baseline', 'board.sockets'],
  reads: {
    settings: ['loop.rate', 'position.use', 'compass.use', 'telemetry.use', 'log.use', 'video.use', 'esc.replies'],
    parts: ['board'],
    acts: [],
    image: true,
  },
  appliesTo: hasBoard,
  stages: null,
  *take() {
    yield* want.reports({
      label: 'asked',
      ask: 'Leave everything on that will run in flight. The loop is measured.',
      of: ['loop'],
    })
  },
  evaluate: (evidence) => {
    const { loop } = reportsOf(evidence)
    if (loop === undefined) return refusal('the board was not asked for its loop', 'Run it again.')
    const { rateHz, load, jitter } = loop
    if (!(rateHz > 0 && load >= 0 && load <= 1.5 && jitter >= 0))
      return refusal(
        `the board says a rate of ${rateHz} Hz, a load of ${load} and a jitter of ${jitter}: no loop has these`,
        'Run it again; if it fails again, compare its image with the sheet.',
      )
    const rateWithin = limitFor(evidence.sheet, 'loop.rate').max / 100
    const set = evidence.board.settings?.['loop.rate']
    const rates = evidence.board.choices?.['loop.rate']?.map(hertz) ?? []
    const wanted = set === undefined ? undefined : rates[set]
    const next = rates.indexOf(Math.max(...rates.filter((hz) => hz < (wanted ?? 0))))
    const slower = (act: string): Remedy =>
      wanted === undefined || next < 0 ? byHand(act) : { by: 'settings', act, settings: { 'loop.rate': next } }
    return [
      ...(wanted === undefined
        ? []
        : [
            judged(
              'rate',
              rateHz,
              'Hz',
              { min: wanted * (1 - rateWithin), max: wanted * (1 + rateWithin) },
              slower('The board does not keep the rate that it is set to. Set the next slower one.'),
            ),
          ]),
      judged(
        'load',
        load,
        'of the processor',
        { max: limitFor(evidence.sheet, 'loop.load').max },
        slower('Set the next slower loop rate, or switch off what is not needed.'),
      ),
      judged(
        'jitter',
        jitter,
        'of the period, rms',
        { max: limitFor(evidence.sheet, 'loop.jitter').max },
        byHand('A period that varies so much at this load is the clock of the board: replace the board.', ['replace board']),
      ),
    ] satisfies Finding[]
  },
})
