import fc from 'fast-check'
import type { HandAct } from '@taraf/contract'
import { arm, doAll, permit, readyToArm, rigFor, run } from '../../tests/bench'
import { stepS, type Rig } from '../rig'

const commanded = (rig: Rig) => rig.board.commands.some((c) => c > 0)
const spin = (rig: Rig, token: string) => rig.board.turn(token, { 1: 0.15 })

/** Holds a spin for a while, renewing it every 50 ms as the held control does. */
const hold = (rig: Rig, token: string, seconds: number) => {
  for (let t = 0; t < seconds; t += 0.05) {
    spin(rig, token)
    run(rig, 0.05)
  }
}

describe('permits', () => {
  const turning = () => {
    const rig = rigFor()
    doAll(rig, { act: 'battery', source: 'pack' })
    const token = permit(rig, 'spin')
    hold(rig, token, 0.6)
    expect(rig.drives[0]?.rpm).toBeGreaterThan(500)
    return { rig, token }
  }

  test('a spin turns its output while it is held, and nothing else', () => {
    const { rig } = turning()
    expect(rig.drives.slice(1, 4).map((d) => d?.speed)).toEqual([0, 0, 0])
    expect(rig.state()).toMatchObject({ motors: 'turning', permit: 'spin' })
    expect(rig.incidents).toEqual([])
  })

  test.each<[string, (rig: Rig, token: string) => void]>([
    ['it is no longer renewed', () => {}],
    ['the token is a foreign one', (rig) => void spin(rig, 'another')],
    ['Stop all', (rig) => rig.board.stop('stop all')],
    ['the link closes', (rig) => rig.board.linkClosed()],
    ['the battery is taken off', (rig) => doAll(rig, { act: 'battery', source: 'none' })],
    ['another battery is connected', (rig) => doAll(rig, { act: 'battery', source: 'supply' })],
    ['the cable is pulled', (rig) => doAll(rig, { act: 'cable', in: false })],
    ['the board restarts', (rig) => void rig.restart()],
  ])('commanded zero within 300 ms of the last renewal when %s', (_how, lose) => {
    const { rig, token } = turning()
    spin(rig, token)
    lose(rig, token)
    let zeroAfter = 0
    while (commanded(rig) && zeroAfter < 1) {
      run(rig, stepS)
      zeroAfter += stepS
    }
    expect(zeroAfter).toBeLessThanOrEqual(0.205)
    expect(rig.board.permits.current).toBeNull()
    expect(spin(rig, token)).toBe('token')
    run(rig, 0.1)
    expect(commanded(rig)).toBe(false)
  })

  test('another request while one is held is refused and changes nothing', () => {
    const { rig, token } = turning()
    const { powerId } = rig.state()
    expect(rig.board.grant('armed-bench', 'off', powerId, rig.power)).toEqual({ refused: 'held' })
    expect(spin(rig, token)).toBeNull()
    run(rig, 0.05)
    expect(commanded(rig)).toBe(true)
  })

  test('it is bound to one battery connection, to props as it wants them, and to a battery', () => {
    const rig = rigFor()
    const grant = (kind: 'spin' | 'flight' | 'teach', props: 'off' | 'on', powerId = rig.state().powerId) =>
      rig.board.grant(kind, props, powerId, rig.power)
    expect(grant('spin', 'off')).toEqual({ refused: 'no-battery' })
    const before = rig.state().powerId
    doAll(rig, { act: 'battery', source: 'pack' })
    expect(rig.state().powerId).not.toBe(before)
    expect(grant('spin', 'off', before)).toEqual({ refused: 'power-changed' })
    expect(grant('spin', 'on')).toEqual({ refused: 'props' })
    expect(grant('flight', 'off')).toEqual({ refused: 'props' })
    expect(grant('teach', 'off')).toEqual({ refused: 'signal' })
    expect(grant('spin', 'off')).toHaveProperty('token')
  })

  test('a foreign token takes an armed permit away too: it disarms, and nothing turns on', () => {
    const rig = rigFor()
    readyToArm(rig)
    permit(rig, 'armed-bench')
    doAll(rig, { act: 'switch', name: 'A', to: 1 })
    run(rig, 0.3)
    expect([rig.state().motors, commanded(rig)]).toEqual(['armed', true])
    expect(spin(rig, 'another')).toBe('token')
    run(rig, 0.3)
    expect(rig.state().motors).not.toBe('armed')
    expect([commanded(rig), rig.board.permits.current]).toEqual([false, null])
  })

  test('every turn with props on outside flight is an incident, whatever was confirmed', () => {
    const rig = rigFor()
    doAll(rig, { act: 'props', on: true }, { act: 'battery', source: 'pack' })
    hold(rig, permit(rig, 'spin'), 0.5)
    expect(rig.incidents).toEqual([expect.objectContaining({ output: 1, permit: 'spin' })])
  })

  test('teaching goes high, waits for the battery, goes low and ends, and nothing turns', () => {
    const rig = rigFor({ spoil: (_a, settings) => void (settings['esc.signal'] = 0) })
    const esc = rig.drives[0]?.build.esc
    if (esc) esc.range = { low: 0.2, high: 0.7 }
    permit(rig, 'teach')
    run(rig, 0.5)
    expect(rig.board.commands[0]).toBe(1)
    doAll(rig, { act: 'battery', source: 'pack' })
    let fastest = 0
    for (let t = 0; t < 7; t += stepS) {
      run(rig, stepS)
      fastest = Math.max(fastest, ...rig.drives.map((d) => d?.speed ?? 0))
    }
    expect(fastest).toBe(0)
    expect(rig.drives[0]?.build.esc.range).toEqual({ low: 0, high: 1 })
    expect(rig.board.permits.current).toBeNull()
  })

  test('an ESC that counts would take high for what it says: it is not taught', () => {
    const rig = rigFor()
    expect(rig.board.grant('teach', 'off', rig.state().powerId, rig.power)).toEqual({ refused: 'signal' })
    doAll(rig, { act: 'battery', source: 'pack' })
    run(rig, 1)
    expect(rig.drives.every((drive) => (drive?.speed ?? 0) === 0)).toBe(true)
  })

  test('teaching an ESC whose battery is on would turn it: the permit is not given', () => {
    const rig = rigFor({ spoil: (_a, settings) => void (settings['esc.signal'] = 0) })
    doAll(rig, { act: 'battery', source: 'pack' })
    expect(rig.board.grant('teach', 'off', rig.state().powerId, rig.power)).toEqual({ refused: 'no-battery' })
  })
})

