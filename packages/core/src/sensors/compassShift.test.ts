import type { Evidence, Finding } from '@taraf/contract'
import { evaluate } from '../evaluate'
import type { Vec3 } from '../rotation'
import { normalOf, uniformFrom } from '../../tests/poses'
import { compassShift } from './compassShift'
import { workOf } from '../../tests/remedies'

const still: Vec3 = [12, -7, 40]
/** A compass that is shifted by so much for each ampere, read still and turning. */
const taken = (perAmp: Vec3, amps: number, change: Partial<Evidence> = {}): Evidence => {
  const uniform = uniformFrom(5)
  const part = (label: string, drawn: number) => {
    const t = Array.from({ length: 150 }, (_, i) => i * 0.02)
    const axis = (i: 0 | 1 | 2) => t.map(() => still[i] + perAmp[i] * (drawn - 0.4) + 0.3 * normalOf(uniform))
    return {
      label,
      streams: {
        mag: { t, mx: axis(0), my: axis(1), mz: axis(2) },
        power: { t, volts: t.map(() => 16), amps: t.map(() => drawn), mah: t.map(() => 0) },
      },
    }
  }
  return {
    format: 'taraf-evidence/1',
    check: compassShift.id,
    sheet: {},
    board: {},
    segments: [part('still', 0.4), part('turning', 0.4 + amps)],
    ...change,
  }
}
const judge = (document: Evidence) => {
  const { verdict, findings } = evaluate(compassShift, document)
  const value = (key: string): Finding['value'] | undefined => findings.find((f) => f.key === key)?.value
  return { verdict, findings, value }
}

test('the shift of one ampere is found within what the noise allows, and carried on to what the hover draws', () => {
  const found = judge(taken([0.6, 0, 0.8], 2, { sheet: { hoverAmps: 10 } }))
  // Two means of 150 samples of 0.3 uT, over 2 A: 0.017 uT/A.
  expect(Math.abs(Number(found.value('perAmp')) - 1)).toBeLessThan(0.06)
  expect(Number(found.value('shift'))).toBeCloseTo((100 * 10) / Math.hypot(...still), 0)
  expect(found.verdict).toBe('fail')
  expect(workOf(found.findings.find((f) => f.key === 'shift'))).toEqual(['replace compass'])
})

test('where the sheet does not say what the hover draws, what was drawn decides', () => {
  const found = judge(taken([0.6, 0, 0.8], 2))
  expect(found.verdict).toBe('pass')
  expect(Number(found.value('shift'))).toBeCloseTo((100 * 2) / Math.hypot(...still), 0)
})

test('hard iron does not dilute it: the field is the corrected one', () => {
  const settings = { 'compass.hardX': 12, 'compass.hardY': -7, 'compass.hardZ': 20 }
  const found = judge(taken([0, 0, 1], 2, { sheet: { hoverAmps: 5 }, board: { settings } }))
  expect(Number(found.value('shift'))).toBeCloseTo(25, 0)
})

test('an airframe that was moved meanwhile proves nothing, and one that lay still is judged whichever way its field goes', () => {
  const sheet = { hoverAmps: 10 }
  const turned = (v: Vec3, deg: number): Vec3 => {
    const [c, s] = [Math.cos((deg * Math.PI) / 180), Math.sin((deg * Math.PI) / 180)]
    return [c * v[0] + s * v[1], c * v[1] - s * v[0], v[2]]
  }
  const aside = turned(still, 4)
  const perAmp: Vec3 = [(aside[0] - still[0]) / 2, (aside[1] - still[1]) / 2, 0]
  const whole = taken(perAmp, 2, { sheet })
  const after = (from: number) => ({ ...(whole.segments[from] as Evidence['segments'][0]), label: 'after' })
  // It comes back: the current did it. It stays: it was turned. Where nobody looked again, it cannot be told.
  expect(judge({ ...whole, segments: [...whole.segments, after(0)] }).verdict).toBe('fail')
  expect(judge({ ...whole, segments: [...whole.segments, after(1)] }).value('refused')).toContain('the airframe was moved')
  expect(judge(whole).value('refused')).toContain('cannot be told from the airframe being moved')
})

test('a field that does not stay as it was within a segment proves nothing', () => {
  const whole = taken([0, 0, 0], 2)
  const mag = whole.segments[1]?.streams.mag
  Object.assign(mag ?? {}, { mx: Array.from(mag?.mx ?? [], (v, i) => v + i / 60) })
  expect(judge(whole).value('refused')).toContain('did not stay as it was')
})

test('motors that drew nothing prove nothing, nor does a stream that is missing or short', () => {
  expect(judge(taken([0, 0, 0], 0.1)).value('refused')).toContain('drew only 0.10 A')
  const whole = taken([0, 0, 0], 2)
  const without = whole.segments.map((s) => (s.label === 'turning' ? { ...s, streams: { mag: s.streams.mag } } : s))
  expect(judge({ ...whole, segments: without as Evidence['segments'] }).value('refused')).toContain(
    'power: the stream is missing',
  )
  expect(judge({ ...whole, segments: whole.segments.slice(0, 1) }).verdict).toBe('refused')
})
