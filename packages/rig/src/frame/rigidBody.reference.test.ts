import { fromAngles, radians, type Vec3 } from '@taraf/core/rotation'
import { Euler, Quaternion as ThreeQuaternion } from 'three'
import { rigFor, doAll } from '../../tests/bench'
import { quaternionOf, rotationOf, stepRigidBody, type RigidState } from './rigidBody'

const at = (rate: Vec3): RigidState => ({ position: [0, 0, 0], velocity: [0, 0, 0], attitude: [1, 0, 0, 0], rate })
const none: Vec3 = [0, 0, 0]

// Torque-free symmetric top (Goldstein, Classical Mechanics, 5.6): with I1 = I2 the rate about the axis of symmetry stays, and
// the other two turn about it with (I3 - I1) / I1 times that rate.
test('a torque-free symmetric top precesses as its closed form says', () => {
  const inertia: Vec3 = [0.02, 0.02, 0.035]
  const [a, spin] = [1.5, 12]
  let state = at([a, 0, spin])
  const precession = ((inertia[2] - inertia[0]) / inertia[0]) * spin
  for (let i = 1; i <= 2000; i++) {
    state = stepRigidBody(state, none, none, 1, inertia, 0.001)
    if (i % 250 !== 0) continue
    expect(state.rate[0]).toBeCloseTo(a * Math.cos(precession * i * 0.001), 5)
    expect(state.rate[1]).toBeCloseTo(a * Math.sin(precession * i * 0.001), 5)
    expect(state.rate[2]).toBeCloseTo(spin, 9)
  }
})

test('without torque, energy and angular momentum in the world stay', () => {
  const inertia: Vec3 = [0.01, 0.02, 0.03]
  let state = at([3, -2, 4])
  const momentum = (s: RigidState) => {
    const m = rotationOf(s.attitude)
    const l = s.rate.map((w, i) => w * (inertia[i] as number)) as unknown as Vec3
    return m.map((row) => row[0] * l[0] + row[1] * l[1] + row[2] * l[2])
  }
  const energy = (s: RigidState) => s.rate.reduce((e, w, i) => e + 0.5 * (inertia[i] as number) * w * w, 0)
  const [l0, e0] = [momentum(state), energy(state)]
  for (let i = 0; i < 5000; i++) state = stepRigidBody(state, none, none, 1, inertia, 0.001)
  expect(energy(state)).toBeCloseTo(e0, 6)
  momentum(state).forEach((l, i) => expect(l).toBeCloseTo(l0[i] as number, 5))
})

// Free fall: s = g t^2 / 2.
test('it falls as a free body falls', () => {
  let state = at(none)
  for (let i = 0; i < 1000; i++) state = stepRigidBody(state, [0, 0, 9.81 * 2], none, 2, [1, 1, 1], 0.001)
  expect(state.position[2]).toBeCloseTo(9.81 / 2, 9)
  expect(state.velocity[2]).toBeCloseTo(9.81, 9)
})

// Physical pendulum (Landau and Lifshitz, Mechanics, 5): small swings have the period 2 pi sqrt(I / (m g l)).
test('on the tilting stand it swings with the period of a physical pendulum', () => {
  const rig = rigFor()
  doAll(rig, { act: 'stand', axis: 'roll', tiltDeg: 3 })
  const { massKg, inertia } = rig.airframe.frame
  const [lever, g] = [0.03, rig.airframe.shop.gravity]
  const period = 2 * Math.PI * Math.sqrt((inertia[0] + massKg * lever * lever) / (massKg * g * lever))
  const crossings: number[] = []
  let before = rig.motion.angles.roll
  while (crossings.length < 5 && rig.clock < 20) {
    rig.step('body')
    const now = rig.motion.angles.roll
    if (before > 0 && now <= 0) crossings.push(rig.clock)
    before = now
  }
  const swings = crossings.slice(1).map((t, i) => t - (crossings[i] as number))
  expect(swings.reduce((a, b) => a + b, 0) / swings.length).toBeCloseTo(period, 2)
})

test('quaternions are those of three.js', () => {
  for (const [roll, pitch, yaw] of [
    [10, 20, 30],
    [170, -40, 120],
    [-90, 5, -179],
    [0, 89, 45],
    [180, 0, 0],
  ] as const) {
    const [r, p, y] = [radians(roll), radians(pitch), radians(yaw)]
    const three = new ThreeQuaternion().setFromEuler(new Euler(r, p, y, 'ZYX'))
    const ours = quaternionOf(fromAngles({ roll: r, pitch: p, yaw: y }))
    const dot = ours[0] * three.w + ours[1] * three.x + ours[2] * three.y + ours[3] * three.z
    expect(Math.abs(dot)).toBeCloseTo(1, 12)
    rotationOf(ours).forEach((row, i) =>
      row.forEach((value, j) =>
        expect(value).toBeCloseTo(fromAngles({ roll: r, pitch: p, yaw: y })[i as 0]?.[j as 0] ?? NaN, 12),
      ),
    )
  }
})
