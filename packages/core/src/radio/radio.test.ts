import type { Evidence, Finding, Segment } from '@taraf/contract'
import fc from 'fast-check'
import { framesSegment, plainSettings, radioEvidence, through, type Course } from '../../tests/radio'
import { centreFindings } from './centreFindings'
import { endsFindings, newTravel } from './endsFindings'
import { framesOf, movedOf, standsIn } from './frames'
import { controls, type Control } from './sticks'
import { movements } from './asked'
import { orderFindings } from './orderFindings'
import { channelsInUse, dropOutsOf, steadinessFindings } from './steadinessFindings'

const by = (found: readonly Finding[], key: string): Finding => {
  const one = found.find((f) => f.key === key)
  if (one === undefined) throw new Error(`no finding ${key} in ${JSON.stringify(found)}`)
  return one
}
const refusedWhy = (found: readonly Finding[]): unknown => (found[0]?.verdict === 'refused' ? found[0].value : found)
const fails = (found: readonly Finding[]) => found.filter((f) => f.verdict === 'fail').map((f) => f.key)

type Map4 = Readonly<Record<Control, number>>
const straight: Map4 = { roll: 1, pitch: 2, throttle: 3, yaw: 4 }

interface Sticks {
  readonly map?: Map4
  readonly inverted?: readonly Control[]
  /** What else moves with a control: the channel, and its share. */
  readonly mix?: { readonly of: Control; readonly to: number; readonly share: number }
  /** What a hand takes along while one control is moved. */
  readonly accident?: { readonly at: Control; readonly channel: number; readonly us: number }
  readonly noiseUs?: number
  readonly seed?: number
}

/** A transmitter of four sticks, each moved once to its end and back. */
const moved = ({ map = straight, inverted = [], mix, accident, noiseUs, seed = 7 }: Sticks): Segment[] => {
  const made = { seconds: 3, ...(noiseUs === undefined ? {} : { noiseUs }) }
  const start: Course = { [map.throttle]: () => (inverted.includes('throttle') ? 1950 : 1050) }
  return [
    framesSegment('rest', start, { ...made, seed }),
    ...controls.map((control, i) => {
      const sign = inverted.includes(control) ? -1 : 1
      const from = control === 'throttle' ? 1500 - sign * 450 : 1500
      const stick = through([0, from], [0.6, 1500 + sign * 450], [1.6, from])
      const course: Record<number, (t: number) => number> = { ...start, [map[control]]: stick }
      if (mix?.of === control) {
        const before = course[mix.to] ?? (() => 1500)
        course[mix.to] = (t) => before(t) + mix.share * (stick(t) - from)
      }
      if (accident?.at === control) {
        const before = course[accident.channel] ?? (() => 1500)
        course[accident.channel] = (t) => before(t) + through([0, 0], [1.1, accident.us], [1.5, 0])(t)
      }
      return framesSegment(movements[control].label, course, { ...made, seed: seed + i + 1 })
    }),
  ]
}
const order = (sticks: Sticks, settings = plainSettings, sheet?: Evidence['sheet']['settings']) =>
  orderFindings(radioEvidence(moved(sticks), settings, sheet === undefined ? {} : { sheet }))

