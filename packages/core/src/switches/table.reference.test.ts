import fc from 'fast-check'
import { flightModes, switchTable, type Measured, type Planned } from './table'

// Brute force by independent code: combinations as lists that are built up switch by switch, each function asked by itself in each of them,
// reach by trying every other position of every switch. No index, no columns.
type At = ReadonlyMap<number, number>
const every = (switches: readonly Measured[]): At[] =>
  switches.reduce<At[]>(
    (lists, { channel, positions }) => lists.flatMap((list) => positions.map((us) => new Map([...list, [channel, us]]))),
    [new Map()],
  )
const isOn = ({ bands }: Planned, at: At): boolean =>
  bands.length > 0 &&
  bands.every(({ channel, from, to }) => {
    const us = at.get(channel)
    return us !== undefined && from <= us && us <= to
  })

const switchesDrawn = fc
  .uniqueArray(fc.integer({ min: 5, max: 12 }), { minLength: 1, maxLength: 5 })
  .chain((channels) =>
    fc.tuple(
      ...channels.map((channel) =>
        fc
          .uniqueArray(fc.integer({ min: 950, max: 2050 }), { minLength: 2, maxLength: 3 })
          .chain((positions) =>
            fc.nat({ max: positions.length - 1 }).map((atPowerUp): Measured => ({ channel, positions, atPowerUp })),
          ),
      ),
    ),
  )
const bandDrawn = fc
  .tuple(fc.integer({ min: 5, max: 12 }), fc.integer({ min: 900, max: 2000 }), fc.integer({ min: 50, max: 800 }))
  .map(([channel, from, width]) => ({ channel, from, to: from + width }))
const names = ['arm', 'selfLevel', 'rate', 'altitude', 'sounder', 'failsafe', 'lights'] as const
const planDrawn = fc
  .subarray([...names], { minLength: 1 })
  .chain((chosen) =>
    fc.tuple(
      ...chosen.map((name) =>
        fc.array(bandDrawn, { minLength: 1, maxLength: 2 }).map((bands): Planned => ({ function: name, bands })),
      ),
    ),
  )

test('counts and faults are those of brute force', () => {
  fc.assert(
    fc.property(switchesDrawn, planDrawn, (switches, plan) => {
      const table = switchTable(switches, plan)
      const all = every(switches)
      const named = (name: string) => plan.find((p) => p.function === name)
      const on = (name: string, at: At) => {
        const planned = named(name)
        return planned !== undefined && isOn(planned, at)
      }
      const count = (name: string) => all.filter((at) => on(name, at)).length
      expect(table.combinations).toBe(all.length)
      for (const { function: name } of plan) expect(table.on[name]).toBe(count(name))
      const counted = (fault: string, ...functions: string[]) =>
        table.faults.find((f) => f.fault === fault && f.functions.join() === functions.join())?.count ?? 0
      const powerUp: At = new Map(switches.map((s) => [s.channel, s.positions[s.atPowerUp] as number]))
      expect(counted('armed at power-up', 'arm')).toBe(on('arm', powerUp) ? 1 : 0)
      expect(counted('no self-level', 'selfLevel') > 0).toBe(count('selfLevel') === 0)
      for (const { function: name } of plan) {
        expect(counted('never on', name) > 0).toBe(count(name) === 0)
        expect(counted('never off', name) > 0).toBe(count(name) === all.length)
      }
      const shared = all.filter((at) => on('sounder', at) && on('arm', at)).length
      const together =
        all.every((at) => !on('arm', at) || on('sounder', at)) || all.every((at) => !on('sounder', at) || on('arm', at))
      expect(counted('sounder with arm', 'sounder', 'arm')).toBe(together ? shared : 0)
      const modes = plan.map((p) => p.function).filter((name) => (flightModes as readonly string[]).includes(name))
      for (const a of modes)
        for (const b of modes)
          if (modes.indexOf(a) < modes.indexOf(b))
            expect(counted('two modes at once', a, b)).toBe(all.filter((at) => on(a, at) && on(b, at)).length)
      if (count('failsafe') === 0) return
      const reaches = (at: At) =>
        on('failsafe', at) || switches.some((s) => s.positions.some((us) => on('failsafe', new Map([...at, [s.channel, us]]))))
      for (const mode of modes)
        expect(counted('no failsafe from a mode', 'failsafe', mode)).toBe(all.filter((at) => on(mode, at) && !reaches(at)).length)
      const inNone = (at: At) => modes.every((mode) => !on(mode, at))
      expect(counted('no failsafe from a mode', 'failsafe')).toBe(all.filter((at) => inNone(at) && !reaches(at)).length)
    }),
    { numRuns: 300 },
  )
})
