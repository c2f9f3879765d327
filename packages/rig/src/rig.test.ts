import { degrees, radians, type Vec3 } from '@taraf/core/rotation'
import { mean, standardDeviation } from '@taraf/core'
import { arm, doAll, exact, longRange, readyToArm, rigFor, run } from '../tests/bench'
import type { Sample } from './rig'

const g = 9.81
const column = (samples: Sample[], of: (s: Sample) => number) => samples.map(of)

describe('the simulated airframe', () => {
  test('gives the same samples for the same seed and acts, others for another seed', () => {
    const trace = (seed: number) => {
      const r = rigFor({ seed })
      run(r, 1)
      doAll(r, { act: 'knock' })
      return run(r, 1).map((s) => s.force)
    }
    expect(trace(3)).toEqual(trace(3))
    expect(trace(3)).not.toEqual(trace(4))
  })

  test('at rest it reads gravity against down, its bias and its noise', () => {
    const bias = 1.2
    const r = rigFor({
      spoil: (a) => {
        exact(a)
        a.imu.gyroBias = [radians(bias), 0, 0]
      },
    })
    const samples = run(r, 10, 'raw')
    expect(mean(column(samples, (s) => s.force[2]))).toBeCloseTo(-g, 2)
    expect(degrees(mean(column(samples, (s) => s.rate[0])))).toBeCloseTo(bias, 1)
    expect(standardDeviation(column(samples, (s) => s.rate[0]))).toBeCloseTo(radians(0.07), 3)
  })

  test('turned by half a turn on the plate, the plate changes sign and the seating does not', () => {
    const r = rigFor({
      spoil: (a) => {
        exact(a)
        a.board.seating = { roll: 0.03, pitch: 0, yaw: 0 }
        a.shop.plate = { roll: 0.02, pitch: 0 }
      },
    })
    const rollOf = (samples: Sample[]) =>
      Math.atan2(-mean(column(samples, (s) => s.force[1])), -mean(column(samples, (s) => s.force[2])))
    const first = rollOf(run(r, 4))
    doAll(r, { act: 'lay', way: 'reversed' })
    run(r, 2)
    const second = rollOf(run(r, 4))
    expect((first + second) / 2).toBeCloseTo(0.03, 2)
    expect((first - second) / 2).toBeCloseTo(0.02, 2)
  })

  test('the turn rate while it is turned adds up to the turn, and the reported yaw follows', () => {
    const r = rigFor()
    const before = run(r, 1).at(-1)?.attitude.yaw ?? NaN
    doAll(r, { act: 'lay', way: 'reversed' })
    const moving = run(r, 2)
    const turned = column(moving, (s) => s.rate[2]).reduce((sum, w) => sum + w / 200, 0)
    expect(Math.abs(turned)).toBeCloseTo(Math.PI, 1)
    const after = moving.at(-1)?.attitude.yaw ?? NaN
    expect(Math.abs(Math.cos(after - before) + 1)).toBeLessThan(0.01)
  })

  test('held at a tilt it reports that tilt, and trembles', () => {
    const r = rigFor({ spoil: exact })
    doAll(r, { act: 'tilt', rollDeg: 30, pitchDeg: 0 })
    run(r, 4)
    const samples = run(r, 2)
    expect(degrees(mean(column(samples, (s) => s.attitude.roll)))).toBeCloseTo(30, 0)
    expect(standardDeviation(column(samples, (s) => s.rate[0]))).toBeGreaterThan(0.01)
  })

  test('a knock is felt and dies away', () => {
    const r = rigFor()
    run(r, 1)
    doAll(r, { act: 'knock' })
    const felt = run(r, 1)
    const size = (v: Vec3) => Math.abs(Math.hypot(...v) - g)
    expect(Math.max(...felt.map((s) => size(s.force)))).toBeGreaterThan(5)
    expect(Math.max(...run(r, 1).map((s) => size(s.force)))).toBeLessThan(0.5)
  })

  test('what a link asked for and did not wait for ends with it, and the next one is served', () => {
    const made = rigFor()
    const before = made.board.settings.get('gyro.biasX')
    expect([made.board.beginCalibration(), made.beginBurst(0.2)]).toEqual([true, true])
    expect([made.board.beginCalibration(), made.beginBurst(0.2)]).toEqual([false, false])
    made.linkClosed()
    run(made, 3)
    expect([made.board.calibrationResult(), made.takeBurst(), made.board.settings.get('gyro.biasX')]).toEqual([
      null,
      null,
      before,
    ])
    expect([made.board.beginCalibration(), made.beginBurst(0.2)]).toEqual([true, true])
  })

  test('a calibration takes the bias away; a moving airframe is refused and changes nothing', () => {
    const r = rigFor({ spoil: (a) => void (a.imu.gyroBias = [0.03, -0.02, 0.01]) })
    r.board.beginCalibration()
    run(r, 1)
    expect(r.board.calibrationResult()).toBeNull()
    run(r, 1)
    expect(r.board.calibrationResult()).toMatchObject({ 'gyro.biasX': expect.closeTo(degrees(0.03), 1) as number })
    expect(mean(column(run(r, 3), (s) => s.rate[0]))).toBeCloseTo(0, 2)
    doAll(r, { act: 'lay', way: 'reversed' })
    r.board.beginCalibration()
    run(r, 2)
    expect(r.board.calibrationResult()).toBe('moving')
  })

  test('a jump over rest ends where steps end: charge, heat and clock', () => {
    const [stepped, jumped] = [rigFor(), rigFor()]
    for (const r of [stepped, jumped]) doAll(r, { act: 'battery', source: 'pack' })
    for (let i = 0; i < 120 * 200; i++) stepped.step('body')
    jumped.skip(120)
    expect(jumped.clock).toBeCloseTo(stepped.clock, 1)
    expect(jumped.power.build.pack.charge).toBeCloseTo(stepped.power.build.pack.charge, 4)
    expect(jumped.power.videoC).toBeCloseTo(stepped.power.videoC, 2)
    expect(jumped.board.sensors.temperatureC).toBeCloseTo(stepped.board.sensors.temperatureC, 2)
  })

  test('a jump after a move leaves the attitude where steps leave it, the drift of its yaw too', () => {
    const [stepped, jumped] = [rigFor(), rigFor()]
    for (const r of [stepped, jumped]) doAll(r, { act: 'tilt', rollDeg: 20, pitchDeg: -5 }, { act: 'lay', way: 'forward' })
    run(stepped, 20)
    jumped.skip(20)
    const [a, b] = [run(stepped, 0.2).at(-1)?.attitude, run(jumped, 0.2).at(-1)?.attitude]
    for (const angle of ['roll', 'pitch', 'yaw'] as const)
      expect(Math.abs(degrees((a?.[angle] ?? NaN) - (b?.[angle] ?? NaN)))).toBeLessThan(0.1)
  })

  test('a compass reads the field turned into its axes, iron added, and shifts with the motors', () => {
    const r = rigFor({
      sheet: longRange,
      spoil: (a) => {
        exact(a)
        Object.assign(a.compass, {
          noise: 0,
          hardIron: [5, 0, 0],
          softIron: [
            [1, 0, 0],
            [0, 1, 0],
            [0, 0, 1],
          ],
          perAmp: [0, 2, 0],
        })
      },
    })
    expect(r.readings('mag')).toEqual([18 + 5, 0, 46])
    doAll(r, { act: 'tilt', rollDeg: 0, pitchDeg: 0, yawDeg: 90 })
    run(r, 2)
    expect(r.readings('mag')?.[1]).toBeCloseTo(-18, 1)
    doAll(r, { act: 'lay', way: 'forward' })
    run(r, 2)
    readyToArm(r)
    const still = r.readings('mag')?.[1] ?? NaN
    arm(r)
    run(r, 2)
    expect((r.readings('mag')?.[1] ?? NaN) - still).toBeCloseTo(2 * r.motorAmps, 3)
    expect(r.motorAmps).toBeGreaterThan(0.1)
  })
})

