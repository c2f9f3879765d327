import { placeWords } from './placeWords'

test.each([
  ['geometry.booms[0].radiusM', 'geometry, booms 1, radius m'],
  ['geometry.booms[2].motors[1].output', 'geometry, booms 3, motors 2, output'],
  ['settings["arm.disarmAfterS"]', 'settings, arm.disarmAfterS'],
  ['switchPlan', 'switch plan'],
  ['', ''],
])('%s is said as "%s"', (place, words) => {
  expect(placeWords(place)).toBe(words)
})
