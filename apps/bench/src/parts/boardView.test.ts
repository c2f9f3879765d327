import { fromAngles, radians } from '@taraf/core/rotation'
import { boardView } from './boardView'

const seen = (roll: number, pitch: number, yaw: number, from: 'above' | 'right') =>
  boardView(fromAngles({ roll: radians(roll), pitch: radians(pitch), yaw: radians(yaw) }), from)
const tip = (view: ReturnType<typeof boardView>) => view.arrow[0]?.map((v) => Math.round(v) + 0)

test('upright, its arrow points up on the plan and to the right from the right side', () => {
  expect(seen(0, 0, 0, 'above')).toMatchObject({ arrowSeen: true })
  expect(tip(seen(0, 0, 0, 'above'))).toEqual([0, -12])
  expect(tip(seen(0, 0, 0, 'right'))).toEqual([12, -3])
})
test('a quarter turn left, its arrow points left on the plan and away from an eye at the right', () => {
  expect(tip(seen(0, 0, -90, 'above'))).toEqual([-12, 0])
  expect(tip(seen(0, 0, -90, 'right'))).toEqual([0, -3])
})
test('upside down, the arrow is on the far side; on edge, nothing of its face is seen from above', () => {
  expect(seen(180, 0, 0, 'above').arrowSeen).toBe(false)
  expect(tip(seen(180, 0, 0, 'above'))).toEqual([0, -12])
  expect(seen(90, 0, 0, 'above').arrowSeen).toBe(false)
  expect(seen(90, 0, 0, 'above').faces).toHaveLength(1)
  // Roll of 90 deg turns the top to the right: the eye there sees it.
  expect(seen(90, 0, 0, 'right').arrowSeen).toBe(true)
})
test('nose up, its arrow points up from the side', () => {
  expect(tip(seen(0, 90, 0, 'right'))?.[1]).toBe(-12)
})