// Every message and every hand that could lead to a turn, in any order.
type Deed =
  | { deed: 'hand'; act: HandAct }
  | { deed: 'grant'; kind: 'spin' | 'armed-bench' | 'teach' | 'flight'; props: 'off' | 'on'; rightId: boolean }
  | { deed: 'spin'; own: boolean; share: number }
  | { deed: 'stop' | 'restart' | 'link closed' }
  | { deed: 'setting'; name: string; value: number }
  | { deed: 'pass'; seconds: number }
  | { deed: 'hold'; share: number }

const hand = (...acts: HandAct[]): fc.Arbitrary<Deed> => fc.constantFrom(...acts).map((act) => ({ deed: 'hand', act }))
const deed: fc.Arbitrary<Deed> = fc.oneof(
  hand(
    { act: 'battery', source: 'pack' },
    { act: 'battery', source: 'none' },
    { act: 'battery', source: 'supply' },
    { act: 'cable', in: false },
    { act: 'cable', in: true },
    { act: 'transmitter', on: true },
    { act: 'transmitter', on: false },
    { act: 'switch', name: 'A', to: 1 },
    { act: 'switch', name: 'A', to: 0 },
    { act: 'switch', name: 'D', to: 1 },
    { act: 'stick', stick: 'throttle', to: 1 },
    { act: 'stick', stick: 'throttle', to: -1 },
    { act: 'stick', stick: 'yaw', to: 1 },
    { act: 'props', on: true },
    { act: 'props', on: false },
  ),
  fc.record({
    deed: fc.constant('grant' as const),
    kind: fc.constantFrom('spin' as const, 'armed-bench' as const, 'teach' as const, 'flight' as const),
    props: fc.constantFrom('off' as const, 'on' as const),
    rightId: fc.constantFrom(true, true, true, false),
  }),
  fc.record({ deed: fc.constant('spin' as const), own: fc.boolean(), share: fc.double({ min: 0, max: 1, noNaN: true }) }),
  fc.constantFrom<Deed>({ deed: 'stop' }, { deed: 'restart' }, { deed: 'link closed' }),
  fc
    .constantFrom(['arm.way', 1], ['arm.wantsCalibration', 0], ['esc.signal', 0], ['switch.arm.low', 900], ['motors.idle', 0.2])
    .map(([name, value]): Deed => ({ deed: 'setting', name: name as string, value: value as number })),
  fc.constantFrom(0.1, 0.3).map((share): Deed => ({ deed: 'hold', share })),
  fc.constantFrom(0.02, 0.1, 0.25, 1).map((seconds): Deed => ({ deed: 'pass', seconds })),
)

