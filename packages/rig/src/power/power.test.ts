import { doAll, rigFor, run } from '../../tests/bench'
import { Power } from './power'

const powerOf = (change: Partial<Power['build']> = {}): Power =>
  new Power({ ...structuredClone(rigFor().airframe.power), restAmps: 0.4, extraRestAmps: 0, short: false, ...change })

describe('power', () => {
  test('the cable alone feeds the board, the battery alone feeds all, both say so', () => {
    const rig = rigFor()
    expect(rig.state().power).toBe('cable')
    doAll(rig, { act: 'battery', source: 'pack' })
    expect(rig.state().power).toBe('both')
    doAll(rig, { act: 'cable', in: false })
    expect([rig.power.kind, rig.power.boardOn]).toEqual(['battery', true])
    doAll(rig, { act: 'battery', source: 'none' })
    expect([rig.power.kind, rig.power.boardOn]).toEqual(['none', false])
  })

  test('a pack is drained by ampere hours: amperes times time over 3.6', () => {
    const power = powerOf()
    power.build.pack.charge = 1
    power.connect('pack')
    for (let i = 0; i < 3600; i++) power.step(3.6, false, false, 1)
    expect(power.usedMah).toBeCloseTo(4 * 1000, 0)
    expect(1 - power.build.pack.charge).toBeCloseTo(Math.min(1, 4000 / power.build.pack.capacityMah), 6)
  })

  test('a current limiter holds 1.5 A and the volts give way; a short without one draws a great deal', () => {
    const limited = powerOf({ short: true })
    limited.limiter = true
    limited.connect('supply')
    expect(limited.amps).toBe(1.5)
    expect(limited.volts).toBeLessThan(0.5)
    expect(limited.boardOn).toBe(true)
    limited.cable = false
    expect(limited.boardOn).toBe(false)
    const bare = powerOf({ short: true })
    bare.connect('supply')
    expect(bare.amps).toBeGreaterThan(100)
  })

  test('what an airframe draws at rest passes the limiter untouched', () => {
    const power = powerOf()
    power.limiter = true
    power.connect('pack')
    expect(power.amps).toBeCloseTo(0.4, 9)
    expect(power.volts).toBeGreaterThan(10)
  })

  test('every connection counts, taking it out does not', () => {
    const power = powerOf()
    expect([power.connect('pack'), power.connect('none'), power.connect('supply'), power.connect('supply')]).toEqual([
      true,
      false,
      true,
      false,
    ])
    expect(power.connections).toBe(2)
  })

  test('the video transmitter warms without wind and cools when the battery is out', () => {
    const power = powerOf()
    power.connect('pack')
    for (let i = 0; i < 600; i++) power.step(0, true, false, 1)
    const still = power.videoC
    for (let i = 0; i < 600; i++) power.step(0, true, true, 1)
    const blown = power.videoC
    power.connect('none')
    for (let i = 0; i < 900; i++) power.step(0, true, false, 1)
    expect(still).toBeGreaterThan(blown + 5)
    expect(blown).toBeGreaterThan(21)
    expect(power.videoC).toBeCloseTo(20, 0)
  })

  test('the board reads volts and amperes by its own scales', () => {
    const rig = rigFor({ spoil: ({ power }) => void Object.assign(power, { trueAmpOffset: 0 }) })
    doAll(rig, { act: 'battery', source: 'pack' })
    run(rig, 0.1)
    const right = rig.board.volts
    expect(right).toBeCloseTo(rig.power.volts, 0)
    const scale = rig.board.settings.get('power.voltScale')
    rig.board.settings.write({ 'power.voltScale': scale * 1.1 })
    run(rig, 0.1)
    const divides = rig.board.settings.isOn('power.voltDivides')
    expect(rig.board.volts / right).toBeCloseTo(divides ? 1 / 1.1 : 1.1, 3)
  })
})
