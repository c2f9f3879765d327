import type { Evidence, Finding, Geometry, Observation, Segment, Settings, SheetPart, WantOf } from '@taraf/contract'
import fc from 'fast-check'
import { positionsOf } from '../geometry'
import { planOf } from '../plan'
import { order } from './order'
import { orderFindings } from './orderFindings'
import { nameOf } from './solve'

const boom = (name: string, bearingDeg: number, motors: Geometry['booms'][number]['motors']) => ({
  name,
  bearingDeg,
  radiusM: 0.2,
  motors,
})
const body = { body: { lengthM: 0.2, widthM: 0.1 }, propDiameterM: 0.13 }
const single = (output: number, turn: 'clockwise' | 'anticlockwise') => [{ tier: 'only' as const, output, turn }]
const quad: Geometry = {
  ...body,
  booms: [
    boom('front right', 45, single(1, 'clockwise')),
    boom('rear right', 135, single(2, 'anticlockwise')),
    boom('rear left', 225, single(3, 'clockwise')),
    boom('front left', 315, single(4, 'anticlockwise')),
  ],
}
/** Three booms with a pair each: the upper one is told from the lower. */
const y6: Geometry = {
  ...body,
  booms: [60, 180, 300].map((bearing, i) =>
    boom(['front right', 'tail', 'front left'][i] ?? '', bearing, [
      { tier: 'upper', output: 2 * i + 1, turn: 'clockwise' },
      { tier: 'lower', output: 2 * i + 2, turn: 'anticlockwise' },
    ]),
  ),
}
const other = { clockwise: 'anticlockwise', anticlockwise: 'clockwise' } as const

/** As it is seen where `wired` says which position each output turns, some of them the other way. */
const seen = (geometry: Geometry, wired: readonly number[], reversed: readonly number[] = []): Observation[] =>
  wired.map((position, i) => {
    const at = positionsOf(geometry)[position - 1]
    if (at === undefined) throw new Error('no such position')
    return { segment: `output-${i + 1}`, position: nameOf(at), turn: reversed.includes(i + 1) ? other[at.turn] : at.turn }
  })
const found = (geometry: Geometry, observations: readonly Observation[], settings: Record<string, number> = {}): Finding[] =>
  orderFindings({ sheet: { geometry }, board: { settings }, segments: [], observations } as unknown as Evidence)
const fails = (list: readonly Finding[]) => list.filter((f) => f.verdict === 'fail').map((f) => f.key)
const by = (list: readonly Finding[], key: string) => list.find((f) => f.key === key)

test('as the sheet has it: all pass, coaxial pairs by upper and lower', () => {
  expect(fails(found(quad, seen(quad, [1, 2, 3, 4])))).toEqual([])
  const list = found(y6, seen(y6, [1, 2, 3, 4, 5, 6]))
  expect(fails(list)).toEqual([])
  expect(by(list, 'output4')?.value).toBe('tail lower')
})

test('two leads changed over: one map for both, by its settings', () => {
  const list = found(quad, seen(quad, [1, 3, 2, 4]))
  expect(fails(list)).toEqual(['output2', 'output3'])
  expect(by(list, 'output2')).toMatchObject({ value: 'rear left', limit: { equals: 'rear right' } })
  expect(by(list, 'output3')?.remedy).toEqual(by(list, 'output2')?.remedy)
  expect(by(list, 'output2')?.remedy).toMatchObject({ settings: { 'output.2.position': 3, 'output.3.position': 2 } })
  expect(by(list, 'output2')?.remedy?.act).toMatch(/1 exchange of two leads/)
  // A board that knows of it is right as it is.
  expect(fails(found(quad, seen(quad, [1, 3, 2, 4]), { 'output.2.position': 3, 'output.3.position': 2 }))).toEqual([])
})

test('motors that turn the other way: one remedy for all of them, in the ESC or by the leads, never both', () => {
  const list = found(quad, seen(quad, [1, 2, 3, 4], [2, 3]))
  expect(fails(list)).toEqual(['turn2', 'turn3'])
  expect(by(list, 'turn2')?.remedy).toMatchObject({ by: 'escs', escs: { outputs: [2, 3], toggle: 'reverse' } })
  expect(by(list, 'turn2')?.remedy?.act).toMatch(/never both/)
})

