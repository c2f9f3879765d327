import { degrees } from '@taraf/core/rotation'
import { arm, doAll, permit, longRange, readyToArm, rigFor, run } from '../../tests/bench'
import type { Rig } from '../rig'

const armed = (rig: Rig) => rig.state().motors === 'armed'
const events = (rig: Rig) => rig.board.log.read(0, 400).map((e) => e.what)
const phases = (rig: Rig) =>
  rig.board.log.read(0, 400).flatMap((e) => (e.what === 'phase' ? [{ phase: String(e.detail?.phase), t: e.t }] : []))
const armOn = (rig: Rig) => {
  doAll(rig, { act: 'switch', name: 'A', to: 1 })
  run(rig, 0.1)
}

describe('arming', () => {
  const ready = (order: Parameters<typeof rigFor>[0] = {}) => {
    const rig = rigFor(order)
    readyToArm(rig)
    permit(rig, 'armed-bench')
    return rig
  }

  test('by its switch, and the motors turn at idle, each as fast as its neighbours', () => {
    const rig = ready()
    armOn(rig)
    expect(armed(rig)).toBe(true)
    run(rig, 2)
    const speeds = rig.drives.slice(0, 4).map((d) => d?.rpm ?? 0)
    expect(Math.min(...speeds)).toBeGreaterThan(1000)
    expect(Math.max(...speeds) / Math.min(...speeds)).toBeLessThan(1.06)
    doAll(rig, { act: 'switch', name: 'A', to: 0 })
    run(rig, 0.05)
    expect(armed(rig)).toBe(false)
    expect(rig.board.commands.every((c) => c === 0)).toBe(true)
    run(rig, 4)
    expect(rig.state().motors).toBe('still')
  })

  test('by the sticks, where the sheet says so, and off by the other corner', () => {
    const rig = ready({ spoil: (_a, s) => void (s['arm.way'] = 1) })
    doAll(rig, { act: 'stick', stick: 'yaw', to: 1 })
    run(rig, 0.5)
    expect(armed(rig)).toBe(false)
    run(rig, 0.6)
    expect(armed(rig)).toBe(true)
    doAll(rig, { act: 'stick', stick: 'yaw', to: 0 })
    run(rig, 0.5)
    expect(armed(rig)).toBe(true)
    doAll(rig, { act: 'stick', stick: 'yaw', to: -1 })
    run(rig, 1.2)
    expect(armed(rig)).toBe(false)
  })

  test.each<[string, string, (rig: Rig) => void]>([
    ['throttle above its gate', 'throttle', (rig) => doAll(rig, { act: 'stick', stick: 'throttle', to: -0.5 })],
    ['a tilt beyond the limit', 'tilt', (rig) => doAll(rig, { act: 'tilt', rollDeg: 40, pitchDeg: 0 })],
    ['no radio', 'no radio', (rig) => doAll(rig, { act: 'transmitter', on: false })],
    ['a board that nobody calibrated', 'not calibrated', (rig) => void rig.board.settings.write({ 'accel.biasX': 0 })],
    ['a low battery', 'low battery', (rig) => void (rig.airframe.power.pack.charge = 0.005)],
    ['no battery', 'no battery', (rig) => doAll(rig, { act: 'battery', source: 'none' })],
    ['a fix that is wanted and not there', 'no fix', (rig) => void rig.board.settings.write({ 'arm.wantsFix': 1 })],
    ['a dead sensor', 'sensor', (rig) => void (rig.airframe.imu.dead = true)],
    ['a calibration that runs', 'busy', (rig) => void rig.board.beginCalibration()],
  ])('is refused for %s', (_why, reason, spoil) => {
    const rig = ready()
    spoil(rig)
    run(rig, reason === 'busy' ? 0.2 : 3)
    armOn(rig)
    expect(armed(rig)).toBe(false)
    expect(rig.board.reasons).toContain(reason)
    expect(rig.drives.every((d) => (d?.speed ?? 0) < 1)).toBe(true)
  })

  test('is refused with the switch on at power-up, until it was off once', () => {
    const rig = rigFor()
    doAll(rig, { act: 'switch', name: 'A', to: 1 })
    readyToArm(rig)
    permit(rig, 'armed-bench')
    run(rig, 0.5)
    expect(rig.board.reasons).toContain('switch on at power-up')
    expect(events(rig)).toContain('refusing')
    doAll(rig, { act: 'switch', name: 'A', to: 0 })
    run(rig, 0.1)
    armOn(rig)
    expect(armed(rig)).toBe(true)
  })

  test('a switch that was put on while something refused must be put on again', () => {
    const rig = ready()
    doAll(rig, { act: 'stick', stick: 'throttle', to: -0.5 })
    run(rig, 0.1)
    armOn(rig)
    doAll(rig, { act: 'stick', stick: 'throttle', to: -1 })
    run(rig, 0.5)
    expect(armed(rig)).toBe(false)
  })

  test('it disarms by itself after its idle time', () => {
    const rig = ready()
    armOn(rig)
    run(rig, 9.5)
    expect(armed(rig)).toBe(true)
    run(rig, 1)
    expect(armed(rig)).toBe(false)
  })

  test.each([
    ['right side down', { rollDeg: 12, pitchDeg: 0 }, [1, 2]],
    ['left side down', { rollDeg: -12, pitchDeg: 0 }, [3, 4]],
    ['nose up', { rollDeg: 0, pitchDeg: 12 }, [2, 3]],
    ['nose down', { rollDeg: 0, pitchDeg: -12 }, [1, 4]],
  ])('tilted %s in self-level, the low side pushes harder', (_how, tilt, low) => {
    const rig = ready()
    armOn(rig)
    doAll(rig, { act: 'stick', stick: 'throttle', to: -0.6 }, { act: 'tilt', ...tilt })
    run(rig, 2)
    const pushes = rig.board.commands.slice(0, 4)
    const of = (outputs: number[]) => outputs.map((o) => pushes[o - 1] ?? NaN)
    expect(Math.min(...of(low))).toBeGreaterThan(Math.max(...of([1, 2, 3, 4].filter((o) => !low.includes(o)))) + 0.02)
  })
})

