import type { Finding, Segment, Settings } from '@taraf/contract'
import { defineCheck, planOf, shown, want, type Check, type TakeSoFar, type Taking } from '@taraf/core'
import { actOn, type Rig } from '@taraf/rig'
import { drawnAt } from '../draw'
import { demoShop, rigOf, sheetOf } from '../rigs'
import { demoPlace } from '../world'
import { benchOf } from '../../tests/heardRig'
import { takeAtBench } from './takeAtBench'

/** A made-up check that only takes, so that every kind of want is seen to work on a rig before its first user comes. */
const taking = (
  take: (soFar: TakeSoFar) => Taking,
  evaluate: Check['evaluate'] = () => [shown('done', 'so', '')],
  more: Partial<Check> = {},
): Check =>
  defineCheck({
    id: 'made.up',
    version: 1,
    station: 'sensors',
    title: 'Made up',
    proves: 'The engine does what a check says.',
    needs: [],
    reads: { settings: [], parts: [], acts: [], image: false },
    appliesTo: () => true,
    stages: null,
    take,
    evaluate,
    ...more,
  })
const sheet = sheetOf('N4')
const rig = (spoil?: Parameters<typeof rigOf>[0]['spoil']): Rig => {
  const made = rigOf({ type: 'N4', board: 'FB-1', seed: 5, ...(spoil === undefined ? {} : { spoil }) }, demoShop(drawnAt))
  made.skip(5)
  return made
}
const given = { place: demoPlace, sheet }
const run = (of: Rig, take: Parameters<typeof taking>[0]) => takeAtBench(benchOf(of), taking(take), given)
const segmentOf = (taken: Awaited<ReturnType<typeof run>>, label: string) =>
  taken.evidence?.segments.find((s) => s.label === label) as Segment
const act = (of: Rig, ...acts: Parameters<typeof actOn>[1][]) => {
  for (const one of acts) expect(actOn(of, one)).toBeNull()
}
const span = (column: ArrayLike<number> = []) => Math.max(...Array.from(column)) - Math.min(...Array.from(column))