describe('its settings', () => {
  test('what was not saved is lost at the restart, what was saved is kept, and a clear that is saved takes all', () => {
    const r = rigFor()
    const { settings } = r.board
    expect(settings.write({ 'level.roll': 1.5 })).toBeNull()
    r.restart()
    expect(settings.get('level.roll')).toBe(0)
    settings.write({ 'level.roll': 1.5 })
    settings.save()
    const powerBefore = r.state().powerId
    r.restart()
    expect(settings.get('level.roll')).toBe(1.5)
    expect(r.state().powerId).not.toBe(powerBefore)
    settings.clear()
    expect(settings.get('level.roll')).toBe(0)
    r.restart()
    expect(settings.get('level.roll')).toBe(1.5)
    settings.clear()
    settings.save()
    expect(settings.list().every((s) => s.value === s.factory && s.saved === s.factory)).toBe(true)
  })

  test('an unknown name or a value out of range writes nothing at all', () => {
    const { settings } = rigFor().board
    expect(settings.write({ 'level.roll': 1, 'level.bank': 2 })).toBe('level.bank is unknown')
    expect(settings.write({ 'level.roll': 1, 'level.pitch': 40 })).toContain('outside -15 to 15 deg')
    expect(settings.write({ 'level.pitch': NaN })).toContain('outside')
    expect(settings.write({ 'loop.rate': 1.5 })).toContain('whole number')
    expect(settings.list().every((s) => s.value === s.saved)).toBe(true)
  })

  test('the level trim and both layers of the told mounting act on what the board reports', () => {
    const r = rigFor({
      spoil: (a) => {
        exact(a)
        a.board.seating = { roll: 0.05, pitch: 0, yaw: 0 }
        a.board.mounting = { roll: 0, pitch: 0, yaw: Math.PI / 2 }
        a.board.chip = { roll: 0, pitch: 0, yaw: Math.PI }
      },
    })
    r.board.settings.write({ 'board.yaw': 90, 'chip.yaw': 180, 'level.roll': degrees(0.05) })
    doAll(r, { act: 'tilt', rollDeg: 20, pitchDeg: 0 })
    run(r, 2)
    const samples = run(r, 4)
    expect(degrees(mean(column(samples, (s) => Math.atan2(-s.force[1], -s.force[2]))))).toBeCloseTo(20, 0)
    expect(mean(column(samples, (s) => s.force[0]))).toBeCloseTo(0, 1)
  })
})
