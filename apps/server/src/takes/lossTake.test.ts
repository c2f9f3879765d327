import { ArmedBench, arm, battery, pause, throttle, transmitter } from '../../tests/armedBench'
import { eventually } from '../../tests/world'

jest.setTimeout(240_000)
let bench: ArmedBench
beforeAll(async () => {
  bench = await ArmedBench.make(['failsafe.response'])
})
afterAll(() => bench.end())

const mode = (to: number) => ({ act: 'switch', name: 'B', to })
const lead = (isIn: boolean) => ({ act: 'receiver lead', in: isIn })

const armed = async (label: string, position: number) => {
  await bench.step(label)
  await bench.hands(throttle(-1), arm(0), mode(position))
  await pause(500)
  await bench.hands(arm(1))
}
const lost = async (label: string, to: number, gone: object, says: RegExp, back: object) => {
  await bench.step(label)
  await bench.hands(throttle(to))
  await pause(500)
  await bench.hands(gone)
  await bench.led(says)
  await pause(800)
  await bench.hands(back)
}
const toRate = async () => {
  await armed('arm-half-selfLevel', 0)
  await lost('half-selfLevel', 0.05, transmitter(false), /It acts/, transmitter(true))
  await armed('arm-half-rate', 2)
}

/** The signal gone in the second loss of a take, and the board acting. */
const toActing = async () => {
  await bench.begin('failsafe.response')
  await toRate()
  await bench.step('half-rate')
  await bench.hands(throttle(0.05))
  await pause(400)
  await bench.hands(lead(false))
  await bench.led(/It acts/)
}

describe('takes in which the signal goes', () => {
  test('every loss of the plan is led through, timed by the board, and passes on a sound airframe', async () => {
    await bench.begin('failsafe.response')
    await toRate()
    await lost('half-rate', 0.05, lead(false), /It acts/, lead(true))
    await armed('arm-idle', 0)
    await lost('idle', -1, transmitter(false), /It is disarmed/, transmitter(true))
    await lost('disarmed', 0.05, transmitter(false), /The board knows/, transmitter(true))
    await eventually(() => bench.now()?.want?.label === 'failsafe-done', 20_000)
    await bench.hands(throttle(-1), arm(0), battery('none'))
    await bench.stored()
    const { verdict, findings } = await bench.last()
    expect(findings.filter((f) => f.verdict !== 'pass' && f.verdict !== 'shown')).toEqual([])
    expect(verdict).toBe('pass')
    const of = (key: string) => findings.find((f) => f.key === key)?.value
    expect(of('half-selfLevel.command')).toBeCloseTo(-4, 0)
    expect(of('half-rate.mode')).toBe('self-level')
    expect(of('idle.end')).toBe('disarmed')
  })

  test('armed while the signal is gone: the battery pulled ends it with words, and nothing turns', async () => {
    await toActing()
    await bench.hands(battery('none'))
    await eventually(() => bench.now()?.phase === 'aborted' || bench.now()?.phase === 'stored', 20_000)
    await eventually(() => bench.rig.state().motors === 'still', 5_000)
    expect((await bench.last()).verdict).toBe('refused')
    await bench.hands(lead(true), throttle(-1), arm(0))
  })

  test('Stop all while it acts disarms it at once, whatever the signal', async () => {
    await toActing()
    await bench.ines.post(`/benches/${bench.world.benches.sound}/stop`, {})
    await eventually(() => bench.rig.state().motors !== 'armed', 1_000)
    await bench.hands(lead(true), throttle(-1), arm(0), battery('none'))
    await eventually(() => bench.rig.state().motors === 'still', 5_000)
  })

  test('the cable out while it is armed: the board disarms by itself, the take is refused, and the card goes on', async () => {
    await bench.begin('failsafe.response')
    await armed('arm-half-selfLevel', 0)
    await bench.step('half-selfLevel')
    await bench.hands(throttle(0.05))
    await pause(400)
    await bench.hands({ act: 'cable', in: false })
    await pause(300)
    expect([bench.rig.board.arming.armed, bench.rig.board.drives]).toEqual([false, false])
    await bench.hands({ act: 'cable', in: true }, throttle(-1), arm(0))
    await eventually(() => bench.now()?.phase === 'stored', 20_000)
    const { verdict, findings } = await bench.last()
    expect([verdict, findings[0]?.value]).toEqual(['refused', expect.stringMatching(/^the link was lost/)])
    await bench.linked()
    await bench.begin('failsafe.response')
    await armed('arm-half-selfLevel', 0)
    await bench.step('half-selfLevel')
    expect((await bench.ines.remove(`/jobs/${bench.job}/takes/running`)).status).toBe(200)
    await eventually(() => bench.rig.state().motors === 'still', 5_000)
    await bench.hands(throttle(-1), arm(0), battery('none'))
  })
})