describe('order and direction', () => {
  test('four sticks as the board is set: all pass, and nothing is mixed', () => {
    const found = order({})
    expect(fails(found)).toEqual([])
    expect(by(found, 'rollChannel').value).toBe(1)
    expect(by(found, 'throttleWay').value).toBe('rises')
    expect(by(found, 'yawMixed').value).toEqual({})
  })

  test('roll and yaw changed over on the board: the whole map is set there, in one act', () => {
    const found = order({}, { ...plainSettings, 'radio.roll.channel': 4, 'radio.yaw.channel': 1 }, plainSettings)
    expect(fails(found)).toEqual(['rollChannel', 'yawChannel'])
    expect(by(found, 'rollChannel').remedy).toMatchObject({
      by: 'settings',
      settings: { 'radio.roll.channel': 1, 'radio.yaw.channel': 4 },
    })
  })

  test('the board as its sheet says, the transmitter otherwise: it is put right there', () => {
    const found = order({ map: { ...straight, throttle: 2, pitch: 3 } }, plainSettings, plainSettings)
    expect(by(found, 'throttleChannel').remedy).toMatchObject({
      by: 'transmitter',
      transmitter: [
        { channel: 3, stick: 'throttle' },
        { channel: 2, stick: 'pitch' },
      ],
    })
  })

  test('a channel that falls is inverted on the transmitter; on the board where that is set otherwise than its sheet', () => {
    expect(by(order({ inverted: ['pitch'] }), 'pitchWay').remedy).toMatchObject({
      by: 'transmitter',
      transmitter: [{ channel: 2, invert: true }],
    })
    const found = order({}, { ...plainSettings, 'radio.yaw.reverse': 1 }, { ...plainSettings, 'radio.yaw.reverse': 0 })
    expect(by(found, 'yawWay').remedy).toMatchObject({ by: 'settings', settings: { 'radio.yaw.reverse': 0 } })
    // Both sides wrong in the same way cancel out: the sheet's setting would not turn it.
    expect(fails(order({ inverted: ['yaw'] }, { ...plainSettings, 'radio.yaw.reverse': 1 }))).toEqual([])
  })

  test('any map, any inversions, a mix of 10 to 60 % or a hand that takes another stick along by less than a quarter', () => {
    const map = fc.shuffledSubarray([1, 2, 3, 4, 6, 7, 8, 9], { minLength: 4, maxLength: 4 })
    const inverted = fc.subarray([...controls])
    const beside = fc.oneof(
      fc.constant({}),
      fc.record({
        share: fc.double({ min: 0.12, max: 0.6, noNaN: true }),
        sign: fc.constantFrom(1, -1),
        of: fc.constantFrom(...controls),
      }),
      fc.record({ us: fc.integer({ min: -95, max: 95 }), at: fc.constantFrom(...controls) }),
    )
    fc.assert(
      fc.property(map, inverted, beside, fc.nat(), ([roll = 1, pitch = 2, throttle = 3, yaw = 4], turned, extra, seed) => {
        const found = order({
          map: { roll, pitch, throttle, yaw },
          inverted: turned,
          seed,
          ...('of' in extra ? { mix: { of: extra.of, to: 10, share: extra.share * extra.sign } } : {}),
          ...('at' in extra ? { accident: { at: extra.at, channel: 10, us: extra.us } } : {}),
        })
        expect(found[0]?.verdict).not.toBe('refused')
        for (const [control, channel] of Object.entries({ roll, pitch, throttle, yaw })) {
          expect(by(found, `${control}Channel`).value).toBe(channel)
          expect(by(found, `${control}Way`).value).toBe(turned.includes(control as Control) ? 'falls' : 'rises')
          const mixed = by(found, `${control}Mixed`).value as Record<string, number>
          if ('of' in extra && extra.of === control) expect(mixed.ch10).toBeCloseTo(extra.share * extra.sign, 1)
          else expect(mixed).toEqual({})
        }
      }),
      { numRuns: 60 },
    )
  })

  test('two controls moved together, none moved, one moved both ways, one channel for two: refused, with which', () => {
    expect(refusedWhy(order({ accident: { at: 'roll', channel: 2, us: 300 } }))).toMatch(/roll right: channels 1 and 2 moved/)
    const only = (label: string, course: Course) => (segments: Segment[]) =>
      segments.map((s) => (s.label === label ? framesSegment(label, { 3: () => 1050, ...course }, { seconds: 3 }) : s))
    const with4 = (change: (segments: Segment[]) => Segment[]) => orderFindings(radioEvidence(change(moved({}))))
    expect(refusedWhy(with4(only('yaw-right', {})))).toMatch(/yaw right: no channel moved/)
    expect(refusedWhy(with4(only('roll-right', { 1: through([0, 1500], [0.5, 1950], [1.2, 1050], [2, 1500]) })))).toMatch(
      /both ways/,
    )
    expect(refusedWhy(with4(only('yaw-right', { 1: through([0, 1500], [0.5, 1950], [1.5, 1500]) })))).toMatch(
      /channel 1 moved for roll right and for yaw right/,
    )
    // A stick that was held at its end goes the other way when it is let go of.
    expect(refusedWhy(with4(only('roll-right', { 1: through([0, 1950], [0.6, 1500], [1.6, 1950]) })))).toMatch(
      /channel 1 did not start where it rests/,
    )
    expect(refusedWhy(with4(only('rest', { 2: through([0, 1500], [1, 1600]) })))).toMatch(/channel 2 moved while/)
  })

  test('the strength channel is never taken for a control, however far it goes', () => {
    const segments = moved({}).map((s) =>
      s.label === 'roll-right'
        ? framesSegment(
            s.label,
            { 3: () => 1050, 1: through([0, 1500], [0.6, 1800], [1.6, 1500]), 12: (t) => 1000 + 300 * t },
            { seconds: 3 },
          )
        : s,
    )
    expect(by(orderFindings(radioEvidence(segments)), 'rollChannel').value).toBe(1)
  })
})