describe('loss of signal', () => {
  const flying = (order: Parameters<typeof rigFor>[0] = {}) => {
    const rig = rigFor(order)
    readyToArm(rig)
    arm(rig)
    doAll(rig, { act: 'stick', stick: 'throttle', to: 0.2 })
    run(rig, 0.5)
    return rig
  }

  test('goes through its phases in their times, and disarms', () => {
    const rig = flying()
    doAll(rig, { act: 'transmitter', on: false })
    const off = rig.clock
    run(rig, 0.8)
    expect(rig.state()).toMatchObject({ lossPhase: 'wait', radio: 'lost', motors: 'armed' })
    run(rig, 1)
    expect(rig.state()).toMatchObject({ lossPhase: 'act', mode: 'selfLevel' })
    expect(rig.board.collective).toBeCloseTo(0.35, 6)
    run(rig, 9)
    expect(armed(rig)).toBe(false)
    const after = Object.fromEntries(phases(rig).map(({ phase, t }) => [phase, t - off]))
    expect(after.notice).toBeLessThan(0.2)
    expect(after.wait).toBeCloseTo(0.3, 1)
    expect(after.act).toBeCloseTo(1.0, 1)
    expect(after.end).toBeCloseTo(9.0, 1)
  })

  test('signal that is back gives control within its time, with no jump and no motor that starts by itself', () => {
    const rig = flying()
    doAll(rig, { act: 'block signal', seconds: 1.5 })
    run(rig, 1.5)
    expect(rig.state().lossPhase).toBe('act')
    run(rig, 0.6)
    expect(rig.state()).toMatchObject({ lossPhase: 'none', motors: 'armed', radio: 'heard' })
    doAll(rig, { act: 'block signal', seconds: 15 })
    run(rig, 14)
    expect(armed(rig)).toBe(false)
    run(rig, 3)
    expect(rig.state().lossPhase).toBe('none')
    expect(armed(rig)).toBe(false)
    expect(rig.board.commands.every((c) => c === 0)).toBe(true)
  })

  test('what holds a height moves its command slowly from where it was', () => {
    const rig = flying({
      sheet: longRange,
      spoil: (a, s) => {
        a.shop.outdoors = true
        Object.assign(a.fix, { secondsToFix: 1 })
        Object.assign(s, { 'switch.returnHome.channel': 7, 'switch.returnHome.low': 1700, 'switch.returnHome.high': 2100 })
      },
    })
    const command = () => rig.board.collective
    doAll(rig, { act: 'stick', stick: 'throttle', to: -0.6 })
    run(rig, 0.2)
    const before = command()
    doAll(rig, { act: 'switch', name: 'C', to: 1 })
    run(rig, 0.1)
    expect(rig.state().mode).toBe('returnHome')
    expect(command() - before).toBeLessThan(0.06)
    run(rig, 1)
    // In time it has what it wants.
    expect(command()).toBeGreaterThan(before + 0.15)
  })

  test('a receiver that repeats its last values hides the loss from the board', () => {
    const rig = flying({ faults: ['failsafe.lastValues'] })
    doAll(rig, { act: 'transmitter', on: false })
    run(rig, 5)
    expect(rig.state()).toMatchObject({ lossPhase: 'none', radio: 'heard', motors: 'armed' })
    expect(rig.receiver.hears).toBe(false)
  })

  test('a drop-out shorter than the notice changes nothing', () => {
    const rig = flying()
    const before = phases(rig).length
    doAll(rig, { act: 'block signal', seconds: 0.08 })
    run(rig, 1)
    expect(phases(rig).length).toBe(before)
  })

  test('by switch it acts at once, and ends when the switch is put back', () => {
    const rig = flying()
    doAll(rig, { act: 'switch', name: 'D', to: 1 })
    run(rig, 0.2)
    expect(rig.state().lossPhase).toBe('act')
    doAll(rig, { act: 'switch', name: 'D', to: 0 })
    run(rig, 1)
    expect(rig.state()).toMatchObject({ lossPhase: 'none', motors: 'armed' })
  })

  test('the motors stop where the act is to cut', () => {
    const rig = flying({ faults: ['failsafe.cuts'] })
    doAll(rig, { act: 'transmitter', on: false })
    run(rig, 1.3)
    expect(armed(rig)).toBe(false)
  })
})

