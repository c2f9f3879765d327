import { apply, type Rotation, type Vec3 } from '@taraf/core/rotation'

/** Half the edges of a board as it is drawn: forward, right, down; and its arrow on the top face. */
const half: Vec3 = [18, 18, 3]
const arrow: readonly Vec3[] = [
  [12, 0, -3],
  [-2, -8, -3],
  [-2, 8, -3],
]

export interface BoardView {
  /** The outline of each face that is turned to the eye, as points on the drawing. */
  readonly faces: readonly (readonly Point[])[]
  readonly arrow: readonly Point[]
  /** Whether the eye sees the face that the arrow is on. */
  readonly arrowSeen: boolean
}
export type Point = readonly [x: number, y: number]

/** From where it is looked at: the way to the eye in body axes, and what is right and down on the drawing. */
const eyes = {
  above: { to: [0, 0, -1], right: [0, 1, 0], down: [-1, 0, 0] },
  right: { to: [0, 1, 0], right: [1, 0, 0], down: [0, 0, 1] },
} as const satisfies Record<string, { to: Vec3; right: Vec3; down: Vec3 }>

const dot = (a: Vec3, b: Vec3) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2]

/** A board in its airframe as it is seen in plan, nose up, or in elevation from the right, nose to the right. */
export const boardView = (toBody: Rotation, from: keyof typeof eyes): BoardView => {
  const eye = eyes[from]
  const place = (v: Vec3): Point => {
    const inBody = apply(toBody, v)
    return [dot(inBody, eye.right), dot(inBody, eye.down)]
  }
  const faces = ([0, 1, 2] as const).flatMap((axis) =>
    [-1, 1].flatMap((side) => {
      const normal = [0, 1, 2].map((i) => (i === axis ? side : 0)) as unknown as Vec3
      if (dot(apply(toBody, normal), eye.to) < 1e-6) return []
      const [i, j] = [0, 1, 2].filter((k) => k !== axis) as [number, number]
      const corners = [
        [-1, -1],
        [1, -1],
        [1, 1],
        [-1, 1],
      ] as const
      return [
        corners.map(([a, b]) =>
          place(
            [0, 1, 2].map((k) => (half[k] as number) * (k === axis ? side : k === i ? a : k === j ? b : 0)) as unknown as Vec3,
          ),
        ),
      ]
    }),
  )
  return { faces, arrow: arrow.map(place), arrowSeen: dot(apply(toBody, [0, 0, -1]), eye.to) > 1e-6 }
}
