import { degrees, type Vec3 } from '@taraf/core/rotation'
import { mean, standardDeviation } from '@taraf/core'
import { demoRig } from './fleet'
import { sound, type RigFaults } from './faults'
import type { Rig, Sample } from './rig'

const g = 9.81
const rig = (faults: Partial<RigFaults> = {}, seed = 5) => demoRig('FB-1', faults, seed, g)
const run = (r: Rig, seconds: number, stage: 'raw' | 'calibrated' | 'body' = 'body'): Sample[] =>
  Array.from({ length: seconds * 200 }, () => r.step(stage))
const column = (samples: Sample[], of: (s: Sample) => number) => samples.map(of)

describe('the simulated airframe', () => {
  test('gives the same samples for the same seed and acts, others for another seed', () => {
    const trace = (seed: number) => {
      const r = rig({}, seed)
      run(r, 1)
      r.act({ act: 'knock' })
      return run(r, 1).map((s) => s.force)
    }
    expect(trace(3)).toEqual(trace(3))
    expect(trace(3)).not.toEqual(trace(4))
  })

  test('at rest it reads gravity against down, its bias and its noise', () => {
    const bias = 1.2
    const samples = run(
      rig({
        gyroBias: [(bias * Math.PI) / 180, 0, 0],
        seating: { roll: 0, pitch: 0, yaw: 0 },
        plate: { roll: 0, pitch: 0 },
        accelBias: [0, 0, 0],
        accelScale: [1, 1, 1],
      }),
      10,
      'raw',
    )
    expect(mean(column(samples, (s) => s.force[2]))).toBeCloseTo(-g, 2)
    expect(degrees(mean(column(samples, (s) => s.rate[0])))).toBeCloseTo(bias, 1)
    expect(standardDeviation(column(samples, (s) => s.rate[0]))).toBeCloseTo(sound.gyroNoise[0], 3)
  })

  test('turned by half a turn on the plate, the plate changes sign and the seating does not', () => {
    const r = rig({ seating: { roll: 0.03, pitch: 0, yaw: 0 }, plate: { roll: 0.02, pitch: 0 }, accelBias: [0, 0, 0] })
    const rollOf = (samples: Sample[]) =>
      Math.atan2(-mean(column(samples, (s) => s.force[1])), -mean(column(samples, (s) => s.force[2])))
    const first = rollOf(run(r, 4))
    r.act({ act: 'lay', way: 'reversed' })
    run(r, 2)
    const second = rollOf(run(r, 4))
    expect((first + second) / 2).toBeCloseTo(0.03, 2)
    expect((first - second) / 2).toBeCloseTo(0.02, 2)
    expect(r.hands()).toMatchObject({ held: 'plate', way: 'reversed', moving: false })
  })

  test('the turn rate while it is turned adds up to the turn, and the reported yaw follows', () => {
    const r = rig()
    const before = run(r, 1).at(-1)?.attitude.yaw ?? NaN
    r.act({ act: 'lay', way: 'reversed' })
    const moving = run(r, 2)
    const turned = column(moving, (s) => s.rate[2]).reduce((sum, w) => sum + w / 200, 0)
    expect(Math.abs(turned)).toBeCloseTo(Math.PI, 1)
    const after = moving.at(-1)?.attitude.yaw ?? NaN
    expect(Math.abs(Math.cos(after - before) + 1)).toBeLessThan(0.01)
  })

  test('held at a tilt it reports that tilt, and trembles', () => {
    const r = rig({ seating: { roll: 0, pitch: 0, yaw: 0 }, plate: { roll: 0, pitch: 0 } })
    r.act({ act: 'tilt', rollDeg: 30, pitchDeg: 0 })
    run(r, 4)
    const samples = run(r, 2)
    expect(degrees(mean(column(samples, (s) => s.attitude.roll)))).toBeCloseTo(30, 0)
    expect(standardDeviation(column(samples, (s) => s.rate[0]))).toBeGreaterThan(0.01)
  })

  test('a knock is felt and dies away', () => {
    const r = rig()
    run(r, 1)
    r.act({ act: 'knock' })
    const felt = run(r, 1)
    const size = (v: Vec3) => Math.abs(Math.hypot(...v) - g)
    expect(Math.max(...felt.map((s) => size(s.force)))).toBeGreaterThan(5)
    expect(Math.max(...run(r, 1).map((s) => size(s.force)))).toBeLessThan(0.5)
  })

  test('loose screws shake until they are tightened', () => {
    const r = rig({ looseScrews: [0, 0.02, 0] })
    expect(standardDeviation(column(run(r, 3), (s) => s.rate[1]))).toBeGreaterThan(0.018)
    r.act({ act: 'fasten' })
    expect(standardDeviation(column(run(r, 3), (s) => s.rate[1]))).toBeLessThan(0.003)
  })

  test('a calibration takes the bias away; a moving airframe is refused and changes nothing', () => {
    const r = rig({ gyroBias: [0.03, -0.02, 0.01] })
    r.calibrate()
    run(r, 1)
    expect(r.calibrationResult()).toBeNull()
    run(r, 1)
    expect(r.calibrationResult()).toMatchObject({ 'gyro.biasX': expect.closeTo(degrees(0.03), 1) as number })
    expect(mean(column(run(r, 3), (s) => s.rate[0]))).toBeCloseTo(0, 2)
    r.act({ act: 'lay', way: 'reversed' })
    r.calibrate()
    run(r, 2)
    expect(r.calibrationResult()).toBe('moving')
  })
})

describe('its settings', () => {
  test('what was not saved is lost at the restart, what was saved is kept', () => {
    const r = rig()
    expect(r.write({ 'level.roll': 1.5 })).toBeNull()
    r.restart()
    expect(r.settings.get('level.roll')).toBe(0)
    r.write({ 'level.roll': 1.5 })
    r.save()
    const powerBefore = r.state().powerId
    r.restart()
    expect(r.settings.get('level.roll')).toBe(1.5)
    expect(r.state().powerId).not.toBe(powerBefore)
  })

  test('an unknown name or a value out of range writes nothing at all', () => {
    const r = rig()
    expect(r.write({ 'level.roll': 1, 'level.bank': 2 })).toBe('level.bank is unknown')
    expect(r.write({ 'level.roll': 1, 'level.pitch': 40 })).toContain('outside -15 to 15 deg')
    expect(r.write({ 'level.pitch': NaN })).toContain('outside')
    expect(r.list().every((s) => s.value === s.saved)).toBe(true)
  })

  test('the level trim and the told mounting act on what the board reports', () => {
    const r = rig({
      seating: { roll: 0.05, pitch: 0, yaw: 0 },
      mounting: { roll: 0, pitch: 0, yaw: Math.PI / 2 },
      plate: { roll: 0, pitch: 0 },
      accelBias: [0, 0, 0],
    })
    r.write({ 'board.yaw': 90, 'level.roll': degrees(0.05) })
    const samples = run(r, 4)
    expect(mean(column(samples, (s) => s.force[1]))).toBeCloseTo(0, 1)
    expect(mean(column(samples, (s) => s.force[0]))).toBeCloseTo(0, 1)
  })
})
