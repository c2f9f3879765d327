import type { Evidence, Finding } from '@taraf/contract'
import { byHand, defineCheck, judged, refusal, shown } from '../check'
import { discontinuity } from '../continuity'
import { limitFor } from '../limits'
import { mean } from '../statistics'
import { want } from '../take'
import { applies } from './applies'

/** Capacitors fill and parts start: what flows in that time is shown, not judged (common practice). */
const inrushS = 0.5
const restS = 3
const ampsOfShort = 0.3

type Meter = NonNullable<Evidence['segments'][number]['streams']['meter']>

/** The row at which power came, or -1. */
const powerAt = ({ volts, amps }: Meter, leastVolts: number): number =>
  Array.from(volts).findIndex((v, i) => v > leastVolts || (amps[i] as number) > ampsOfShort)

/** Means over the rows from `from` to `to`, seconds after the first of the meter. */
export const between = ({ t }: Meter, column: ArrayLike<number>, from: number, to: number): number => {
  const rows = Array.from(t).flatMap((at, i) =>
    at - (t[0] as number) >= from && at - (t[0] as number) <= to ? [column[i] as number] : [],
  )
  return mean(rows)
}

/** The first battery, through a current limiter: a short trips it, and what flows at rest is measured for three seconds. */
export const firstPower = defineCheck({
  id: 'intake.firstPower',
  version: 1,
  station: 'intake',
  title: 'First power',
  proves: 'Nothing is shorted, and with nothing turning it draws no more than the sheet allows.',
  needs: ['intake.byEye'],
  reads: { settings: [], parts: ['power wiring', 'regulator', 'board'], acts: [], image: false },
  appliesTo: applies('intake.firstPower'),
  stages: null,
  *take() {
    yield* want.capture({
      label: 'power',
      seconds: 60,
      leastSeconds: 1,
      ask: 'Current limiter in the battery’s lead, nuts and props off. Start, then plug the battery in.',
      during: 'Plug the battery in through the limiter. Pull it at once if anything smells, smokes or grows hot.',
      streams: ['meter'],
    })
  },
  opens: () => [{ what: 'put back', words: 'Take the current limiter out of the battery’s lead.', blocks: true }],
  evaluate: (evidence): Finding[] => {
    const meter = evidence.segments.find((s) => s.label === 'power')?.streams.meter
    if (meter === undefined)
      return refusal('the meter in the battery’s lead says nothing', 'See that it is on, then take it again.')
    const gap = discontinuity(meter.t, 1)
    if (gap !== null) return refusal(gap, 'Check the meter’s lead, then take it again.')
    const leastVolts = limitFor(evidence.sheet, 'firstPower.volts').min
    const at = powerAt(meter, leastVolts)
    const [first, last] = [meter.t[0] as number, meter.t[meter.t.length - 1] as number]
    if (at < 0) return refusal('no power came while it was captured', 'Start it, then plug the battery in through the limiter.')
    const on = (meter.t[at] as number) - first
    const since = last - first - on
    const peak = Math.max(...Array.from(meter.amps).slice(at))
    const volts = between(meter, meter.volts, on + Math.min(0.2, since / 2), last - first)
    if (since >= inrushS && volts < leastVolts)
      return [
        {
          key: 'short',
          value: volts,
          unit: 'V at the plug',
          limit: { min: leastVolts },
          verdict: 'fail',
          remedy: {
            by: 'work',
            act: 'Take the battery off. Something is shorted: look for a bridge of solder at the battery pads, a pinched lead under a screw, a part put in the wrong way round; measure from plus to minus before any power again.',
            work: ['clear short'],
          },
        },
        shown('peak', peak, 'A'),
      ]
    if (since < inrushS + restS)
      return refusal(
        `only ${since.toFixed(1)} s of power were captured: ${inrushS + restS} s are wanted`,
        'Take it again and leave the battery in until it ends.',
      )
    const amps = between(meter, meter.amps, last - first - restS, last - first)
    const rail = between(meter, meter.rail, last - first - restS, last - first)
    const { min, max } = limitFor(evidence.sheet, 'rails.volts')
    return [
      { key: 'short', value: volts, unit: 'V at the plug', limit: { min: leastVolts }, verdict: 'pass' },
      judged(
        'amps',
        amps,
        'A at rest',
        { max: limitFor(evidence.sheet, 'firstPower.amps').max },
        byHand(
          'Take the battery off, unplug part by part and take it again, until it falls: mend or replace the part that drew.',
          ['unplug what draws'],
        ),
      ),
      judged(
        'rail',
        rail,
        'V',
        { min, max },
        byHand('The board’s rail is off: see what hangs on it, then replace the regulator.', ['replace regulator']),
      ),
      shown('peak', peak, 'A'),
    ]
  },
})
