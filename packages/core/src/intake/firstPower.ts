import type { Evidence, Finding } from '@taraf/contract'
import { byHand, defineCheck, judged, refusal, shown } from '../check'
import { limitFor } from '../limits'
import { hasBoard } from '../sheetHas'
import { want } from '../take'
import { highestOf, worstStretch, worstSwing } from '../worst'

/** Capacitors fill and parts start: what flows in that time is shown, not judged (common practice). */
const inrushS = 0.5
const restS = 3
const ampsOfShort = 0.3

type Meter = NonNullable<Evidence['segments'][number]['streams']['meter']>

/** The row at which power came, or -1. */
const powerAt = ({ volts, amps }: Meter, leastVolts: number): number =>
  Array.from(volts).findIndex((v, i) => v > leastVolts || (amps[i] as number) > ampsOfShort)

/** How long, at most, current flowed on end with less than the least voltage at the plug, s. */
const longestShort = ({ t, volts, amps }: Meter, leastVolts: number): number => {
  let longest = 0
  let since = -1
  for (let i = 0; i < t.length; i++) {
    const isShort = (volts[i] as number) < leastVolts && (amps[i] as number) > ampsOfShort
    if (!isShort) since = -1
    else if (since < 0) since = i
    else longest = Math.max(longest, (t[i] as number) - (t[since] as number))
  }
  return longest
}

/** The first row from which the plug had no voltage after it had some: the battery was pulled, or the limiter let go; else the end. */
const pulledAt = ({ volts }: Meter, from: number, leastVolts: number): number => {
  const seen = volts.findIndex((v, i) => i >= from && v >= leastVolts)
  const gone = seen < 0 ? -1 : volts.findIndex((v, i) => i > seen && v < leastVolts)
  return gone < 0 ? volts.length : gone
}

/** The first battery, through a current limiter: a short trips it, and what flows at rest is measured for three seconds. */
export const firstPower = defineCheck({
  id: 'intake.firstPower',
  version: 2,
  station: 'intake',
  title: 'First power',
  proves: 'Nothing is shorted, and it draws no more current at rest than the sheet allows.',
  words: {
    short: 'Behind the limiter',
    amps: 'Current at rest, highest second',
    rail: 'Rail of the board, worst second',
    swing: 'Swing of the rail, worst second',
    peak: 'Inrush, peak',
  },
  needs: ['intake.byEye'],
  reads: { settings: [], parts: ['power wiring', 'regulator', 'board'], acts: [], image: false },
  appliesTo: hasBoard,
  stages: null,
  *take() {
    yield* want.capture({
      label: 'power',
      seconds: 60,
      leastSeconds: 1,
      enoughS: 1,
      ask: 'Current limiter in the battery’s lead, nuts and props off. Start, then plug the battery in.',
      during: 'Plug the battery in through the limiter. Pull it at once if anything smells, smokes or grows hot.',
      streams: ['meter'],
    })
  },
  opens: () => [{ what: 'put back', words: 'Take the current limiter out of the battery’s lead.', blocks: true }],
  evaluate: (evidence): Finding[] => {
    const meter = evidence.segments.find((s) => s.label === 'power')?.streams.meter
    if (meter === undefined)
      return refusal('the meter in the battery’s lead says nothing', 'Make sure it is on, then run it again.')
    const { t, volts, amps, rail } = meter
    const leastVolts = limitFor(evidence.sheet, 'firstPower.volts').min
    const at = powerAt(meter, leastVolts)
    if (at < 0) return refusal('no power came while it was captured', 'Start it, then plug the battery in through the limiter.')
    const timeOf = (i: number) => (t[Math.min(i, t.length - 1)] as number) - (t[at] as number)
    const peak = shown('peak', highestOf(amps, at), 'A')
    const gone = pulledAt(meter, at, leastVolts)
    const neverUp = gone === t.length && (volts[t.length - 1] as number) < leastVolts
    if (longestShort(meter, leastVolts) >= inrushS || (neverUp && timeOf(t.length) >= inrushS))
      return [
        {
          key: 'short',
          value: worstStretch(t, volts, inrushS, at).lowest,
          unit: 'V at the plug',
          limit: { min: leastVolts },
          verdict: 'fail',
          remedy: {
            by: 'work',
            act: 'Unplug the battery. Something is shorted: look for a bridge of solder at the battery pads, a pinched lead under a screw, a part put in the wrong way round; measure from plus to minus before any power again.',
            work: ['clear short'],
          },
        },
        peak,
      ]
    // From when there was voltage: a spike of current before it is no power.
    const up = volts.findIndex((v, i) => i >= at && v >= leastVolts)
    if (up < 0)
      return refusal(
        `current flowed for only ${timeOf(t.length).toFixed(1)} s, and there was no voltage yet`,
        'Run it again and leave the battery in until it ends.',
      )
    const upS = (i: number) => timeOf(i) - timeOf(up)
    const settled = t.findIndex((_, i) => i >= up && upS(i) >= inrushS)
    const most = limitFor(evidence.sheet, 'firstPower.amps').max
    const drawn = settled < 0 || settled >= gone ? 0 : worstStretch(t, amps, 1, settled, gone).highest
    const draws = judged(
      'amps',
      drawn,
      'A in the highest second',
      { max: most },
      byHand(
        'Unplug the battery, then unplug part by part and run it again, until it falls: repair or replace the part that drew it.',
        ['unplug what draws'],
      ),
    )
    const inS = upS(gone)
    // A battery that is pulled because something smokes has shown it.
    if (gone < t.length && inS >= inrushS + 1 && draws.verdict === 'fail') return [draws, peak]
    if (gone < t.length)
      return refusal(
        `the battery was in for only ${inS.toFixed(1)} s, and then gone`,
        'Run it again and leave the battery in until it ends; where something smells, smokes or grows hot, look for that first.',
      )
    if (inS < inrushS + restS)
      return refusal(
        `only ${inS.toFixed(1)} s of power were captured: ${inrushS + restS} s are wanted`,
        'Run it again and leave the battery in until it ends.',
      )
    const rails = worstStretch(t, rail, 1, settled)
    const off = byHand('The board’s rail is off: check what else it feeds, then replace the regulator.', ['replace regulator'])
    const { min, max } = limitFor(evidence.sheet, 'rails.volts')
    const lowestVolts = worstStretch(t, volts, 1, settled).lowest
    return [
      { key: 'short', value: lowestVolts, unit: 'V at the plug', limit: { min: leastVolts }, verdict: 'pass' },
      draws,
      judged('rail', rails.lowest < min ? rails.lowest : rails.highest, 'V in the worst second', { min, max }, off),
      judged(
        'swing',
        worstSwing(t, rail, 1, settled),
        'V rms in the worst second',
        { max: limitFor(evidence.sheet, 'rails.swing').max },
        off,
      ),
      peak,
    ]
  },
})