describe('each kind of want, on a rig', () => {
  test('keeps only the streams that were asked for, at the rates of their table', async () => {
    const taken = await run(rig(), function* () {
      yield* want.capture({ label: 'a', ask: 'Leave it.', seconds: 2, streams: ['power'] })
      yield* want.capture({ label: 'b', ask: 'Leave it.', seconds: 2, streams: ['attitude', 'outputs'] })
    })
    expect(Object.keys(segmentOf(taken, 'a').streams)).toEqual(['power'])
    // Rows come in blocks: what comes with the last one is kept.
    expect([40, 41, 42, 43]).toContain(segmentOf(taken, 'a').streams.power?.t.length)
    expect(Object.keys(segmentOf(taken, 'b').streams)).toEqual(['attitude', 'outputs'])
    expect([400, 401, 402, 403, 404]).toContain(segmentOf(taken, 'b').streams.outputs?.t.length)
  })

  test('a burst comes at 2 kHz or more, beside slower streams', async () => {
    const taken = await run(rig(), function* () {
      yield* want.capture({ label: 'burst', ask: 'Leave it.', seconds: 0.5, streams: ['imuBurst', 'imu'], stage: 'raw' })
    })
    const { imuBurst, imu } = segmentOf(taken, 'burst').streams
    const t = imuBurst?.t ?? []
    expect((t.length - 1) / ((t[t.length - 1] as number) - (t[0] as number))).toBeGreaterThanOrEqual(2000)
    expect(t.length).toBeGreaterThanOrEqual(1000)
    expect([101, 102, 103, 104]).toContain(imu?.t.length)
  })

  test('a control is found by what moved: its own channel, out and back as often as is wanted, and no other', async () => {
    const taken = await run(rig(), function* () {
      yield* want.control({
        label: 'roll-right',
        ask: 'Roll to the right, and let go.',
        seconds: 30,
        streams: ['radio'],
        leastUs: 100,
        times: 1,
        ends: 'back',
        heldS: 0.2,
      })
      yield* want.control({
        label: 'roll',
        ask: 'To one end, let go, to the other, let go, three times.',
        seconds: 60,
        streams: ['radio'],
        leastUs: 100,
        times: 6,
        ends: 'back',
        heldS: 0.4,
      })
    })
    const channel = sheet.settings['radio.roll.channel'] ?? 1
    for (const label of ['roll-right', 'roll']) {
      const radio = segmentOf(taken, label).streams.radio as Record<string, Float32Array>
      expect(span(radio[`ch${channel}`])).toBeGreaterThan(300)
      for (let c = 1; c <= 4; c++) if (c !== channel) expect(span(radio[`ch${c}`])).toBeLessThan(40)
    }
    const { t } = segmentOf(taken, 'roll').streams.radio as { t: ArrayLike<number> }
    expect((t[t.length - 1] as number) - (t[0] as number)).toBeLessThan(30)
  })

  test('outputs turn one at a time under one permit, each standing before the next; answers between, and again where they contradict', async () => {
    const of = rig()
    act(of, { act: 'props', on: false }, { act: 'nuts', on: false }, { act: 'battery', source: 'pack' })
    of.skip(2)
    const permits: string[] = []
    const grant = of.board.grant.bind(of.board)
    of.board.grant = (...args) => {
      permits.push(args[0])
      return grant(...args)
    }
    const state = { battery: true, props: 'off' } as const
    const turn = (output: number) =>
      want.turn({
        label: `output-${output}`,
        ask: 'Hold the control.',
        seconds: 1,
        runUpS: 1,
        outputs: [{ output, share: 0.1 }],
        streams: ['outputs', 'escs'],
        state,
        says: 'motor',
      })
    const seen: string[] = []
    const taken = await run(of, function* () {
      for (const output of [1, 2]) seen.push(...((yield* turn(output)).observations ?? []).flatMap((o) => o.position ?? []))
      yield* want.answers({ label: 'list', ask: 'Look.', questions: [] })
      // It is asked once more: the newest segment and the newest answer count.
      yield* turn(1)
    })
    expect(new Set(seen).size).toBe(2)
    expect(permits).toEqual(['spin'])
    expect(taken.evidence?.segments.map((s) => s.label)).toEqual(['output-1', 'output-2', 'list'])
    for (const output of [1, 2]) {
      const { outputs, escs } = segmentOf(taken, `output-${output}`).streams as Record<string, Record<string, Float32Array>>
      // Its run-up is told with the signs of life of the button: the last of them comes a moment after its end.
      expect(Math.min(...(outputs?.[`o${output}`] ?? []))).toBeGreaterThan(0.095)
      expect(Math.max(...(outputs?.[`o${output}`] ?? []))).toBeCloseTo(0.1, 6)
      expect(Math.max(...(outputs?.[`o${3 - output}`] ?? []))).toBe(0)
      expect(Math.max(...(escs?.[`rpm${3 - output}`] ?? []))).toBeLessThan(60)
    }
    expect(taken.evidence?.observations?.filter((o) => o.segment === 'output-1')).toHaveLength(2)
    expect(of.incidents).toEqual([])
    expect([of.turning, of.board.permits.current]).toEqual([false, null])
  })

  test('events are watched with their times until the one that is waited for', async () => {
    const of = rig()
    act(of, { act: 'transmitter', on: true })
    of.skip(2)
    const began = of.clock
    const step = of.step.bind(of)
    of.step = (stage) => {
      // By then the step has begun.
      if (of.clock - began > 6) of.receiver.blockedUntil = began + 60
      return step(stage)
    }
    const taken = await run(of, function* () {
      yield* want.watch({ label: 'loss', ask: 'Switch it off.', seconds: 20, streams: ['radio'], until: ['loss:act'] })
    })
    const phases = (segmentOf(taken, 'loss').events ?? []).filter((e) => e.what === 'loss')
    expect(phases.map((e) => e.phase)).toEqual(['notice', 'wait', 'act'].slice(-phases.length))
    expect(phases.at(-1)).toMatchObject({ what: 'loss', phase: 'act' })
    const radio = segmentOf(taken, 'loss').streams.radio
    expect(phases[0]?.t).toBeGreaterThan(radio?.t[radio.t.length - 1] ?? Infinity)
  })

  test('the board’s log tells afterwards what nobody could be told of', async () => {
    const of = rig()
    act(
      of,
      { act: 'props', on: false },
      { act: 'nuts', on: false },
      { act: 'battery', source: 'pack' },
      { act: 'transmitter', on: true },
    )
    of.skip(3)
    const taken = await run(of, function* () {
      yield* want.capture({ label: 'alone', ask: 'Cable out.', seconds: 1, streams: ['attitude'] })
      const before = of.board.log.read(0, 400).length
      of.board.log.add(of.board.boots, { t: of.clock, what: 'armed' })
      expect(of.board.log.read(0, 400)).toHaveLength(before + 1)
      yield* want.log({ label: 'log', ask: 'The log is read.', since: 'alone' })
    })
    expect(segmentOf(taken, 'log').events?.at(-1)).toMatchObject({ what: 'armed' })
  })

  test('ESC settings are read back over a power cycle: one that does not keep them is named', async () => {
    const kept: unknown[] = []
    const change = async (of: Rig) =>
      await run(of, function* () {
        yield* want.state({ label: 'battery', ask: 'Battery in, props off.', state: { battery: true, props: 'off' } })
        const { escs } = yield* want.escs({
          label: 'escs',
          ask: 'Written and read back.',
          outputs: [1, 2],
          settings: { brake: 1 },
        })
        kept.push(...(escs?.after ?? []).flatMap((e) => (e.output === 1 ? [e.settings] : [])))
      })
    expect((await change(rig())).verdict).toBe('pass')
    expect(kept).toEqual([expect.objectContaining({ brake: 1 })])
    const forgets = rig(
      ({ drives }) => void (drives[1] === null || drives[1] === undefined || (drives[1].esc.keepsSettings = false)),
    )
    const found = await change(forgets)
    expect(found.verdict).toBe('fail')
    expect(found.findings).toMatchObject([
      { key: 'done' },
      { key: 'write', verdict: 'fail', value: expect.stringMatching(/output 2, brake/) as unknown },
    ])
  })
})

