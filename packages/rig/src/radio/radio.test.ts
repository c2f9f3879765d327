import { doAll, rigFor, run } from '../../tests/bench'
import { randomFrom } from '../random'
import { Receiver, type ReceiverBuild } from './receiver'
import { type Transmitter } from './transmitter'

const heardTransmitter = () => {
  const { transmitter, airframe } = rigFor()
  transmitter.on = true
  for (const reach of Object.values(airframe.transmitter.stickReach)) Object.assign(reach, { low: 1, high: 1, rest: 0 })
  for (const channel of airframe.transmitter.channels)
    Object.assign(channel, { trimUs: 0, subTrimUs: 0, travelLow: 100, travelHigh: 100 })
  return transmitter
}
const usOf = (transmitter: Transmitter, stick: string) => {
  const i = transmitter.build.channels.findIndex((c) => c.source !== null && 'stick' in c.source && c.source.stick === stick)
  return transmitter.channels()[i] ?? NaN
}

describe('a transmitter', () => {
  test('sends 1000 to 2000 us over a stick’s full way at 100 % travel', () => {
    const transmitter = heardTransmitter()
    for (const [at, us] of [
      [-1, 1000],
      [0, 1500],
      [0.5, 1750],
      [1, 2000],
    ] as const) {
      transmitter.sticks.roll = at
      expect(usOf(transmitter, 'roll')).toBeCloseTo(us, 6)
    }
  })

  test('trim and sub-trim move the middle, travel scales each side by itself, invert turns it round', () => {
    const transmitter = heardTransmitter()
    const roll = transmitter.build.channels.find((c) => c.source !== null && 'stick' in c.source && c.source.stick === 'roll')
    Object.assign(roll ?? {}, { trimUs: 20, subTrimUs: -8, travelLow: 80, travelHigh: 110 })
    const at = (share: number) => {
      transmitter.sticks.roll = share
      return usOf(transmitter, 'roll')
    }
    expect([at(-1), at(0), at(1)]).toEqual([1112, 1512, 2062])
    Object.assign(roll ?? {}, { inverted: true })
    expect([at(-1), at(0), at(1)]).toEqual([2062, 1512, 1112])
  })

  test('a mix adds a share of another channel; no channel leaves 880 to 2120 us', () => {
    const transmitter = heardTransmitter()
    const { channels } = transmitter.build
    const roll = channels.findIndex((c) => c.source !== null && 'stick' in c.source && c.source.stick === 'roll')
    const yaw = channels.findIndex((c) => c.source !== null && 'stick' in c.source && c.source.stick === 'yaw')
    Object.assign(channels[yaw] ?? {}, { mix: { from: roll + 1, share: 0.1 } })
    transmitter.sticks.roll = 1
    expect(usOf(transmitter, 'yaw')).toBeCloseTo(1550, 6)
    Object.assign(channels[roll] ?? {}, { travelHigh: 150 })
    expect(usOf(transmitter, 'roll')).toBe(2120)
  })
})

describe('a receiver', () => {
  const build = (change: Partial<ReceiverBuild>) => ({
    ...structuredClone(rigFor().airframe.receiver),
    jitterUs: 0,
    dropOuts: 0,
    ...change,
  })
  const heard = (receiver: Receiver, transmitter: Transmitter, from: number, to: number) => {
    const frames = []
    for (let t = from; t < to; t += 0.001) {
      const frame = receiver.due(t, true, transmitter)
      if (frame !== null) frames.push(frame)
    }
    return frames
  }

  test('sends at its own rate, and misses as many frames as it drops', () => {
    const transmitter = heardTransmitter()
    expect(heard(new Receiver(build({ frameMs: 9 }), randomFrom(1)), transmitter, 0, 0.9)).toHaveLength(100)
    const lossy = heard(new Receiver(build({ frameMs: 9, dropOuts: 0.3 }), randomFrom(1)), transmitter, 0, 9).length
    // 1000 tries at 0.7: five deviations are 72.
    expect(Math.abs(lossy - 700)).toBeLessThan(72)
  })

  test.each([
    ['silent', undefined],
    ['last', 1800],
    ['preset', 1234],
  ] as const)('at loss gives what it is set to: %s', (atLoss, us) => {
    const transmitter = heardTransmitter()
    transmitter.build.lossPreset = null
    const receiver = new Receiver(build({ frameMs: 10, atLoss, preset: Array.from({ length: 16 }, () => 1234) }), randomFrom(1))
    const roll = transmitter.build.channels.findIndex(
      (c) => c.source !== null && 'stick' in c.source && c.source.stick === 'roll',
    )
    transmitter.sticks.roll = 0.6
    heard(receiver, transmitter, 0, 0.1)
    transmitter.on = false
    const frame = heard(receiver, transmitter, 0.1, 0.2).at(-1)
    expect(frame?.channels[roll]).toBe(us)
    expect(frame?.quality ?? 0).toBe(0)
  })

  test('hears only the model memory that it is bound to', () => {
    const transmitter = heardTransmitter()
    const { modelId } = transmitter.build
    expect(heard(new Receiver(build({ boundTo: modelId + 1 }), randomFrom(1)), transmitter, 0, 0.1)).toHaveLength(0)
    expect(heard(new Receiver(build({ boundTo: null }), randomFrom(1)), transmitter, 0, 0.1)).toHaveLength(0)
    expect(heard(new Receiver(build({ boundTo: modelId }), randomFrom(1)), transmitter, 0, 0.1).length).toBeGreaterThan(3)
  })

  test('jitter spreads each channel by its deviation', () => {
    const transmitter = heardTransmitter()
    const frames = heard(new Receiver(build({ frameMs: 5, jitterUs: 3 }), randomFrom(2)), transmitter, 0, 10)
    const roll = frames.map((f) => f.channels[0] ?? NaN)
    const mean = roll.reduce((a, b) => a + b) / roll.length
    const deviation = Math.sqrt(roll.reduce((sum, us) => sum + (us - mean) ** 2, 0) / (roll.length - 1))
    expect(deviation).toBeGreaterThan(2.7)
    expect(deviation).toBeLessThan(3.3)
  })

  test('tells its strength on a channel where it is set to', () => {
    const transmitter = heardTransmitter()
    const [frame] = heard(new Receiver(build({ strengthChannel: 8, quality: 0.7 }), randomFrom(3)), transmitter, 0, 0.05)
    expect(frame?.channels[7]).toBeGreaterThan(1600)
    expect(frame?.channels[7]).toBeLessThan(1800)
  })

  test('what the board is set to another kind for does not reach it', () => {
    const rig = rigFor()
    doAll(rig, { act: 'battery', source: 'pack' }, { act: 'transmitter', on: true })
    run(rig, 0.3)
    expect(rig.state().radio).toBe('heard')
    const kind = rig.board.settings.get('radio.kind')
    rig.board.settings.write({ 'radio.kind': kind === 2 ? 1 : 2 })
    run(rig, 3)
    expect(rig.state().radio).toBe('lost')
  })
})
