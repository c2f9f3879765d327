import type { Evidence, Finding, Geometry, Segment, SheetPart } from '@taraf/contract'
import fc from 'fast-check'
import { isNeeded } from '../check'
import { isAnalogue, range } from './range'
import { TeachWatch } from './teachWatch'

const geometry: Geometry = {
  body: { lengthM: 0.2, widthM: 0.1 },
  propDiameterM: 0.15,
  booms: ['right', 'left'].map((name, i) => ({
    name,
    bearingDeg: 90 + 180 * i,
    radiusM: 0.2,
    motors: [{ tier: 'only', output: i + 1, turn: i === 0 ? 'clockwise' : 'anticlockwise' }],
  })),
}
const [kv, volts] = [1400, 16]
const sheet: SheetPart = {
  geometry,
  escs: { understands: ['PWM', 'OneShot125'], settings: {} },
  rotor: { kv },
}
const column = (n: number, of: (i: number) => number) => Float64Array.from({ length: n }, (_, i) => of(i))
/** A burst that one motor shakes, beside the noise of the sensor; by the ends that its ESC goes by. */
const turned = (
  output: number,
  pace: 'slow' | 'fast',
  { nought, full }: { nought: number; full: number },
  metered = volts,
): Segment => {
  const command = pace === 'slow' ? 0.2 : 0.5
  const hz = (kv * metered * ((command - nought) / (full - nought))) / 60
  const noise = (i: number) => 0.05 * Math.sin(i * i * 0.37)
  const wave = (i: number, phase: number) => 0.4 * Math.sin((2 * Math.PI * hz * i) / 4000 + phase) + noise(i)
  return {
    label: `${pace}-${output}`,
    streams: {
      imuBurst: {
        stage: 'raw',
        t: column(4000, (i) => i / 4000),
        ax: column(4000, (i) => wave(i, 0)),
        ay: column(4000, (i) => wave(i, 1)),
        az: column(4000, (i) => noise(i + 7) - 9.8),
      },
      meter: {
        t: column(20, (i) => i / 20),
        volts: column(20, () => metered),
        amps: column(20, () => 1),
        rail: column(20, () => 5),
      },
    },
  } as unknown as Segment
}
const taught = (highS = 4, lowS = 2, events = [{ t: 7, what: 'taught' as const }]): Segment => {
  const n = (highS + lowS) * 50
  const command = column(n, (i) => (i / 50 < highS ? 1 : 0))
  return {
    label: 'teach',
    events,
    streams: { outputs: { t: column(n, (i) => i / 50), o1: command, o2: command } },
  } as unknown as Segment
}
const found = (segments: readonly Segment[], more: SheetPart = {}): Finding[] =>
  range.evaluate({ sheet: { ...sheet, ...more }, board: { settings: {} }, segments } as unknown as Evidence)
const sound = { nought: 0, full: 1 }
const all = (first = sound, second = sound, metered = volts) =>
  (
    [
      ['slow', first, 1],
      ['fast', first, 1],
      ['slow', second, 2],
      ['fast', second, 2],
    ] as const
  ).map(([pace, ends, output]) => turned(output, pace, ends, metered))
const fails = (list: readonly Finding[]) => list.filter((f) => f.verdict === 'fail').map((f) => f.key)
const refused = (list: readonly Finding[]) => list.find((f) => f.verdict === 'refused')?.value

test('only pulses have ends to be taught', () => {
  expect([isAnalogue(['PWM']), isAnalogue(['PWM', 'DShot300']), isAnalogue([])]).toEqual([true, false, false])
  expect(isNeeded(range, sheet)).toBe(true)
})

test('two speeds and KV x volts give both ends, whatever they are', () => {
  fc.assert(
    fc.property(
      fc.double({ min: -0.1, max: 0.12, noNaN: true }),
      fc.double({ min: 0.8, max: 1.2, noNaN: true }),
      (nought, full) => {
        const list = found([taught(), ...all({ nought, full })])
        expect(list.find((f) => f.key === 'nought1')?.value).toBeCloseTo(nought, 2)
        expect(list.find((f) => f.key === 'full1')?.value).toBeCloseTo(full, 1)
        expect(list.find((f) => f.key === 'full2')?.verdict).toBe('pass')
      },
    ),
    { numRuns: 25 },
  )
})

