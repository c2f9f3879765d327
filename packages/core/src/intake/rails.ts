import type { Finding } from '@taraf/contract'
import { byHand, defineCheck, judged, refusal, shown } from '../check'
import { limitFor } from '../limits'
import { hasBoard } from '../sheetHas'
import { want } from '../take'
import { highestOf, worstStretch, worstSwing } from '../worst'

/** What a regulator takes to warm through with nothing turning (common practice): what sags only after a while is seen by no look before. */
const warmS = 122
const meanS = 4

/** The board's rail from cold to warm, with nothing turning. */
export const rails = defineCheck({
  id: 'intake.rails',
  version: 2,
  station: 'intake',
  title: 'Supply rail',
  proves: 'The rail that feeds board and receiver stays up as its regulator warms.',
  words: {
    cold: 'Rail, cold',
    lowest: 'Rail, lowest second',
    highest: 'Rail, highest second',
    swing: 'Swing, worst second',
    sag: 'Sag, cold to lowest',
  },
  needs: ['intake.firstPower'],
  reads: { settings: [], parts: ['power wiring', 'regulator', 'board'], acts: [], image: false },
  appliesTo: hasBoard,
  stages: null,
  *take() {
    yield* want.capture({
      label: 'warm',
      seconds: warmS + 2 * meanS,
      leastSeconds: 5,
      enoughS: 5,
      ask: 'Battery freshly in, props off, nothing turning: two minutes. Feel the regulator meanwhile.',
      streams: ['meter'],
      state: { battery: true, props: 'off' },
    })
  },
  evaluate: (evidence): Finding[] => {
    const meter = evidence.segments.find((s) => s.label === 'warm')?.streams.meter
    if (meter === undefined) return refusal('the meter at the rail says nothing', 'Clip it to the rail, then run it again.')
    const { t, volts, rail } = meter
    const span = (t[t.length - 1] as number) - (t[0] as number)
    if (-highestOf(volts.map((v) => -v) as number[]) < 5)
      return refusal('the battery was not in all the time', 'Plug it in, then start; leave it in until the take ends.')
    const { min, max } = limitFor(evidence.sheet, 'rails.volts')
    const { lowest, highest } = worstStretch(t, rail, 1)
    const replace = byHand('Replace the regulator, and look at the others of its lot.', ['replace regulator'])
    const worst = [
      judged('lowest', lowest, 'V in the lowest second', { min, max }, replace),
      judged('highest', highest, 'V in the highest second', { min, max }, replace),
      judged(
        'swing',
        worstSwing(t, rail, 1),
        'V rms in the worst second',
        { max: limitFor(evidence.sheet, 'rails.swing').max },
        replace,
      ),
    ]
    if (span < warmS * 0.98)
      return worst.some((f) => f.verdict === 'fail')
        ? worst
        : refusal(
            `only ${span.toFixed(0)} s were captured: a regulator can sag as it warms for two minutes`,
            'Run it again and leave the battery in until it ends, two minutes.',
          )
    const cold = worstStretch(
      t,
      rail,
      meanS,
      0,
      t.findIndex((at) => at - (t[0] as number) >= meanS),
    ).lowest
    const sag = cold - worstStretch(t, rail, meanS).lowest
    return [
      shown('cold', cold, 'V'),
      ...worst,
      judged('sag', sag, 'V', { max: limitFor(evidence.sheet, 'rails.sag').max }, replace),
    ]
  },
})
