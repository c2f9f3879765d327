import type { EntryBody, TransmitterSetting } from '@taraf/contract'
import fc from 'fast-check'
import { flownWith } from './flownWith'
import { transmitterCardsOf, type OnCard } from './transmitterCards'
import { transmitterSettingsOf, transmitterWords } from './transmitterChange'

const linked = (transmitter: string, model: number): EntryBody => ({
  kind: 'take',
  check: 'radio.link',
  checkVersion: 1,
  began: 0,
  verdict: 'pass',
  findings: [
    { key: 'transmitter', value: transmitter, unit: '', verdict: 'shown' },
    { key: 'model', value: model, unit: '', verdict: 'shown' },
  ],
  evidenceSha256: null,
  bench: '',
  board: '',
})
const set = (transmitter: string, model: number, ...settings: TransmitterSetting[]): EntryBody => ({
  kind: 'change',
  change: { what: 'transmitter', words: 'set', transmitter, model, set: settings },
  cause: 'a remedy',
})
const travel = (to: number, channel = 4): TransmitterSetting => ({ channel, name: 'travelLow', from: null, to })
let clock = 0
const on = (tag: string, body: EntryBody): OnCard[] => {
  const named = flownWith(body)
  const at = new Date(++clock * 60_000).toISOString()
  return named === null ? [] : [{ tag, type: 'N4', job: `job ${tag}`, at, by: 'Ines', ...named }]
}

describe('the cards of transmitters', () => {
  test('one for each model memory; what was recorded last is what is set, whichever airframe it was recorded on', () => {
    const cards = transmitterCardsOf(
      [
        on('N4-1', linked('Hand-held 1', 7)),
        on('N4-1', set('Hand-held 1', 7, travel(88), travel(95, 3))),
        on('N4-2', linked('hand-held 1 ', 7)),
        on('N4-2', set('Hand-held 1', 7, travel(91))),
        on('N4-3', linked('Hand-held 1', 8)),
      ].flat(),
    )
    expect(cards.map(({ model, airframes }) => [model, airframes.map((a) => a.tag)])).toEqual([
      [7, ['N4-1', 'N4-2']],
      [8, ['N4-3']],
    ])
    expect(cards[0]?.set.map(({ channel, to, tag }) => [channel, to, tag])).toEqual([
      [3, 95, 'N4-1'],
      [4, 91, 'N4-2'],
    ])
  })

  test('an airframe that is flown with another one is on that card alone, and what names none is on none', () => {
    const cards = transmitterCardsOf(
      [
        on('N4-1', linked('Hand-held 1', 7)),
        on('N4-1', { kind: 'change', change: { what: 'transmitter', words: 'bound again' }, cause: 'a remedy' }),
        on('N4-1', linked('Hand-held 2', 7)),
      ].flat(),
    )
    expect(cards.map(({ transmitter, airframes }) => [transmitter, airframes.length])).toEqual([
      ['Hand-held 1', 0],
      ['Hand-held 2', 1],
    ])
  })

  test('any order of settings: the newest of each channel and name stands', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.integer({ min: 1, max: 4 }), fc.integer({ min: 50, max: 125 })), { minLength: 1 }),
        (all) => {
          const cards = transmitterCardsOf(all.flatMap(([channel, to]) => on('N4-1', set('T', 1, travel(to, channel)))))
          for (const { channel, to } of cards[0]?.set ?? []) expect(to).toBe(all.findLast(([c]) => c === channel)?.[1])
          expect(cards[0]?.set).toHaveLength(new Set(all.map(([c]) => c)).size)
        },
      ),
    )
  })
})

describe('what a remedy sets on a transmitter', () => {
  const now = { subTrim: 12, inverted: 1, travelLow: 90 } as Partial<Record<TransmitterSetting['name'], number>>
  test('from what it was to what it is to be', () => {
    const items = [
      { channel: 4, travelLow: 97.5 },
      { channel: 1, subTrimByUs: -8.4 },
      { channel: 2, invert: true },
      { channel: 5, mix: null },
      { channel: 3, stick: 'pitch' },
    ]
    const settings = transmitterSettingsOf(items, (_channel, name) => now[name] ?? null)
    expect(settings).toEqual([
      { channel: 4, name: 'travelLow', from: 90, to: 97.5 },
      { channel: 1, name: 'subTrim', from: 12, to: 4 },
      { channel: 2, name: 'inverted', from: 1, to: 0 },
      { channel: 5, name: 'mix', from: null, to: 0 },
      { channel: 3, name: 'stick', from: null, to: 2 },
    ])
    expect(transmitterWords(settings)).toBe(
      'channel 4 travel, low side 90 % to 97.5 %, channel 1 sub-trim 12 us to 4 us, channel 2 inverted yes to no, ' +
        'channel 5 mix not known to 0, channel 3 stick not known to pitch',
    )
  })
  test('what nobody knows starts from nought', () => {
    expect(transmitterSettingsOf([{ channel: 1, subTrimByUs: 5 }], () => null)).toEqual([
      { channel: 1, name: 'subTrim', from: null, to: 5 },
    ])
    expect(transmitterSettingsOf([{ channel: 2, invert: true }], () => null)[0]).toMatchObject({ from: null, to: 1 })
  })
})

test('many airframes are counted, and the ones that were on a bench last are listed', () => {
  const [card] = transmitterCardsOf(Array.from({ length: 200 }, (_, i) => on(`N4-${i}`, linked('T', 7))).flat())
  expect([card?.flies, card?.airframes.length, card?.airframes.at(-1)?.tag]).toEqual([200, 60, 'N4-199'])
})