test('no sequence of messages and hands turns a motor without its permit; props on outside flight is always an incident', () => {
  let turns = 0
  fc.assert(
    fc.property(fc.boolean(), fc.array(deed, { minLength: 5, maxLength: 60 }), (ready, deeds) => {
      const rig = rigFor()
      if (ready) readyToArm(rig)
      let token = ''
      const ask = (kind: 'spin' | 'armed-bench' | 'teach' | 'flight', props: 'off' | 'on', rightId: boolean) => {
        const found = rig.board.grant(kind, props, rightId ? rig.state().powerId : 'x', rig.power)
        if ('token' in found) token = found.token
      }
      const look = (seconds: number) => {
        for (let t = 0; t < seconds; t += stepS) {
          const still = rig.drives.map((d) => (d?.speed ?? 0) <= 1)
          const incidents = rig.incidents.length
          run(rig, stepS)
          const held = rig.board.permits.current
          if (commanded(rig)) {
            expect(held).not.toBeNull()
            // A teaching permit begins before the battery whose connection it waits for.
            if (held?.kind !== 'teach') expect(held?.powerId).toBe(rig.state().powerId)
          }
          const started = rig.drives.flatMap((d, i) => (d !== null && still[i] === true && d.speed > 1 ? [i] : []))
          turns += started.length
          const withProps = started.filter((i) => rig.airframe.frame.props[rig.drives[i]?.build.position ?? 0] !== 'none')
          if (held?.kind !== 'flight') expect(rig.incidents.length - incidents).toBe(withProps.length)
        }
      }
      for (const what of deeds) {
        if (what.deed === 'hand') doQuietly(rig, what.act)
        else if (what.deed === 'grant') ask(what.kind, what.props, what.rightId)
        else if (what.deed === 'spin') rig.board.turn(what.own ? token : 'x', { 1: what.share, 3: what.share })
        else if (what.deed === 'setting') rig.board.settings.write({ [what.name]: what.value })
        else if (what.deed === 'pass') look(what.seconds)
        else if (what.deed === 'hold') {
          ask('spin', 'off', true)
          for (let i = 0; i < 8; i++) {
            rig.board.turn(token, { 2: what.share })
            look(0.05)
          }
        } else if (what.deed === 'stop') rig.board.stop('stop all')
        else if (what.deed === 'restart') rig.restart()
        else rig.board.linkClosed()
        look(0.01)
      }
    }),
    { numRuns: 60 },
  )
  // The draw reaches what it is about.
  expect(turns).toBeGreaterThan(20)
})

test('armed, a board disarms at once as its link goes, but where it was to be tried on its battery alone', () => {
  const armedUnder = (kind: 'armed-bench' | 'armed-alone') => {
    const rig = rigFor()
    readyToArm(rig)
    permit(rig, kind)
    doAll(rig, { act: 'switch', name: 'A', to: 1 })
    run(rig, 0.5)
    expect(rig.board.arming.armed).toBe(true)
    doAll(rig, { act: 'cable', in: false })
    run(rig, 0.05)
    return [rig.board.arming.armed, rig.board.drives, rig.board.permits.current?.kind ?? null]
  }
  expect(armedUnder('armed-bench')).toEqual([false, false, null])
  expect(armedUnder('armed-alone')).toEqual([true, true, 'armed-alone'])
})

const doQuietly = (rig: Rig, act: HandAct) => {
  try {
    doAll(rig, act)
  } catch {
    // What cannot be done now is not done.
  }
}

test('an armed permit lives on battery alone, and ends with the battery', () => {
  const rig = rigFor()
  readyToArm(rig)
  permit(rig, 'armed-alone')
  doAll(rig, { act: 'cable', in: false }, { act: 'switch', name: 'A', to: 1 })
  run(rig, 0.5)
  expect(rig.state().motors).toBe('armed')
  doAll(rig, { act: 'battery', source: 'none' })
  run(rig, 0.1)
  expect(rig.board.arming.armed).toBe(false)
  expect(commanded(rig)).toBe(false)
})

test('an arm that is asked for again after Stop all needs a new permit', () => {
  const rig = rigFor()
  readyToArm(rig)
  arm(rig)
  expect(rig.state().motors).toBe('armed')
  rig.board.stop('stop all')
  run(rig, 0.1)
  expect(commanded(rig)).toBe(false)
  doAll(rig, { act: 'switch', name: 'A', to: 0 })
  run(rig, 0.1)
  doAll(rig, { act: 'switch', name: 'A', to: 1 })
  run(rig, 0.5)
  expect(rig.state()).toMatchObject({ refusing: ['permit'], permit: null })
})
