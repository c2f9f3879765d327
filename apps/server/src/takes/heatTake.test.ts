import { ArmedBench, arm, level, pause, throttle } from '../../tests/armedBench'
import { eventually, nowMs } from '../../tests/world'

jest.setTimeout(120_000)
let bench: ArmedBench
beforeAll(async () => {
  bench = await ArmedBench.make(['failsafe.motorCut'], { 'turning.most': { max: 14, reason: 'a small motor without its prop' } })
})
afterAll(() => bench.end())

const begin = () => bench.begin('failsafe.motorCut')

const armed = async () => {
  await bench.hands(level, throttle(-1), arm(0))
  await pause(600)
  await bench.hands(arm(1))
  await bench.step('down')
}

test('motors that turn for longer than the sheet allows are stopped, and cool before any turns again', async () => {
  await begin()
  await bench.step('arm-cut')
  await armed()
  await bench.hands(throttle(0.05))
  const since = nowMs()
  // A step begins that wants them to turn; they do for fourteen seconds, and come to rest within two more.
  await eventually(() => bench.rig.state().motors === 'still', 16_000)
  expect(nowMs() - since).toBeGreaterThan(12_000)
  await bench.stored()
  const { verdict, findings } = await bench.last()
  expect(verdict).toBe('refused')
  expect(findings[0]?.value).toBe('the motors have turned for 14 s without cooling')
  await begin()
  await bench.led(/Let them cool for \d s more/)
  expect(bench.now()?.want).toBeNull()
  await eventually(() => !/Let them cool/.test(bench.now()?.guide?.words ?? ''), 20_000)
  await bench.step('arm-cut')
  await armed()
  await bench.hands(throttle(0.05))
  await pause(1_000)
  await bench.hands(throttle(-1))
  await eventually(() => bench.now()?.want?.label === 'failsafe-done', 20_000)
  await bench.hands(throttle(-1), arm(0), { act: 'battery', source: 'none' })
  await bench.stored()
  expect((await bench.last()).verdict).toBe('pass')
})
