import { doAll, longRange, mend, plainShop, quad, rigFor } from '../../tests/bench'
import { handsOf } from '../hands'
import { randomFrom } from '../random'
import { soundAirframe } from '../sound'
import { faultStations } from './fault'
import { drawFaults, faults } from './index'

describe('the catalogue of faults', () => {
  test('names at least 70 single faults, each once, and covers every station that can have one', () => {
    expect(faults.length).toBeGreaterThanOrEqual(70)
    expect(new Set(faults.map((f) => f.id)).size).toBe(faults.length)
    expect(new Set(faults.map((f) => f.station))).toEqual(new Set(faultStations))
    for (const { id, station, where, shows, caughtBy, remedy, likelihood } of faults) {
      expect(id.split('.')[0]).toBe(station)
      expect(caughtBy).toMatch(/^[a-zA-Z]+\.[a-zA-Z]+$/)
      for (const words of [where, shows, remedy]) expect(words.length).toBeGreaterThan(5)
      expect(likelihood).toBeGreaterThan(0)
      expect(likelihood).toBeLessThan(0.2)
    }
  })

  // An L4 has every part that a fault can sit in.
  test.each(faults.map((f) => [f.id, f] as const))('%s is there when it is put in, and gone when it is mended', (_id, fault) => {
    for (const seed of [1, 2, 3]) {
      expect(fault.isIn(rigFor({ seed, sheet: longRange }))).toBe(false)
      const rig = rigFor({ seed, sheet: longRange, faults: [fault.id] })
      expect(fault.isIn(rig)).toBe(true)
      for (let i = 0; i < 3 && fault.isIn(rig); i++) mend(rig, fault.mend(rig))
      expect(fault.isIn(rig)).toBe(false)
    }
  })

  test('a sound airframe of any seed has none of them', () => {
    for (let seed = 0; seed < 200; seed++) {
      const rig = rigFor({ seed, sheet: longRange })
      expect(faults.filter((f) => f.isIn(rig)).map((f) => f.id)).toEqual([])
    }
  })

  test('faults are drawn by seed, only where they fit, and no more than asked', () => {
    const small = soundAirframe(quad, 'FB-1', 1, plainShop())
    const drawn = (seed: number) => drawFaults(small, faultStations, 4, randomFrom(seed))
    expect(drawn(7)).toEqual(drawn(7))
    const seen = new Set(Array.from({ length: 600 }, (_, seed) => drawn(seed)).flat())
    expect(seen.size).toBeGreaterThan(60)
    expect([...seen].filter((id) => id.includes('compass') || id === 'sensors.hardIron')).toEqual([])
    expect(Math.max(...Array.from({ length: 100 }, (_, seed) => drawn(seed).length))).toBe(4)
    expect(drawFaults(small, ['sensors'], 2, randomFrom(3)).every((id) => id.startsWith('sensors.'))).toBe(true)
  })
})

describe('the hands say what cannot be done', () => {
  test('nothing is replaced or swapped with the battery on', () => {
    const rig = rigFor()
    doAll(rig, { act: 'battery', source: 'pack' })
    for (const act of [
      { act: 'replace', part: 'board' },
      { act: 'swap leads', output: 1 },
      { act: 'swap outputs', a: 1, b: 2 },
      { act: 'limiter', in: true },
    ] as const)
      expect(() => doAll(rig, act)).toThrow('battery')
  })
  test('an output, a switch and a travel that are not there', () => {
    const rig = rigFor()
    expect(() => doAll(rig, { act: 'replace motor', output: 9 })).toThrow('Nothing is wired')
    expect(() => doAll(rig, { act: 'switch', name: 'A', to: 2 })).toThrow('no such switch')
    expect(() => doAll(rig, { act: 'channel', channel: 1, set: { travelLow: 140 } })).toThrow('125 %')
  })
  test('a receiver that binds in two steps wants its power off between', () => {
    const rig = rigFor({ faults: ['radio.notBound'], spoil: (a) => void (a.receiver.bindSteps = 2) })
    doAll(rig, { act: 'transmitter', on: true })
    doAll(rig, { act: 'bind' }, { act: 'bind' })
    expect(rig.airframe.receiver.boundTo).toBeNull()
    expect(handsOf(rig).receiver.light).toBe('binding')
    doAll(rig, { act: 'cable', in: false }, { act: 'cable', in: true }, { act: 'bind' })
    expect(rig.airframe.receiver.boundTo).toBe(rig.transmitter.build.modelId)
  })
})