/** Three times to each end, let go of in between. */
const thrice = (rests: readonly number[]) =>
  through(
    [0, rests[0] ?? 1500],
    ...rests.flatMap((us, i): [number, number][] => [
      [0.8 + i * 1.5, i % 2 ? 1080 : 1920],
      [1.5 + i * 1.5, us],
    ]),
  )
const centreOf = (course: Course) =>
  centreFindings(radioEvidence((['roll', 'pitch', 'yaw'] as const).map((c) => framesSegment(c, course, { seconds: 10.5 }))))
const sixRests = (rests: readonly number[]): Course => ({
  1: thrice(rests),
  2: thrice([1500, 1500, 1500, 1500, 1500, 1500]),
  4: thrice([1501, 1500, 1501, 1500, 1501, 1500]),
})

describe('centre', () => {
  test('the mean of six rests, and how far they lie apart', () => {
    const found = centreOf(sixRests([1506, 1508, 1506, 1508, 1506, 1508]))
    expect(by(found, 'rollCentre').value).toBeCloseTo(1507, 0)
    expect(by(found, 'rollCentre').remedy).toMatchObject({ by: 'transmitter', transmitter: [{ channel: 1 }] })
    expect(fails(found)).toEqual(['rollCentre'])
  })

  test('a worn stick that rests elsewhere by side is no matter of a trim', () => {
    const found = centreOf(sixRests([1495, 1505, 1495, 1505, 1495, 1505]))
    expect(by(found, 'rollCentre').verdict).toBe('pass')
    expect(by(found, 'rollReturn')).toMatchObject({ verdict: 'fail', remedy: { by: 'work', work: ['calibrate sticks'] } })
  })

  test('not three times from each side, or not let go of for long enough: refused', () => {
    const twice: Course = { ...sixRests([1500, 1500, 1500, 1500, 1500, 1500]), 1: thrice([1500, 1500, 1500, 1500]) }
    expect(refusedWhy(centreOf(twice))).toMatch(/roll: channel 1 did not come to rest three times/)
    expect(refusedWhy(centreOf({ ...sixRests([1500]), 1: (t) => 1500 + 400 * Math.sin(3 * t) }))).toMatch(/roll/)
  })
})

const held = (low: number, high: number) => through([0, 1500], [0.5, low], [1.8, high], [3.2, 1500])
const endsOf = (
  ends: Partial<Record<Control, readonly [number, number]>>,
  settings = plainSettings,
  observations: unknown[] = [],
) =>
  endsFindings(
    radioEvidence(
      controls.map((c) => {
        const [low, high] = ends[c] ?? [1040, 1960]
        return framesSegment(c, { [straight[c]]: held(low, high) }, { seconds: 4 })
      }),
      settings,
      { observations: observations as never },
    ),
  )

