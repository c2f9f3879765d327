import { plainShop, quad } from '../../tests/bench'
import { cellVolts, drained, packVolts } from '../power/pack'
import { soundAirframe } from '../sound'
import { Drive } from './drive'
import { bareShaft, propLoad, stepSpeed, torqueConstant, windingAmps } from './motor'
import { digitalShare, dshotFrame, dshotValue, frameUs, mechanicalRpm, signalTable } from './signal'

// DShot by its definition: 16 bits, the number is the bit rate in kbit/s; 11 bits value, 1 bit telemetry, 4 bits checksum as
// the exclusive or of the three nibbles before it.
describe('digital signals', () => {
  test.each([
    ['DShot150', 106.67],
    ['DShot300', 53.33],
    ['DShot600', 26.67],
    ['DShot1200', 13.33],
  ] as const)('a %s frame holds the wire for %d us', (signal, us) => {
    expect(frameUs(signal, false)).toBeCloseTo(us, 1)
    expect(frameUs(signal, true)).toBeGreaterThan(us + 30)
  })
  test('the worked frame of the definition: value 1046 without telemetry is 0x82C and its checksum 6', () => {
    expect(dshotFrame(1046, false).toString(16)).toBe('82c6')
    expect(dshotValue(0x82c6)).toBe(1046)
    expect(dshotValue(0x82c7)).toBeNull()
  })
  test('every value comes back, and every single flipped bit is seen', () => {
    for (let value = 0; value < 2048; value += 7) {
      const frame = dshotFrame(value, true)
      expect(dshotValue(frame)).toBe(value)
      for (let bit = 0; bit < 16; bit++) expect(dshotValue(frame ^ (1 << bit))).toBeNull()
    }
  })
  test('48 to 2047 are 2000 steps of command, below is none', () => {
    expect(digitalShare(0)).toBe(0)
    expect(digitalShare(1)).toBe(1)
    expect(digitalShare(0.5)).toBeCloseTo(0.5, 3)
  })
  // Common practice: the pulse of OneShot125 is an eighth of that of PWM.
  test('pulses of analogue signals', () => {
    expect(signalTable.PWM).toEqual({ lowUs: 1000, highUs: 2000 })
    expect(signalTable.OneShot125).toEqual({ lowUs: 1000 / 8, highUs: 2000 / 8 })
    expect(signalTable.MultiShot).toEqual({ lowUs: 5, highUs: 25 })
  })
})

// Fourteen poles are seven pairs: 70,000 electrical turns are 10,000 of the shaft (a definition of electrical machines).
test('mechanical speed is electrical speed over the pole pairs', () => {
  expect(mechanicalRpm(70_000, 14)).toBe(10_000)
  expect(mechanicalRpm(60_000, 12)).toBe(10_000)
})

// Direct-current machine (any textbook, for example Hughes, Electric Motors and Drives, ch. 3).
describe('a motor', () => {
  const motor = { kv: 1000, poles: 14, resistance: 0.1, noLoadAmps: 1, inertia: 5e-6, imbalance: 0, roughness: 0, rub: 0 }
  const settle = (volts: number, load = bareShaft) => {
    let speed = 0
    for (let i = 0; i < 4000; i++) speed = stepSpeed(motor, load, speed, volts, 0.001)
    return speed
  }
  test('KV and torque constant are each other’s inverse in SI units', () => {
    expect(torqueConstant(motor) * ((motor.kv * 2 * Math.PI) / 60)).toBeCloseTo(1, 12)
  })
  test('its no-load speed is KV times the volts less the drop of its no-load current', () => {
    const rpm = (settle(12, { ...bareShaft, torque: 0 }) * 60) / (2 * Math.PI)
    expect(rpm).toBeCloseTo(1000 * (12 - 0.1 * 1), 0)
  })
  test('under a prop, torque in and out balance', () => {
    const prop = propLoad(0.2)
    const speed = settle(12, prop)
    const amps = windingAmps(motor, speed, 12)
    expect(torqueConstant(motor) * (amps - motor.noLoadAmps)).toBeCloseTo(prop.torque * speed * speed, 6)
  })
  test('it runs up with its mechanical time constant R J / k^2', () => {
    const k = torqueConstant(motor)
    const tau = (motor.resistance * motor.inertia) / (k * k)
    const end = settle(12, { ...bareShaft, torque: 0 })
    let [speed, t] = [0, 0]
    while (speed < end * (1 - Math.exp(-1))) {
      speed = stepSpeed(motor, { ...bareShaft, torque: 0 }, speed, 12, 1e-5)
      t += 1e-5
    }
    expect(t / tau).toBeCloseTo(1, 1)
  })
  test('thrust grows with the square of speed and the fourth power of the diameter', () => {
    expect(propLoad(0.2).thrust / propLoad(0.1).thrust).toBeCloseTo(16, 9)
  })
})

