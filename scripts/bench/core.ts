// The solvers against the same work done with a general-purpose matrix library (ml-matrix), as rows for the table.
import { inverse as invert, EigenvalueDecomposition, Matrix, QrDecomposition, SingularValueDecomposition } from 'ml-matrix'
import type { Column, Evidence } from '../../packages/contract/src/evidence'
import { smooth } from '../../packages/core/src/motors/smooth'
import { heldOf } from '../../packages/core/src/held'
import { fitEllipsoid } from '../../packages/core/src/sensors/ellipsoid'
import { isSolved, solveMounting } from '../../packages/core/src/orientation/solve'
import { switchTable, type Planned } from '../../packages/core/src/switches/table'
import { median } from './median.mjs'

const [runs, poseSamples, fieldSamples] = [15, 1_000, 10_000]
let state = 7
const uniform = () => (state = (state * 48271) % 2147483647) / 2147483647
const noise = () => uniform() + uniform() + uniform() - 1.5

const timed = (work: () => void, times: number): number => {
  const began = performance.now()
  for (let i = 0; i < times; i++) work()
  return performance.now() - began
}
/** Both in turn, so that whatever else the machine does falls on both. */
const ratio = (own: () => void, library: () => void, times: number): string => {
  for (const work of [own, library]) timed(work, times)
  return median(Array.from({ length: runs }, () => timed(own, times) / timed(library, times))).toFixed(2)
}

const poses = (
  [
    [0, 0, -9.8],
    [8.5, 0, -4.9],
    [0, -8.5, -4.9],
  ] as const
).map((force) => [0, 1, 2].map((i) => Float64Array.from({ length: poseSamples }, () => (force[i] as number) + 0.05 * noise())))

const ownOrientation = () => {
  const held = poses.map(([ax, ay, az]) => heldOf({ ax, ay, az } as Record<'ax' | 'ay' | 'az', Column>))
  if (!isSolved(solveMounting(...(held as [(typeof held)[0], (typeof held)[0], (typeof held)[0]])))) throw new Error('not solved')
}
const tables = poses.map((columns) => new Matrix(columns.map((c) => [...c])).transpose())
const libraryOrientation = () => {
  const b = Matrix.zeros(3, 3)
  const means = tables.map((table) => ({
    mean: table.mean('column'),
    spread: Math.hypot(...table.standardDeviation('column')) / 9.8,
  }))
  const wanted = [
    [0, 0, -1],
    [0.866, 0, -0.5],
    [0, -0.866, -0.5],
  ]
  means.forEach(({ mean: m, spread }, i) => {
    const size = Math.hypot(...m)
    b.add(
      Matrix.columnVector(wanted[i] ?? [])
        .mmul(Matrix.rowVector(m.map((v) => v / size)))
        .mul(1 / (0.01 + spread * spread)),
    )
  })
  const svd = new SingularValueDecomposition(b)
  svd.leftSingularVectors.mmul(svd.rightSingularVectors.transpose())
}

const field = [0, 1, 2].map(() => new Float64Array(fieldSamples)) as Column[]
for (let i = 0; i < fieldSamples; i++) {
  const z = 2 * uniform() - 1
  const a = 2 * Math.PI * uniform()
  const r = Math.sqrt(1 - z * z)
  ;[r * Math.cos(a), r * Math.sin(a), z].forEach(
    (v, k) => ((field[k] as Column)[i] = 48 * v * (1 + 0.03 * k) + 10 * k + 0.4 * noise()),
  )
}
const ownEllipsoid = () => {
  if (fitEllipsoid(...(field as [Column, Column, Column])) === null) throw new Error('no fit')
}
/** The same steps: the quadric by QR, its axes by eigenvalues, and three rounds of Gauss and Newton by QR. */
const libraryEllipsoid = () => {
  const at = (k: number, i: number) => ((field[k] as Column)[i] as number) / 50
  const rows = Array.from({ length: fieldSamples }, (_, i) => {
    const [x, y, z] = [at(0, i), at(1, i), at(2, i)]
    return [x * x + y * y - 2 * z * z, x * x + z * z - 2 * y * y, 2 * x * y, 2 * x * z, 2 * y * z, 2 * x, 2 * y, 2 * z, 1]
  })
  const b = Matrix.columnVector(Array.from({ length: fieldSamples }, (_, i) => at(0, i) ** 2 + at(1, i) ** 2 + at(2, i) ** 2))
  const p = new QrDecomposition(new Matrix(rows)).solve(b).to1DArray()
  const n = (i: number) => p[i] ?? 0
  const m = new Matrix([
    [1 - n(0) - n(1), -n(2), -n(3)],
    [-n(2), 1 - n(0) + 2 * n(1), -n(4)],
    [-n(3), -n(4), 1 + 2 * n(0) - n(1)],
  ])
  new EigenvalueDecomposition(m)
  invert(m)
  for (let round = 0; round < 3; round++) {
    const jacobian = Array.from({ length: fieldSamples }, (_, i) => {
      const [x, y, z] = [at(0, i), at(1, i), at(2, i)]
      const size = Math.hypot(x, y, z)
      const [ex, ey, ez] = [x / size, y / size, z / size]
      return [ex * x, ex * y + ey * x, ex * z + ez * x, ey * y, ey * z + ez * y, ez * z, -ex, -ey, -ez]
    })
    new QrDecomposition(new Matrix(jacobian)).solve(b)
  }
}