test('every one the other way: the mirrored convention or all reversed, neither done by itself', () => {
  const list = found(quad, seen(quad, [1, 2, 3, 4], [1, 2, 3, 4]))
  expect(fails(list)).toContain('mirrored')
  expect(by(list, 'mirrored')?.remedy).toMatchObject({
    by: 'either',
    either: [{ settings: { 'motors.mirrored': 1 } }, { escs: { outputs: [1, 2, 3, 4] } }],
  })
  expect(fails(found(quad, seen(quad, [1, 2, 3, 4], [1, 2, 3, 4]), { 'motors.mirrored': 1 }))).toEqual([])
  const back = found(quad, seen(quad, [1, 2, 3, 4]), { 'motors.mirrored': 1 })
  expect(by(back, 'mirrored')?.remedy).toMatchObject({ either: [{ settings: { 'motors.mirrored': 0 } }, {}] })
})

test.each<[string, Observation[], RegExp]>([
  ['a position twice', seen(quad, [1, 2, 2, 4]), /outputs 2 and 3 both turned rear right/],
  ['an output that nobody told of', seen(quad, [1, 2, 3]), /output 4/],
  [
    'a position that there is not',
    [...seen(quad, [1, 2, 3, 4]), { segment: 'output-1', position: 'tail', turn: 'clockwise' }],
    /output 1/,
  ],
])('%s proves nothing', (_what, observations, why) => {
  const [first] = found(quad, observations)
  expect(first?.verdict).toBe('refused')
  expect(String(first?.value)).toMatch(why)
})

test.each([
  ['in the ESC', 'technician', /Leave the leads as they are/],
  ['two leads swapped by hand', 'work', /Leave its ESC as it is/],
  ['the board is set to mirror all', 'settings', /motors.mirrored/],
  ['not now', 'either', /Every motor turns the other way/],
] as const)('of two ways to reverse, the one that was chosen excludes the other: %s', (answer, kind, act) => {
  const how: Observation = { segment: 'how', item: 'reverseBy', answer }
  const escs = (label: string, reverse: number): Segment => ({
    label,
    streams: {},
    reports: { escs: [1, 2, 3, 4].map((output) => ({ output, found: true, firmware: '1', settings: { reverse } })) },
  })
  const judge = (now: number) =>
    by(
      orderFindings({
        sheet: { geometry: quad },
        board: { settings: {} },
        segments: [escs('asked', 0), escs('reversed', now)],
        observations: [...seen(quad, [1, 2, 3, 4], [1, 2, 3, 4]), how],
      } as unknown as Evidence),
      'turn1',
    )?.remedy
  const remedy = judge(1)
  expect(remedy?.by).toBe(kind)
  // An ESC that was not told so after all is not said to be.
  if (kind === 'technician') expect(judge(0)?.by).toBe('either')
  expect(remedy?.act).toMatch(act)
})

