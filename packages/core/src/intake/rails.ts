import type { Finding } from '@taraf/contract'
import { byHand, defineCheck, judged, refusal } from '../check'
import { discontinuity } from '../continuity'
import { limitFor } from '../limits'
import { want } from '../take'
import { applies } from './applies'
import { between } from './firstPower'

/** What a regulator takes to warm through with nothing turning (common practice). */
const warmS = 122
const meanS = 4
/** A part warms fastest at first: what it sags by then, run on in a straight line, is more than it will have sagged when it is warm. */
const earlyS = 30
const surely = 0.25

/** The board's rail from cold to warm, with nothing turning. */
export const rails = defineCheck({
  id: 'intake.rails',
  version: 1,
  station: 'intake',
  title: 'Rail, cold to warm',
  proves: 'The rail that feeds board and receiver stays up as its regulator warms.',
  needs: ['intake.firstPower'],
  reads: { settings: [], parts: ['power wiring', 'regulator', 'board'], acts: [], image: false },
  appliesTo: applies('intake.rails'),
  stages: null,
  *take() {
    yield* want.capture({
      label: 'warm',
      seconds: warmS + 2 * meanS,
      leastSeconds: earlyS,
      ask: 'Battery freshly in, props off, nothing turning: half a minute, two where it sags. Feel the regulator meanwhile.',
      streams: ['meter'],
      state: { battery: true, props: 'off' },
    })
  },
  evaluate: (evidence): Finding[] => {
    const meter = evidence.segments.find((s) => s.label === 'warm')?.streams.meter
    if (meter === undefined) return refusal('the meter at the rail says nothing', 'Clip it to the rail, then take it again.')
    const gap = discontinuity(meter.t, earlyS * 0.98)
    if (gap !== null) return refusal(gap, 'Check the meter’s lead, then take it again.')
    const span = (meter.t[meter.t.length - 1] as number) - (meter.t[0] as number)
    if (Math.min(...Array.from(meter.volts)) < 5)
      return refusal('the battery was not in all the time', 'Plug it in, then start; leave it in until the take ends.')
    const cold = between(meter, meter.rail, 0, meanS)
    const last = between(meter, meter.rail, span - meanS, span)
    const most = limitFor(evidence.sheet, 'rails.sag').max
    const runOn = Math.max(0, (cold - last) * (warmS / (span - meanS)))
    const isWarm = span >= warmS * 0.98
    if (!isWarm && runOn > surely * most)
      return refusal(
        `after ${span.toFixed(0)} s it has sagged by ${(cold - last).toFixed(2)} V: not told yet`,
        'Take it again and leave the battery in until it ends, two minutes at most.',
      )
    const sag = isWarm ? cold - last : runOn
    const warm = cold - sag
    const { min, max } = limitFor(evidence.sheet, 'rails.volts')
    const replace = byHand('Replace the regulator, and look at the others of its lot.', ['replace regulator'])
    return [
      judged('cold', cold, 'V', { min, max }, replace),
      judged('warm', warm, 'V', { min, max }, replace),
      judged('sag', sag, isWarm ? 'V' : 'V, run on to two minutes', { max: most }, replace),
    ]
  },
})
