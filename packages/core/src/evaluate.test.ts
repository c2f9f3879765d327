import { imuOf } from '../tests/samples'
import { evaluateDocument } from './evaluate'

const good = () =>
  ({ format: 'taraf-evidence/1', check: 'sensors.gyroRest', segments: [{ label: 'rest', streams: { imu: imuOf() } }] }) as Record<
    string,
    unknown
  >
const imu = () => ({ ...imuOf({ seconds: 0.05 }) }) as Record<string, unknown>
const withImu = (change: (stream: Record<string, unknown>) => void) => {
  const stream = imu()
  change(stream)
  return JSON.stringify({ ...good(), segments: [{ label: 'rest', streams: { imu: stream } }] })
}
const errorOf = (text: string) => {
  const result = evaluateDocument('take.json', text)
  return 'error' in result ? result.error : 'no error'
}

describe('evaluateDocument', () => {
  test('gives the findings of a good document; a sheet and a board may be left out', () => {
    expect(evaluateDocument('take.json', JSON.stringify(good()))).toMatchObject({
      format: 'taraf-findings/1',
      check: 'sensors.gyroRest',
      version: 2,
      verdict: 'pass',
    })
  })
  test.each([
    ['cut short', JSON.stringify(good()).slice(0, 500), 'take.json: not a whole JSON document'],
    ['NaN', withImu(() => {}).replace('"gx":[', '"gx":[NaN,'), 'not a whole JSON document'],
    ['a column missing', withImu((s) => delete s.gy), 'segments[0].streams.imu.gy'],
    ['a column too short', withImu((s) => (s.gz as number[]).pop()), 'segments[0].streams.imu.gz: has 10 samples where t has 11'],
    [
      'null for a sample',
      withImu((s) => ((s.ax as unknown[])[3] = null)),
      'segments[0].streams.imu.ax[3]: a sample must be a finite number',
    ],
    ['time running backwards', withImu((s) => ((s.t as number[])[4] = -1)), 'segments[0].streams.imu.t[4]: time must rise'],
    ['an unknown stage', withImu((s) => (s.stage = 'warm')), 'segments[0].streams.imu.stage'],
    ['an unknown check', JSON.stringify({ ...good(), check: 'motors.hum' }), 'check: expected one of intake.identity'],
    ['another format', JSON.stringify({ ...good(), format: 'taraf-evidence/9' }), 'format'],
    ['an unknown key', JSON.stringify({ ...good(), verdict: 'pass' }), 'verdict'],
    ['no segments', JSON.stringify({ ...good(), segments: [] }), 'segments'],
    ['a bad place', JSON.stringify({ ...good(), place: { lat: 200 } }), 'place.lat'],
  ])('%s: says where and what was expected', (_name, text, where) => expect(errorOf(text)).toContain(where))
})