describe('ends', () => {
  test('ends a little beyond their gates pass; gates are inclusive and so are the margins', () => {
    expect(fails(endsOf({}))).toEqual([])
    expect(fails(endsOf({ yaw: [1055, 1945] }))).toEqual([])
    expect(fails(endsOf({ yaw: [1056, 1944] }))).toEqual(['yawLow', 'yawHigh'])
    expect(fails(endsOf({ yaw: [984, 2016] }))).toEqual(['yawLow', 'yawHigh'])
  })

  test('the new travel of the side that is short, from the travel that is set, else from what was measured', () => {
    const found = endsOf({ yaw: [1110, 1960] })
    expect(by(found, 'yawLow').remedy).toMatchObject({ by: 'transmitter', transmitter: [{ channel: 4, travelLow: 90.4 }] })
    const told = endsOf({ yaw: [1110, 1960] }, plainSettings, [{ segment: 'yaw', travelLow: 70, travelHigh: 90 }])
    expect(by(told, 'yawLow').remedy).toMatchObject({ transmitter: [{ channel: 4, travelLow: 81.1 }] })
  })

  test('travel that no transmitter has is said, with what else to do', () => {
    const { remedy } = by(
      endsOf({ throttle: [1040, 1750] }, plainSettings, [{ segment: 'throttle', travelLow: 90, travelHigh: 100 }]),
      'throttleHigh',
    )
    expect(remedy).toMatchObject({ transmitter: [{ channel: 3, travelHigh: 180.8 }] })
    expect(remedy?.act).toMatch(/more than most transmitters give/)
  })

  test('the gates of an inverted control are mirrored', () => {
    const found = endsOf({ yaw: [1100, 1900] }, { ...plainSettings, 'radio.yaw.reverse': 1, 'radio.highGate': 1880 })
    expect(by(found, 'yawLow').limit).toEqual({ min: 1045, max: 1115 })
    expect(by(found, 'yawHigh').limit).toEqual({ min: 1945, max: 2015 })
    expect(fails(found)).toContain('yawHigh')
  })

  test('an end that was not held, or by the middle: refused', () => {
    expect(refusedWhy(endsOf({ roll: [1400, 1960] }))).toMatch(/roll: channel 1 was not held/)
  })

  test('setting the travel that is said puts the end where it is wanted', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 40, max: 125, noNaN: true }),
        fc.double({ min: 0.6, max: 1.3, noNaN: true }),
        (travel, stick) => {
          const endAt = (percent: number) => 1500 - 5 * percent * stick
          expect(endAt(newTravel(travel, endAt(travel), 1048))).toBeCloseTo(1048, 6)
        },
      ),
    )
  })
})

describe('a contact that opens for a moment now and then', () => {
  // A switch on channel 5, for 60 ms each time.
  const opens = (times: readonly number[], us = 2000) => ({
    5: (t: number) => (times.some((at) => t >= at && t < at + 0.06) ? us : 1000),
  })
  const mended = { verdict: 'fail', remedy: { work: ['mend transmitter'] } }
  const rest = (course: Course, made: object = {}) =>
    by(
      steadinessFindings(radioEvidence([framesSegment('rest', { 3: () => 1050, ...course }, { seconds: 10, ...made })])),
      'ch5Noise',
    )
  const steps = (course: Course) =>
    orderFindings(
      radioEvidence(
        moved({}).map((s) => (s.label === 'rest' ? framesSegment('rest', { 3: () => 1050, ...course }, { seconds: 3 }) : s)),
      ),
    )

  test('is named, wherever it is seen', () => {
    expect(rest(opens([3, 6, 9]))).toMatchObject(mended)
    expect(steps(opens([1, 2.5]))).toMatchObject([{ key: 'leaps', value: 'channel 5', ...mended }])
  })
  test('once may be anything; what leaps with it is the reception; what stays out is a switch that was moved', () => {
    expect(rest(opens([3])).remedy).toMatchObject({ work: ['place receiver antenna', 'replace receiver'] })
    const both = { ...opens([3, 6, 9]), 1: (t: number) => 1500 + 0.5 * ((opens([3, 6, 9])[5](t) as number) - 1000) }
    expect(rest(both).remedy).toMatchObject({ work: ['place receiver antenna', 'replace receiver'] })
    expect(fails(steps(opens([1])))).toEqual([])
    // Every other frame is another transmitter's, whose switch is elsewhere.
    expect(rest({ 5: (t) => (Math.round(t * 100) % 2 === 0 ? 2000 : 1000) }).remedy).not.toMatchObject(mended.remedy)
    expect(refusedWhy(steps({ 5: (t) => (t > 1 && t < 2 ? 2000 : 1000) }))).toMatch(/channel 5 moved/)
  })
})

