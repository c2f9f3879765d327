import { rigFor } from '../tests/bench'
import { actOn, handsOf } from './hands'
import type { Rig } from './rig'

const steps = (rig: Rig, seconds: number) => {
  for (let i = 0; i < seconds * 200; i++) rig.step('body')
}
const meter = (rig: Rig) => {
  const [volts = NaN, amps = NaN, rail = NaN] = rig.readings('meter') ?? []
  return { volts, amps, rail }
}
const onPack = (rig: Rig, limiter = true) => {
  expect(actOn(rig, { act: 'limiter', in: limiter })).toBeNull()
  expect(actOn(rig, { act: 'battery', source: 'pack' })).toBeNull()
  steps(rig, 0.2)
  return meter(rig)
}

describe('the bench’s meter', () => {
  test('reads nothing before the battery, then what the frame draws at rest, and the rail', () => {
    const rig = rigFor()
    steps(rig, 0.1)
    expect(meter(rig)).toMatchObject({ volts: 0, amps: 0 })
    expect(meter(rig).rail).toBeGreaterThan(4.9)
    const { volts, amps, rail } = onPack(rig)
    expect(volts).toBeGreaterThan(14)
    expect(amps).toBeGreaterThan(0.2)
    expect(amps).toBeLessThan(0.6)
    expect(rail).toBeGreaterThan(4.9)
  })
  test('behind the limiter a short draws what the limiter lets through, and the volts fall away', () => {
    const rig = rigFor()
    rig.airframe.power.short = true
    expect(onPack(rig)).toMatchObject({ amps: 1.5 })
    expect(meter(rig).volts).toBeLessThan(1)
    actOn(rig, { act: 'battery', source: 'none' })
    expect(actOn(rig, { act: 'clear short' }) ?? null).toBeNull()
    expect(onPack(rig).amps).toBeLessThan(0.6)
  })
  test('is not the board’s own sensor: that one is off by its scale', () => {
    const rig = rigFor()
    rig.board.settings.write({ 'power.voltScale': rig.board.settings.get('power.voltScale') * 1.1 })
    const { volts } = onPack(rig)
    expect((rig.readings('power') ?? [])[0]).toBeGreaterThan(volts * 1.05)
  })
  test('the limiter is put in line with the battery off alone', () => {
    const rig = rigFor()
    onPack(rig)
    expect(actOn(rig, { act: 'limiter', in: false })).toBe('Take the battery off first.')
  })
})

describe('a regulator of a bad lot', () => {
  test('is right when cold, sags as it warms, and is as new once it is replaced', () => {
    const rig = rigFor()
    rig.airframe.power.railSagWarm = 0.6
    const cold = onPack(rig).rail
    steps(rig, 125)
    expect(cold - meter(rig).rail).toBeGreaterThan(0.5)
    actOn(rig, { act: 'battery', source: 'none' })
    expect(actOn(rig, { act: 'replace', part: 'regulator' }) ?? null).toBeNull()
    const fresh = onPack(rig).rail
    steps(rig, 125)
    expect(fresh - meter(rig).rail).toBeLessThan(0.1)
  })
})

describe('what a close look shows', () => {
  test('bells that rub by their position, an antenna that is missing, leads past the board, versions', () => {
    const rig = rigFor()
    const { eye } = handsOf(rig)
    expect(eye).toMatchObject({ rubbing: [], pastBoard: [], versions: { receiver: '2.4' } })
    const drive = rig.airframe.drives.find((d) => d !== null)
    if (drive) drive.motor.rub = 0.015
    rig.airframe.fitOut.pastBoard.push({ channel: 9, what: 'lamp' })
    rig.airframe.fitOut.versions.receiver = '2.1'
    const now = handsOf(rig).eye
    expect(now.rubbing).toHaveLength(1)
    expect(handsOf(rig).motors.map((m) => m.position)).toContain(now.rubbing[0])
    expect(now.pastBoard).toEqual([{ channel: 9, what: 'lamp' }])
    expect(now.versions.receiver).toBe('2.1')
  })
  test('a part is brought to its newest version; one without firmware is not', () => {
    const rig = rigFor()
    rig.airframe.fitOut.versions.receiver = '2.1'
    expect(actOn(rig, { act: 'update part', part: 'receiver' })).toBeNull()
    expect(handsOf(rig).eye.versions.receiver).toBe('2.4')
    expect(actOn(rig, { act: 'update part', part: 'propeller' })).toBe('That part has no firmware.')
  })
})