describe('a take that writes', () => {
  const level: Finding = {
    key: 'roll',
    value: 2,
    unit: 'deg',
    verdict: 'fail',
    remedy: { by: 'settings', act: 'Write it.', settings: { 'level.roll': 2 } },
  }
  const proof = { kind: 'capture', label: 'proof', ask: 'Leave it.', seconds: 0.5, streams: ['imu'] } as const
  const writing = taking(
    function* () {
      yield* want.capture({ label: 'first', ask: 'Leave it.', seconds: 0.5, streams: ['imu'] })
      const { written } = yield* want.write({ label: 'write', ask: 'Written.', settings: { 'level.roll': 2 } })
      if (written?.differs.length === 0) yield proof
    },
    ({ written }) => (written === undefined ? [level] : [{ ...level, value: 0, verdict: 'pass' }]),
    { proof },
  )
  test('goes on to its proof with what was read back, and tells at once what it wrote', async () => {
    const of = rig()
    const told: Settings[] = []
    const taken = await takeAtBench(benchOf(of), writing, given, { wrote: ({ after }) => void told.push(after) })
    expect(taken.verdict).toBe('pass')
    expect(taken.evidence?.written?.['level.roll']).toBe(2)
    expect(taken.evidence?.segments.map((s) => s.label)).toEqual(['first', 'proof'])
    expect(told.map((s) => s['level.roll'])).toEqual([2])
  })
  test('fails with the names where the board kept something else, and proves nothing by it', async () => {
    const of = rig()
    of.board.settings.save = () => {}
    const taken = await takeAtBench(benchOf(of), writing, given)
    expect(taken.verdict).toBe('fail')
    expect(taken.findings.map((f) => f.key)).toEqual(['roll', 'write'])
    expect(taken.evidence?.written).toBeUndefined()
    expect(taken.evidence?.segments.map((s) => s.label)).toEqual(['first'])
  })
})

test('a plan is what a take wants where nothing goes wrong; one that never ends is cut', () => {
  const endless = taking(function* () {
    for (;;) yield* want.answers({ label: 'list', ask: 'Look.', questions: [] })
  })
  expect(planOf(endless, sheet)).toHaveLength(80)
})