describe('a hop', () => {
  const hop = (order: Parameters<typeof rigFor>[0] = {}) => {
    const rig = rigFor(order)
    readyToArm(rig)
    doAll(rig, { act: 'props', on: true }, { act: 'put out' })
    run(rig, 1)
    permit(rig, 'flight', 'on')
    armOn(rig)
    return rig
  }
  /** Throttle that keeps a height, as a pilot does it. */
  const keep = (rig: Rig, heightM: number, seconds: number) => {
    for (let t = 0; t < seconds; t += 0.05) {
      const error = heightM - rig.motion.heightM
      const share = rig.board.settings.get('rotor.hover') + 0.12 * error + 0.12 * rig.motion.velocity[2]
      doAll(rig, { act: 'stick', stick: 'throttle', to: Math.max(-0.9, Math.min(0.9, (1060 + share * 880 - 1500) / 450)) })
      run(rig, 0.05)
    }
  }

  test('it lifts off, holds itself level, and lands; no turn is an incident', () => {
    const rig = hop()
    expect(armed(rig)).toBe(true)
    keep(rig, 1.5, 6)
    expect(rig.motion.heightM).toBeGreaterThan(0.7)
    expect(rig.motion.heightM).toBeLessThan(2.5)
    expect(Math.abs(degrees(rig.motion.angles.roll))).toBeLessThan(4)
    expect(Math.abs(degrees(rig.motion.angles.pitch))).toBeLessThan(4)
    expect(rig.incidents).toEqual([])
    doAll(rig, { act: 'stick', stick: 'throttle', to: -0.45 })
    run(rig, 8)
    expect(rig.motion.heightM).toBeLessThan(0.05)
  })

  test('sticks steer it: roll right goes east, stick forward goes north', () => {
    const rig = hop()
    keep(rig, 2, 3)
    doAll(rig, { act: 'stick', stick: 'roll', to: 0.3 })
    keep(rig, 2, 1.2)
    expect(rig.motion.velocity[1]).toBeGreaterThan(0.5)
    doAll(rig, { act: 'stick', stick: 'roll', to: 0 }, { act: 'stick', stick: 'pitch', to: 0.3 })
    keep(rig, 2, 1.2)
    expect(rig.motion.velocity[0]).toBeGreaterThan(0.5)
  })

  test('yaw right turns the nose right', () => {
    const rig = hop()
    keep(rig, 2, 3)
    doAll(rig, { act: 'stick', stick: 'yaw', to: 0.3 })
    keep(rig, 2, 0.3)
    expect(rig.motion.rate[2]).toBeGreaterThan(0.2)
  })

  test('two motors exchanged turn it over on the ground', () => {
    const rig = hop({ faults: ['motors.swapped'] })
    doAll(rig, { act: 'stick', stick: 'throttle', to: 0 })
    run(rig, 2)
    expect(Math.max(Math.abs(degrees(rig.motion.angles.roll)), Math.abs(degrees(rig.motion.angles.pitch)))).toBeGreaterThan(20)
  })

  test('loss of signal brings it down, level', () => {
    const rig = hop()
    keep(rig, 2, 4)
    doAll(rig, { act: 'transmitter', on: false })
    let steepest = 0
    for (let i = 0; i < 2400; i++) {
      run(rig, 0.005)
      if (rig.motion.heightM > 0.3) steepest = Math.max(steepest, Math.abs(degrees(rig.motion.angles.roll)))
    }
    expect(rig.motion.heightM).toBeLessThan(0.1)
    expect(steepest).toBeLessThan(8)
    expect(armed(rig)).toBe(false)
  })

  test('it returns home by itself where it has a fix', () => {
    const rig = hop({
      sheet: longRange,
      spoil: (a, s) => {
        a.shop.outdoors = true
        Object.assign(a.fix, { secondsToFix: 1 })
        Object.assign(s, { 'loss.act': 2, 'home.height': 5, 'loss.end': 60 })
      },
    })
    keep(rig, 3, 3)
    doAll(rig, { act: 'stick', stick: 'pitch', to: 0.4 })
    keep(rig, 3, 3)
    const far = Math.hypot(rig.motion.position[0], rig.motion.position[1])
    expect(far).toBeGreaterThan(4)
    doAll(rig, { act: 'transmitter', on: false })
    run(rig, 40)
    expect(Math.hypot(rig.motion.position[0], rig.motion.position[1])).toBeLessThan(far / 2)
  })
})