describe('steadiness', () => {
  const at = (more: Partial<Parameters<typeof framesSegment>[2]>) =>
    steadinessFindings(radioEvidence([framesSegment('rest', { 3: () => 1050 }, { seconds: 10, ...more })]))

  test('channels of controls and switches are judged, the strength channel is not', () => {
    expect(channelsInUse({ ...plainSettings, 'switch.rate.withChannel': 9, 'switch.lights.channel': 12 })).toEqual([
      1, 2, 3, 4, 5, 9,
    ])
    const found = at({})
    expect(fails(found)).toEqual([])
    expect(found.map((f) => f.key)).toEqual([
      'ch1Noise',
      'ch2Noise',
      'ch3Noise',
      'ch4Noise',
      'ch5Noise',
      'gaps',
      'lost',
      'longestGap',
    ])
    expect(fails(at({ noiseUs: 3 }))).toEqual(['ch1Noise', 'ch2Noise', 'ch3Noise', 'ch4Noise', 'ch5Noise'])
  })

  test('single frames lost are counted by their share, two in a row are a gap', () => {
    expect(fails(at({ lost: (i) => i % 50 === 3 }))).toEqual(['lost'])
    const found = at({ lost: (i) => i === 300 || i === 301 })
    expect(by(found, 'gaps')).toMatchObject({ value: 1, verdict: 'fail' })
    expect(by(found, 'longestGap').value).toBeCloseTo(20, 6)
  })

  test('a receiver that falls silent for good, or wakes late, has lost all of it', () => {
    for (const silent of [(i: number) => i > 900, (i: number) => i < 600]) {
      const found = at({ lost: silent })
      expect(fails(found)).toEqual(['gaps', 'lost'])
      expect(by(found, 'lost').value).toBeCloseTo(40, 0)
      expect(by(found, 'longestGap').value).toBeGreaterThan(3_900)
    }
  })

  test('movement, and nothing received at all: refused', () => {
    const restless = steadinessFindings(
      radioEvidence([framesSegment('rest', { 2: through([0, 1500], [4, 1540]) }, { seconds: 10 })]),
    )
    expect(refusedWhy(restless)).toMatch(/channel 2 moved/)
    expect(refusedWhy(at({ lost: () => true }))).toMatch(/nothing was received/)
  })
})

test('rows of quality 0 are no frames', () => {
  const evidence = radioEvidence([framesSegment('rest', {}, { seconds: 1, lost: (i) => i % 2 === 1 })])
  const frames = framesOf(evidence, 'rest')
  expect(frames?.t.length).toBe(75)
  expect(frames?.span[1]).toBeCloseTo(149 / 150, 9)
  expect(movedOf(frames as NonNullable<typeof frames>, [1, 2])).toBeNull()
})

test('a stretch that stands ends where the channel leaves it', () => {
  const t = Float64Array.from({ length: 300 }, (_, i) => i / 100)
  const us = t.map((at) => (at < 1 ? 1500 : at < 1.3 ? 1700 : 1900))
  expect(standsIn(t, us, 0.5, 10).map((s) => [s.us, s.from, s.to])).toEqual([
    [1500, 0, 100],
    [1900, 130, 300],
  ])
})

test('a receiver of which each second frame is bad loses half, however regular the good ones are', () => {
  const t = Float64Array.from({ length: 400 }, (_, i) => 0.02 * i)
  expect(dropOutsOf(t, [0, t[399] as number], 0.01).lost).toBeCloseTo(50, 0)
  expect(dropOutsOf(t, [0, t[399] as number]).lost).toBe(0)
})