/** Eight switches of three positions, and two functions on each. */
const switches = Array.from({ length: 8 }, (_, i) => ({ channel: 5 + i, positions: [1000, 1500, 2000], atPowerUp: 0 }))
const functions = ['arm', 'selfLevel', 'blend', 'rate', 'altitude', 'position', 'returnHome', 'failsafe', 'sounder'] as const
const plan: Planned[] = Array.from({ length: 16 }, (_, i) => ({
  function: functions[i] ?? `function ${i}`,
  bands: [{ channel: 5 + (i >> 1), from: i % 2 ? 1700 : 900, to: i % 2 ? 2100 : 1300 }],
}))
const tableMs = () => median(Array.from({ length: runs }, () => timed(() => void switchTable(switches, plan), 1)))

/** Bursts of four motors, two seconds at 4 kHz each, as smooth running judges them. */
const burst = (turningHz: number) => {
  const rows = 8000
  const t = Float64Array.from({ length: rows }, (_, i) => i / 4000)
  const axis = (phase: number) => t.map((s) => 2 * Math.sin(2 * Math.PI * turningHz * s + phase) + 0.03 * noise())
  return { stage: 'raw' as const, t, ax: axis(0), ay: axis(1), az: axis(2), gx: axis(3), gy: axis(4), gz: axis(5) }
}
const outputs = [1, 2, 3, 4]
const bursts: Evidence = {
  format: 'taraf-evidence/1',
  check: smooth.id,
  sheet: {
    geometry: {
      booms: outputs.map((output, i) => ({
        name: `boom ${output}`,
        bearingDeg: 45 + 90 * i,
        radiusM: 0.1,
        motors: [{ tier: 'only', output, turn: 'clockwise' }],
      })),
      body: { lengthM: 0.1, widthM: 0.1 },
      propDiameterM: 0.1,
    },
  },
  board: { settings: {} },
  segments: outputs.map((output) => ({
    label: `output-${output}`,
    streams: {
      imuBurst: burst(100 + output),
      escs: { t: Float64Array.of(0, 1), [`rpm${output}`]: Float64Array.of(6000, 6000) },
    },
  })),
} as Evidence
const burstMs = () => median(Array.from({ length: runs }, () => timed(() => void smooth.evaluate(bursts), 1))) / outputs.length

console.log(
  JSON.stringify([
    {
      figure: 'a burst of 2 s at 4 kHz judged, slowed 4 x, ms',
      found: (4 * burstMs()).toFixed(0),
      wanted: '<= 150',
    },
    {
      figure: 'switch table of 16 functions over 8 switches of 3 positions, ms',
      found: tableMs().toFixed(1),
      wanted: '<= 50',
    },
    {
      figure: `orientation from 3 x ${poseSamples} samples, ratio to a matrix library`,
      found: ratio(ownOrientation, libraryOrientation, 200),
      wanted: '<= 1',
    },
    {
      figure: `ellipsoid from ${fieldSamples} samples, ratio to a matrix library`,
      found: ratio(ownEllipsoid, libraryEllipsoid, 3),
      wanted: '<= 1',
    },
  ]),
)