// Ohm's law and charge = current x time; resting volts of a full and an empty cell are common practice.
describe('a pack', () => {
  const pack = { cells: 4, chemistry: 'LiPo' as const, capacityMah: 1500, cellResistance: 0.004, charge: 1 }
  test('sags by current times resistance', () => {
    expect(packVolts(pack, 0)).toBeCloseTo(16.8, 6)
    expect(packVolts(pack, 50)).toBeCloseTo(16.8 - 4 * 50 * 0.004, 6)
  })
  test('an hour at its capacity in amperes empties it', () => {
    expect(drained(pack, 1.5, 3600)).toBeCloseTo(0, 9)
    expect(drained(pack, 1.5, 1800)).toBeCloseTo(0.5, 9)
  })
  test('full at 4.2 V, 4.35 V for the high-voltage kind; falling all the way', () => {
    expect(cellVolts('LiPo', 1)).toBe(4.2)
    expect(cellVolts('Li-ion', 1)).toBe(4.2)
    expect(cellVolts('LiHV', 1)).toBe(4.35)
    for (const kind of ['LiPo', 'Li-ion', 'LiHV'] as const)
      for (let c = 0.02; c <= 1; c += 0.02) expect(cellVolts(kind, c)).toBeGreaterThan(cellVolts(kind, c - 0.02))
  })
})

describe('an ESC with its motor', () => {
  const driveOf = () => new Drive(soundAirframe(quad, 'FB', 3, plainShop()).drives[0] ?? (undefined as never))
  const told = (command: number, signal: 'DShot300' | 'PWM' = 'DShot300') => ({ command, signal, volts: 15 })
  const run = (drive: Drive, command: number, seconds: number) => {
    for (let t = 0; t < seconds; t += 0.001) drive.step(told(command), null, 0.001)
  }
  test('stutters below what starts it, turns above, coasts when told nothing, and warms with work', () => {
    const drive = driveOf()
    run(drive, 0.03, 0.5)
    expect([drive.speed, drive.fault]).toEqual([0, 'stutter'])
    run(drive, 0.2, 1)
    expect(drive.rpm).toBeGreaterThan(4000)
    const [fast, warm] = [drive.speed, drive.heatC]
    run(drive, 0, 0.05)
    expect(drive.speed).toBeGreaterThan(0.3 * fast)
    expect(drive.speed).toBeLessThan(fast)
    run(drive, 0, 5)
    expect(drive.speed).toBe(0)
    run(drive, 0.5, 20)
    expect(drive.heatC).toBeGreaterThan(warm)
  })
  test('reversing in the ESC and swapping two leads each turn it round, and both undo each other', () => {
    const drive = driveOf()
    const drawn = drive.turn
    drive.build.leadsSwapped = true
    expect(drive.turn).not.toBe(drawn)
    drive.build.esc.settings.reverse = 1
    expect(drive.turn).toBe(drawn)
  })
  test('a rotor that something locks is driven no longer once its time is over, and anew after the command was nought', () => {
    const drive = driveOf()
    drive.build.motor.rub = 5
    run(drive, 0.3, 1)
    expect(drive.amps).toBeGreaterThan(1)
    run(drive, 0.3, 1.5)
    expect([drive.speed, drive.amps, drive.fault]).toEqual([0, 0, 'locked'])
    drive.build.motor.rub = 0
    run(drive, 0.3, 1)
    expect(drive.speed).toBe(0)
    run(drive, 0, 0.1)
    run(drive, 0.3, 1)
    expect(drive.rpm).toBeGreaterThan(4000)
  })
  test('a signal that it does not understand leaves it silent', () => {
    const drive = driveOf()
    for (let i = 0; i < 100; i++) drive.step({ command: 0.5, signal: 'DShot1200', volts: 15 }, null, 0.001)
    expect([drive.speed, drive.fault]).toEqual([0, 'not understood'])
  })
})
