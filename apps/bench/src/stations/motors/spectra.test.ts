import { spectraOf, stretchCount } from './spectra'
import { multiplesOf, scaleOf } from './spectrumScale'

const burst = (hz: number, a: number) => {
  const t = Array.from({ length: 4000 }, (_, i) => 3 + i / 4000)
  const still = t.map(() => 0)
  return { t, ax: t.map((s) => a * Math.sin(2 * Math.PI * hz * (s - 3))), ay: still, az: t.map(() => -9.81) }
}

test('of every burst one line, strongest where it shakes, with that strength', () => {
  const segments = [
    { label: 'still', streams: {} },
    { label: 'output-2', streams: { imuBurst: burst(122, 4) } },
    { label: 'output-1', streams: { imuBurst: burst(612.5, 1) } },
  ]
  const [second, first] = spectraOf({ segments })
  expect([second?.output, first?.output]).toEqual([2, 1])
  const strongest = (of: readonly number[] = []) => of.indexOf(Math.max(...of))
  expect(second?.stretches).toHaveLength(stretchCount)
  expect(strongest(second?.stretches)).toBe(24)
  expect(strongest(first?.stretches)).toBe(122)
  // One Hann window spreads a tone over three bins: two thirds of its power in the middle one.
  const rms = (1000 * 4) / (2 * Math.PI * 122) / Math.SQRT2
  expect((second?.stretches[24] ?? 0) / rms).toBeCloseTo(Math.sqrt(2 / 3), 1)
})

test('what is no evidence is said so', () => {
  expect(() => spectraOf({ title: 'Not found' })).toThrow('no evidence')
  expect(() => spectraOf(null)).toThrow('no evidence')
})

test('one scale for all: a thousandth of the strongest to the strongest', () => {
  const scale = scaleOf([0.3, 15, 0])
  expect(scale.decades).toEqual([0.1, 1, 10, 100])
  expect([scale.share(100), scale.share(0.1), scale.share(0), scale.share(1)]).toEqual([1, 0, 0, expect.closeTo(1 / 3, 6)])
})

test('the turning rate and its multiples, as far as they are drawn', () => {
  expect(multiplesOf(300, 1000)).toEqual([300, 600, 900])
  expect(multiplesOf(80, 1000)).toHaveLength(6)
  expect(multiplesOf(0, 1000)).toEqual([])
})
