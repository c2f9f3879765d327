import fc from 'fast-check'
import { linearRegression, median, quantileSorted, rootMeanSquare } from 'simple-statistics'
import { framesSegment, plainSettings, radioEvidence } from '../../tests/radio'
import { endsFindings, gatesOf, newTravel } from './endsFindings'
import { framesOf, type Values } from './frames'
import { movedIn } from './orderFindings'
import { dropOutsOf, noiseOf } from './steadinessFindings'

const numbers = fc.array(fc.integer({ min: 900, max: 2100 }), { minLength: 3, maxLength: 400 })
const values = (list: readonly number[]): Values => Float64Array.from(list)

// simple-statistics 7: a general library.
test('noise about the median is that of a general library', () => {
  fc.assert(
    fc.property(numbers, (us) => {
      const middle = median(us)
      expect(noiseOf(values(us))).toBeCloseTo(rootMeanSquare(us.map((value) => value - middle)), 9)
    }),
  )
})

test('drop-outs are those that were made: single frames and runs, whatever the rate', () => {
  fc.assert(
    fc.property(
      fc.constantFrom(22, 50, 91, 150, 500),
      fc.uniqueArray(fc.integer({ min: 5, max: 290 }), { maxLength: 30 }),
      (hz, gone) => {
        const missing = new Set(gone)
        const t = Array.from({ length: 300 }, (_, i) => i / hz).filter((_, i) => !missing.has(i))
        const steps = t.slice(1).map((at, i) => at - (t[i] as number))
        const usual = quantileSorted(
          [...steps].sort((a, b) => a - b),
          0.5,
        )
        const { gaps, lost, longestGapMs } = dropOutsOf(values(t), [0, 299 / hz])
        expect(lost).toBeCloseTo((100 * missing.size) / 300, 6)
        expect(gaps).toBe(steps.filter((step) => step / usual > 2.5).length)
        expect(longestGapMs).toBeCloseTo(1000 * Math.max(...steps), 6)
      },
    ),
  )
})

test('the share of a mix is the slope of a general library', () => {
  fc.assert(
    fc.property(fc.double({ min: 0.15, max: 0.6, noNaN: true }), fc.boolean(), (share, falls) => {
      const stick = (t: number) => 450 * Math.sin(Math.min(Math.PI, t * 2))
      const mix = falls ? -share : share
      const segment = framesSegment(
        'roll-right',
        { 1: (t) => 1500 + stick(t), 4: (t) => 1500 + mix * stick(t) },
        { seconds: 2, noiseUs: 0.3 },
      )
      const frames = framesOf(radioEvidence([segment]), 'roll-right')
      if (frames === null) throw new Error('no frames')
      const moved = movedIn(frames, 12)
      if ('why' in moved) throw new Error(moved.why)
      const [control, other] = [frames.channel(1), frames.channel(4)] as [Values, Values]
      const { m } = linearRegression(Array.from(control, (us, i) => [us, other[i] as number]))
      expect(moved.mixed.ch4).toBeCloseTo(m, 9)
    }),
    { numRuns: 40 },
  )
})

// Common practice: pulses of a servo channel run from 1000 to 2000 us with the middle at 1500; 100 % of travel is 500 us to either side.
test('a full travel reaches 1000 and 2000 us, and 90 % of it 1050 and 1950', () => {
  expect(newTravel(100, 2000, 1950)).toBeCloseTo(90, 9)
  expect(newTravel(100, 1000, 1050)).toBeCloseTo(90, 9)
  expect(newTravel(80, 1100, 1000)).toBeCloseTo(100, 9)
  expect(gatesOf({ 'radio.lowGate': 1060, 'radio.highGate': 1940, 'radio.roll.reverse': 1 }, 'roll')).toEqual({
    low: 1060,
    high: 1940,
  })
})

test('the travel that is said, set by independent arithmetic of a transmitter, ends within its margin', () => {
  const endOf = (percent: number, stickReach: number) => Math.round(1500 + percent * 5 * stickReach)
  fc.assert(
    fc.property(fc.integer({ min: 70, max: 84 }), fc.double({ min: 0.95, max: 1.05, noNaN: true }), (travel, reach) => {
      const take = (percent: number) =>
        endsFindings(
          radioEvidence(
            (['throttle', 'roll', 'pitch', 'yaw'] as const).map((control) => {
              const channel = Number(plainSettings[`radio.${control}.channel`])
              return framesSegment(
                control,
                { [channel]: (t) => (t < 1 ? 1045 : t < 2 ? (control === 'yaw' ? endOf(percent, reach) : 1955) : 1500) },
                { seconds: 3, noiseUs: 0.5 },
              )
            }),
            plainSettings,
            { observations: [{ segment: 'yaw', travelLow: 90, travelHigh: percent }] as never },
          ),
        ).find((f) => f.key === 'yawHigh')
      const before = take(travel)
      expect(before?.verdict).toBe('fail')
      const [set] = (before?.remedy as unknown as { transmitter: { travelHigh: number }[] }).transmitter
      expect(take(set?.travelHigh ?? NaN)?.verdict).toBe('pass')
    }),
    { numRuns: 25 },
  )
})