describe('what the board says of its outputs', () => {
  const t = [0, 0.5, 1, 1.5, 2]
  const at = (label: string, shares: Readonly<Record<string, number>>): Segment => ({
    label,
    streams: {
      outputs: { t, command: t.map(() => 0), ...Object.fromEntries(Object.entries(shares).map(([o, v]) => [o, t.map(() => v)])) },
    },
  })
  const judged = (segments: Segment[], settings = {}, more: Observation[] = []) =>
    orderFindings({
      sheet: { geometry: quad },
      board: { settings },
      segments,
      observations: [...seen(quad, [1, 2, 3, 4]), ...more],
    } as unknown as Evidence)
  test('one that was not driven, or not alone, proves nothing', () => {
    expect(judged([at('output-2', { o1: 0, o2: 0.12, o3: 0, o4: 0 })])[0]?.verdict).toBe('pass')
    expect(judged([at('output-2', { o1: 0.12, o2: 0, o3: 0, o4: 0 })])[0]?.verdict).toBe('refused')
    expect(judged([at('output-2', { o1: 0.12, o2: 0.12, o3: 0, o4: 0 })])[0]?.verdict).toBe('refused')
  })
  test('one that stands where all are to turn is named', () => {
    const speeds = (third: number): Segment => ({
      label: 'together',
      streams: {
        escs: { t, ...Object.fromEntries([4000, 4000, third, 4000].map((rpm, i) => [`rpm${i + 1}`, t.map(() => rpm)])) },
      },
    })
    const of = (third: number) => by(judged([speeds(third)], { 'esc.replies': 1 }), 'together')
    expect(of(4000)?.verdict).toBe('pass')
    expect(of(0)).toMatchObject({ verdict: 'fail', value: 'output 3 stood' })
  })
  test('without replies it is asked whether all turned, and unanswered it proves nothing', () => {
    const [alone, together] = [{ 'esc.replies': 0 }, { label: 'together', streams: {} }]
    const of = (answer?: boolean) =>
      judged([together], alone, answer === undefined ? [] : [{ segment: 'all', item: 'together', answer }]).at(-1)
    expect(of(true)).toMatchObject({ key: 'together', verdict: 'pass' })
    expect(of(false)).toMatchObject({ key: 'together', verdict: 'fail' })
    expect(of()).toMatchObject({ verdict: 'refused', value: expect.stringMatching(/not answered/) as unknown })
    const asks = (settings: Settings) => planOf(order, { geometry: quad }, settings).some(({ label }) => label === 'all')
    expect([asks(alone), asks({ 'esc.replies': 1 })]).toEqual([true, false])
  })
})

test('an output of which nothing turned is named with its motor and ESC; said anew, that counts', () => {
  const [first, second, third, fourth] = seen(quad, [1, 2, 3, 4])
  const none = { segment: 'output-3', position: 'none', turn: 'none' } as const
  const list = found(quad, [first, second, none, fourth] as Observation[])
  expect(list).toMatchObject([
    { key: 'turns3', verdict: 'fail', remedy: { work: ['replace motor', 'replace ESC'], outputs: [3] } },
  ])
  expect(fails(found(quad, [first, second, none, third, fourth] as Observation[]))).toEqual([])
})

test('the last that was said of an output counts', () => {
  expect(
    fails(found(quad, [{ segment: 'output-1', position: 'rear left', turn: 'clockwise' }, ...seen(quad, [1, 2, 3, 4])])),
  ).toEqual([])
})

test('an output that the board drives beside the sheet is asked too', () => {
  const [first] = found(quad, seen(quad, [1, 2, 3, 4]), { 'output.7.position': 5 })
  expect(String(first?.value)).toMatch(/output 7/)
})

test('a take asks again for what contradicts, and for nothing else', () => {
  fc.assert(
    fc.property(fc.integer({ min: 0, max: 3 }), fc.integer({ min: 1, max: 3 }), (wrong, by) => {
      const sheet: SheetPart = { geometry: quad }
      const steps = order.take({ sheet, settings: {}, findings: () => [] })
      const asked: number[] = []
      const truth = seen(quad, [1, 2, 3, 4])
      const tap = (output: number): Observation => {
        const isFirst = asked.filter((o) => o === output).length === 1
        const at = isFirst && output === wrong + 1 ? truth[(wrong + by) % 4] : truth[output - 1]
        return { ...(at as Observation), segment: `output-${output}` }
      }
      let next = steps.next()
      while (next.done !== true) {
        const turn = next.value as WantOf<'turn'>
        if (!turn.label.startsWith('output-')) {
          next = steps.next({})
          continue
        }
        const output = turn.outputs[0]?.output ?? 0
        asked.push(output)
        next = steps.next({ observations: [tap(output)] })
      }
      expect(asked.slice(0, 4)).toEqual([1, 2, 3, 4])
      expect(asked.slice(4).sort()).toEqual([wrong + 1, ((wrong + by) % 4) + 1].sort())
    }),
  )
})
