import type { Evidence } from '@taraf/contract'
import { whyUnarmed } from './unarmed'

const settings = { 'switch.failsafe.channel': 8, 'switch.failsafe.low': 1700, 'switch.failsafe.high': 2100 }
const t = [0, 0.02, 0.04]
const document = (events: readonly object[], us = [1000, 1000, 1000]): Evidence =>
  ({
    format: 'taraf-evidence/1',
    check: 'arming.idle',
    sheet: {},
    board: { settings },
    segments: [{ label: 'arm', streams: { radio: { t, ch8: us, quality: t.map(() => 1) } }, events }],
  }) as unknown as Evidence
const refusing = (...reasons: string[]) => ({ t: 0.03, what: 'refusing', reasons })
const said = (evidence: Evidence, label = 'arm') => whyUnarmed(evidence, label, 'At idle')?.[0]

test('armed, there is nothing to say', () => {
  expect(said(document([{ t: 0.03, what: 'armed' }]))).toBeUndefined()
})
test('not tried, and not armed', () => {
  expect(said(document([]), 'other')?.value).toBe('At idle: it was not tried to its end')
  expect(said(document([]))?.value).toBe('At idle: it was not armed')
})
test('what it refuses for is said, and what mends that', () => {
  expect(said(document([refusing('tilt')]))).toMatchObject({ value: 'the board refused to arm: tilt', verdict: 'refused' })
  expect(said(document([refusing('not calibrated')]))?.remedy).toMatchObject({ by: 'calibration', calibrate: 'gyro' })
})
test('a switch of failsafe that was left on is named, whatever the board makes of it; one that is off again is not', () => {
  const refused = refusing('switch on at power-up')
  expect(said(document([refused], [1900, 1900, 1900]))).toMatchObject({
    value: 'the switch of failsafe was on',
    remedy: { act: expect.stringMatching(/switch of failsafe off/) },
  })
  expect(said(document([refused], [1900, 1900, 1000]))?.value).toMatch(/refused to arm/)
})
