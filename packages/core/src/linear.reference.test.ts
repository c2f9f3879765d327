import { EigenvalueDecomposition, Matrix, SingularValueDecomposition, solve } from 'ml-matrix'
import { uniformFrom } from '../tests/poses'
import { eigenSymmetric, leastSquares } from './linear'

/** Linear regression data and certified values of Longley, NIST Statistical Reference Datasets (higher difficulty). */
const longley = [
  [60323, 83.0, 234289, 2356, 1590, 107608, 1947],
  [61122, 88.5, 259426, 2325, 1456, 108632, 1948],
  [60171, 88.2, 258054, 3682, 1616, 109773, 1949],
  [61187, 89.5, 284599, 3351, 1650, 110929, 1950],
  [63221, 96.2, 328975, 2099, 3099, 112075, 1951],
  [63639, 98.1, 346999, 1932, 3594, 113270, 1952],
  [64989, 99.0, 365385, 1870, 3547, 115094, 1953],
  [63761, 100.0, 363112, 3578, 3350, 116219, 1954],
  [66019, 101.2, 397469, 2904, 3048, 117388, 1955],
  [67857, 104.6, 419180, 2822, 2857, 118734, 1956],
  [68169, 108.4, 442769, 2936, 2798, 120445, 1957],
  [66513, 110.8, 444546, 4681, 2637, 121950, 1958],
  [68655, 112.6, 482704, 3813, 2552, 123366, 1959],
  [69564, 114.2, 502601, 3931, 2514, 125368, 1960],
  [69331, 115.7, 518173, 4806, 2572, 127852, 1961],
  [70551, 116.9, 554894, 4007, 2827, 130081, 1962],
] as const
const longleyCertified = [
  -3482258.63459582, 15.0618722713733, -0.035819179292591, -2.02022980381683, -1.03322686717359, -0.0511041056535807,
  1829.15146461355,
]

describe('least squares', () => {
  test('gives the certified coefficients of the Longley data to eight digits', () => {
    const a = Float64Array.from(longley.flatMap(([, ...x]) => [1, ...x]))
    const x = leastSquares(
      a,
      longley.length,
      7,
      Float64Array.from(longley, ([y]) => y),
    )
    longleyCertified.forEach((certified, i) => expect(Math.abs((x?.[i] ?? NaN) / certified - 1)).toBeLessThan(1e-8))
  })

  // ml-matrix, a general-purpose matrix library: its solution by singular values.
  test.each([1, 10, 1e3, 1e6])('is that of a general-purpose library for columns that differ by %d', (ratio) => {
    const uniform = uniformFrom(ratio + 3)
    for (let run = 0; run < 50; run++) {
      const [rows, columns] = [12 + Math.floor(uniform() * 40), 2 + Math.floor(uniform() * 8)]
      const a = Array.from({ length: rows }, () =>
        Array.from({ length: columns }, (_, j) => (uniform() - 0.5) * ratio ** (j / columns)),
      )
      const b = Array.from({ length: rows }, () => uniform() - 0.5)
      const theirs = solve(new Matrix(a), Matrix.columnVector(b), true).to1DArray()
      const ours = leastSquares(Float64Array.from(a.flat()), rows, columns, Float64Array.from(b))
      theirs.forEach((value, i) => expect(Math.abs((ours?.[i] ?? NaN) - value)).toBeLessThan(1e-8 * Math.max(1, Math.abs(value))))
    }
  })

  test('says that it cannot where columns depend on each other', () => {
    const a = Float64Array.from({ length: 30 }, (_, i) => [i, 2 * i, 1][i % 3] ?? 0)
    for (let i = 0; i < 10; i++) a[3 * i + 1] = 2 * (a[3 * i] as number)
    expect(leastSquares(a, 10, 3, new Float64Array(10).fill(1))).toBeNull()
  })
})

describe('eigenvalues of symmetric matrices', () => {
  test('are those of a general-purpose library, and the vectors belong to them', () => {
    const uniform = uniformFrom(9)
    for (let run = 0; run < 200; run++) {
      const n = 3 + (run % 2)
      const half = Array.from({ length: n }, () => Array.from({ length: n }, () => uniform() - 0.5))
      const m = half.map((row, i) => row.map((v, j) => v + (half[j]?.[i] ?? 0)))
      const theirs = [...new EigenvalueDecomposition(new Matrix(m)).realEigenvalues].sort((a, b) => b - a)
      const { values, vectors } = eigenSymmetric(m)
      values.forEach((value, i) => {
        expect(value).toBeCloseTo(theirs[i] ?? NaN, 10)
        m.forEach((row, k) => {
          const image = row.reduce((sum, v, j) => sum + v * (vectors[i]?.[j] ?? NaN), 0)
          expect(image).toBeCloseTo(value * (vectors[i]?.[k] ?? NaN), 9)
        })
      })
    }
  })

  test('of a Gram matrix are the squares of the singular values', () => {
    const a = new Matrix([
      [1, 2, 3],
      [4, 5, 6],
      [7, 8, 10],
      [2, 1, 0],
    ])
    const singular = new SingularValueDecomposition(a).diagonal
    const { values } = eigenSymmetric(a.transpose().mmul(a).to2DArray())
    values.forEach((value, i) => expect(Math.sqrt(value)).toBeCloseTo(singular[i] ?? NaN, 9))
  })
})