test('one that goes by a range of its own is named; all that are off at the top have other motors, or the sheet is wrong', () => {
  const list = found([taught(), ...all(sound, { nought: 0.12, full: 0.9 })])
  expect(fails(list)).toEqual(['nought2', 'full2'])
  expect(list.find((f) => f.key === 'nought2')?.remedy).toMatchObject({
    by: 'work',
    work: ['replace ESC', 'replace motor'],
    outputs: [2],
  })
  const others = found([taught(), ...all({ nought: 0, full: 1.3 }, { nought: 0, full: 1.3 })])
  expect(fails(others)).toEqual(['full1', 'full2'])
  expect(others.find((f) => f.key === 'full1')?.remedy).toMatchObject({ by: 'technician' })
})

test('what was not taught whole, and what the meter or the sheet does not say, proves nothing; a motor that is not felt is named', () => {
  expect(refused(found(all()))).toBe('the range was not taught')
  expect(refused(found([taught(4, 2, []), ...all()]))).toBe('the range was not taught')
  expect(refused(found([taught(1.5), ...all()]))).toBe('high was not sent for long enough')
  expect(refused(found([taught(4, 0.5), ...all()]))).toBe('low was not sent for long enough')
  expect(refused(found([taught(), ...all(sound, sound, 0.1)]))).toMatch(/meter read no battery/)
  expect(refused(found([taught(), ...all()], { rotor: undefined } as unknown as SheetPart))).toMatch(/KV/)
  const still = all().map((segment) =>
    segment.label === 'slow-2' ? { ...turned(2, 'slow', { nought: 0.19999, full: 1 }), label: 'slow-2' } : segment,
  )
  expect(found([taught(), ...still])).toMatchObject([{ key: 'turns2', verdict: 'fail', remedy: { outputs: [2] } }])
})

describe('the watch of the script', () => {
  const high = [1, 1]
  const low = [0, 0]
  /** Rows as [seconds, commands, battery]; the last answer. */
  const watched = (...rows: readonly [number, number[], boolean][]) => {
    const watching = new TeachWatch()
    return rows.map(([t, commands, battery]) => watching.push(t, commands, battery)).at(-1)
  }
  test('says what is sent: high, high with the battery in, low', () => {
    expect(watched([0, low, false], [0.1, high, false])).toEqual({ phase: 'high' })
    expect(watched([0, high, false], [5, high, true])).toEqual({ phase: 'upper' })
    expect(watched([0, high, false], [5, high, true], [8, low, true])).toEqual({ phase: 'lower' })
  })
  test.each<[RegExp, [number, number[], boolean][]]>([
    [/before high was sent/, [[0, low, true]]],
    [
      /high no longer/,
      [
        [0, high, false],
        [31, low, false],
      ],
    ],
    [
      /taken out/,
      [
        [0, high, false],
        [5, high, true],
        [6, high, false],
      ],
    ],
    [
      /too soon/,
      [
        [0, high, false],
        [5, high, true],
        [6, low, true],
      ],
    ],
    [
      /neither high nor low/,
      [
        [0, high, false],
        [5, high, true],
        [8, [0, 0.5], true],
      ],
    ],
    [
      /neither high nor low/,
      [
        [0, high, false],
        [5, high, true],
        [8, low, true],
        [9, high, true],
      ],
    ],
  ])('ends with words: %s', (words, rows) => {
    expect(watched(...rows)).toEqual({ wrong: expect.stringMatching(words) as string })
  })
  test('something that shakes ends it once the plug has settled', () => {
    const watching = new TeachWatch()
    watching.push(0, high, false)
    expect(watching.shaken(1, 9)).toBeNull()
    watching.push(5, high, true)
    expect([watching.shaken(5.5, 9), watching.shaken(7, 0.2)]).toEqual([null, null])
    expect(watching.shaken(7, 9)).toMatch(/motor turns/)
  })
})
