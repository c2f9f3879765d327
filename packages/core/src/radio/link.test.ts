import type { Evidence, Finding, Segment, Settings, SheetPart } from '@taraf/contract'
import { evaluate } from '../evaluate'
import { framesSegment, plainSettings, through } from '../../tests/radio'
import { link } from './link'
import { channelWords } from './strength'
import { silentRemedy } from './silent'

const sheet: SheetPart = { settings: { 'radio.kind': 2 } }
const settings: Settings = { ...plainSettings, 'radio.kind': 2, 'radio.strengthChannel': 9 }
const answers = [
  { segment: 'told', item: 'flownWith', answer: 'Hand-held 1' },
  { segment: 'told', item: 'model', answer: 7 },
]

/** A segment in which the quality wanders and channel 9 tells it, its clock from `t0` on. */
const heard = (label: string, t0: number, follows = 9): Segment => {
  const { streams } = framesSegment(
    label,
    { 1: through([0, 1500]), 9: through([0, 1000]), 10: through([0, 1000]) },
    { seconds: 2.5 },
  )
  const radio = streams.radio as unknown as Record<string, Float64Array>
  const quality = Float64Array.from(radio.t ?? [], (_, i) => 0.95 + 0.03 * Math.sin(i / 7))
  return {
    label,
    streams: {
      radio: {
        ...radio,
        t: Float64Array.from(radio.t ?? [], (t) => t + t0),
        quality,
        [`ch${follows}`]: quality.map((q) => 1000 + 1000 * q),
      } as never,
    },
  }
}
const sound = (): Segment[] => [
  heard('heard', 100),
  { label: 'transmitter-off', streams: {}, events: [{ t: 103.2, what: 'loss', phase: 'wait' }] },
  heard('transmitter-on', 110),
  {
    label: 'power-off',
    streams: {},
    events: [
      { t: 115, what: 'link', link: 'lost' },
      { t: 118, what: 'link', link: 'up' },
    ],
  },
  heard('power-on', 1),
]
const judged = (segments: Segment[], change: Partial<Evidence> = {}) =>
  evaluate(link, {
    format: 'taraf-evidence/1',
    check: 'radio.link',
    sheet,
    board: { settings },
    segments,
    observations: answers,
    ...change,
  } as Evidence)
const wrong = (findings: readonly Finding[]) =>
  findings.filter((f) => f.verdict === 'fail' || f.verdict === 'refused').map((f) => [f.key, f.value])
const replaced = (label: string, segment: Segment) => sound().map((s) => (s.label === label ? segment : s))

const still = (segment: Segment): Segment =>
  segment.streams.radio === undefined
    ? segment
    : { ...segment, streams: { radio: { ...segment.streams.radio, quality: segment.streams.radio.t.map(() => 0.97) } as never } }

test('both ends off and on again, each seen: it passes, with the transmitter and its model shown', () => {
  const { verdict, findings } = judged(sound())
  expect(wrong(findings)).toEqual([])
  expect(verdict).toBe('pass')
  expect(findings.find((f) => f.key === 'strengthChannel')?.value).toBe('channel 9, the 5th after the sticks')
  expect(findings.find((f) => f.key === 'transmitter')?.value).toBe('Hand-held 1')
})

describe('what was not done as it is asked proves nothing', () => {
  test.each<[string, Segment[], RegExp]>([
    ['the transmitter stayed on', replaced('transmitter-off', heard('transmitter-off', 103)), /was not switched off/],
    ['the cable stayed in', replaced('power-off', { label: 'power-off', streams: {}, events: [] }), /cable stayed in/],
    ['the battery stayed in: the board ran on', replaced('power-on', heard('power-on', 130)), /board stayed on/],
    ['a step is missing', sound().filter((s) => s.label !== 'power-on'), /"power-on" is missing/],
    ['a strength that never changes', sound().map((s) => still(s)), /strength did not change/],
  ])('%s', (_what, segments, why) => {
    const { verdict, findings } = judged(segments)
    expect(verdict).toBe('refused')
    expect(String(findings.find((f) => f.verdict === 'refused')?.value)).toMatch(why)
  })
})
test('what is wrong fails, each with what mends it', () => {
  const silent: Segment = { label: 'transmitter-off', streams: {}, events: [] }
  expect(wrong(judged(replaced('transmitter-off', silent)).findings)).toEqual([['transmitterOff', 'the board did not say so']])
  const deaf: Segment = { label: 'power-on', streams: {} }
  const lost = judged(replaced('power-on', deaf)).findings.find((f) => f.key === 'powerOn')
  expect(lost).toMatchObject({ verdict: 'fail', remedy: { work: ['choose model', 'bind receiver', 'replace receiver'] } })
  const shifted = sound().map((s) => (s.streams.radio === undefined ? s : heard(s.label, s.streams.radio.t[0] as number, 10)))
  const other = judged(shifted).findings.find((f) => f.key === 'strengthChannel')
  expect(other).toMatchObject({ verdict: 'fail', remedy: { by: 'settings', settings: { 'radio.strengthChannel': 10 } } })
  // The sheet wants it where the board has it: then the receiver is what is set otherwise.
  const told = judged(shifted, { sheet: { settings: { 'radio.kind': 2, 'radio.strengthChannel': 9 } } })
  expect(told.findings.find((f) => f.key === 'strengthChannel')?.remedy?.act).toMatch(/^Set the receiver/)
  expect(wrong(judged(sound(), { board: { settings: { ...settings, 'radio.kind': 1 } } }).findings)).toEqual([['kind', 'kind 1']])
})

test('telemetry is judged where it is wanted: on the board, and seen at the transmitter', () => {
  const wanted = { sheet: { settings: { 'radio.kind': 2, 'telemetry.use': 1 } } }
  expect(wrong(judged(sound(), wanted).findings)).toEqual([
    ['telemetryOn', 'off'],
    ['telemetrySeen', 'not seen'],
  ])
  const on = { board: { settings: { ...settings, 'telemetry.use': 1 } } }
  const unseen = judged(sound(), { ...wanted, ...on }).findings.find((f) => f.key === 'telemetrySeen')
  expect(unseen).toMatchObject({ remedy: { work: ['fit telemetry wire'] } })
  const seen = [...answers, { segment: 'told', item: 'telemetry', answer: true }]
  expect(wrong(judged(sound(), { ...wanted, ...on, observations: seen }).findings)).toEqual([])
})

test('a channel is said both ways, and one among the sticks by its number alone', () => {
  expect([5, 6, 7, 8, 14, 15].map((n) => channelWords(n))).toEqual([
    'channel 5, the 1st after the sticks',
    'channel 6, the 2nd after the sticks',
    'channel 7, the 3rd after the sticks',
    'channel 8, the 4th after the sticks',
    'channel 14, the 10th after the sticks',
    'channel 15, the 11th after the sticks',
  ])
  expect([channelWords(3), channelWords(0)]).toEqual(['channel 3', 'no channel'])
})

test('a receiver without power is not bound, replaced or looked for', () => {
  expect(silentRemedy({}, 'no power', null)).toMatchObject({ by: 'technician' })
})
