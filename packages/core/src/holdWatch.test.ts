import { radians, type Vec3 } from './rotation'
import { HoldWatch, holdWords, type HoldState } from './holdWatch'
import { upOf } from '../tests/poses'

const g = 9.81
const at = (up: Vec3): Vec3 => [up[0] * g, up[1] * g, up[2] * g]
/** Feeds seconds of a pose; returns the last state. */
const feed = (watch: HoldWatch, from: number, seconds: number, up: Vec3, rate = 0): HoldState => {
  let state: HoldState = { fault: null, tiltDeg: 0, share: 0 }
  for (let i = 1; i <= seconds * 200; i++) state = watch.push(from + i * 0.005, at(up), [rate, 0, 0])
  return state
}
const watch = (before: Vec3[] = []) => new HoldWatch(1.5, 45, at(upOf.level), before.map(at))

test('starts by itself when it is far enough and still, and is whole after its seconds', () => {
  const w = watch()
  expect(feed(w, 0, 1, upOf.level)).toMatchObject({ fault: 'short', share: 0 })
  const begun = feed(w, 1, 0.8, upOf.noseUp(radians(60)))
  expect(begun.fault).toBeNull()
  expect(begun.share).toBeGreaterThan(0)
  expect(begun.share).toBeLessThan(1)
  expect(begun.tiltDeg).toBeCloseTo(60, 0)
  expect(feed(w, 1.8, 1.5, upOf.noseUp(radians(60))).share).toBe(1)
})

test('a move starts it anew and says so; too little says how far; a side done before is named', () => {
  const w = watch()
  feed(w, 0, 1, upOf.noseUp(radians(60)))
  expect(feed(w, 1, 0.05, upOf.noseUp(radians(60)), 1)).toMatchObject({ fault: 'moving', share: 0 })
  expect(holdWords({ fault: 'short', tiltDeg: 31.4, share: 0 }, 45)).toBe('Tilt it further: 31 of 45 deg.')
  const again = feed(watch([upOf.noseUp(radians(60))]), 0, 2, upOf.noseUp(radians(65)))
  expect(again).toMatchObject({ fault: 'same', share: 0 })
  expect(holdWords(again, 45)).toBe('This side was done already.')
})

test('a slow drift is a move too', () => {
  const w = watch()
  let most = 0
  for (let i = 0; i < 600; i++)
    most = Math.max(most, w.push(i * 0.005, at(upOf.noseUp(radians(60 + i * 0.05))), [0.1, 0, 0]).share)
  expect(most).toBeLessThan(1)
})
