import { readFileSync } from 'node:fs'
import { fieldAt } from './field'

// The World Magnetic Model's published test values (NOAA and British Geological Survey, reports on WMM 2015, 2020 and 2025),
// as the package geomagnetism carries them: date, height km, latitude, longitude, north, east, down nT.
const rows = readFileSync(require.resolve('geomagnetism/test/values.csv'), 'utf8')
  .trim()
  .split(/\r?\n/)
  .slice(1)
  .map((line) => line.split(',').map(Number))
  .map(
    ([year, km, lat, lon, x, y, z]) =>
      ({ year, km, lat, lon, x, y, z }) as Record<'year' | 'km' | 'lat' | 'lon' | 'x' | 'y' | 'z', number>,
  )
const dateOf = (year: number) => {
  const whole = Math.floor(year)
  return new Date(Date.UTC(whole, 0, 1) + (year - whole) * 365 * 86_400_000)
}
const covered = rows.filter(({ year }) => year >= 2020)

test('the World Magnetic Model gives its published test values within 5 nT', () => {
  expect(covered.filter((r) => r.year >= 2025).length).toBeGreaterThan(10)
  expect(covered.length).toBeGreaterThan(100)
  for (const { year, km, lat, lon, x, y, z } of covered) {
    const [north, east, down] = fieldAt({ lat, lon, heightM: km * 1000 }, dateOf(year))
    expect(Math.abs(north * 1000 - x)).toBeLessThan(5)
    expect(Math.abs(east * 1000 - y)).toBeLessThan(5)
    expect(Math.abs(down * 1000 - z)).toBeLessThan(5)
  }
})

test('a date beyond the models is refused', () => {
  expect(() => fieldAt({ lat: 54, lon: 8 }, new Date('2042-01-01'))).toThrow(RangeError)
})
