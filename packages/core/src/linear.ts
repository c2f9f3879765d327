/**
 * Least squares min |A x - b| by Householder reflections (Golub and Van Loan, Matrix Computations, 5.3.2). Null where the
 * columns are not independent to double precision. Both `a` (row by row) and `b` are overwritten.
 */
export const leastSquares = (a: Float64Array, rows: number, columns: number, b: Float64Array): Float64Array | null => {
  let largest = 0
  for (let k = 0; k < columns; k++) {
    let norm = 0
    for (let i = k; i < rows; i++) norm += (a[i * columns + k] as number) ** 2
    norm = Math.sqrt(norm)
    largest = Math.max(largest, norm)
    if (!(norm > largest * 1e-13)) return null
    const head = a[k * columns + k] as number
    const diagonal = head > 0 ? -norm : norm
    const scale = 1 / (diagonal * (diagonal - head))
    a[k * columns + k] = head - diagonal
    for (let j = k + 1; j <= columns; j++) {
      let sum = 0
      if (j < columns) for (let i = k; i < rows; i++) sum += (a[i * columns + k] as number) * (a[i * columns + j] as number)
      else for (let i = k; i < rows; i++) sum += (a[i * columns + k] as number) * (b[i] as number)
      const by = sum * scale
      if (j < columns)
        for (let i = k; i < rows; i++) a[i * columns + j] = (a[i * columns + j] as number) - by * (a[i * columns + k] as number)
      else for (let i = k; i < rows; i++) b[i] = (b[i] as number) - by * (a[i * columns + k] as number)
    }
    // The reflection has served: its place keeps R's diagonal.
    a[k * columns + k] = diagonal
  }
  const x = new Float64Array(columns)
  for (let k = columns - 1; k >= 0; k--) {
    let sum = b[k] as number
    for (let j = k + 1; j < columns; j++) sum -= (a[k * columns + j] as number) * (x[j] as number)
    x[k] = sum / (a[k * columns + k] as number)
  }
  return x
}

/**
 * Eigenvalues, largest first, and unit eigenvectors of a symmetric matrix by Jacobi's rotations (Golub and Van Loan, 8.5).
 */
export const eigenSymmetric = (matrix: readonly (readonly number[])[]): { values: number[]; vectors: number[][] } => {
  const n = matrix.length
  const m = matrix.map((row) => [...row])
  const v = matrix.map((_, i) => matrix.map((__, j) => (i === j ? 1 : 0)))
  const at = (rows: number[][], i: number, j: number) => (rows[i] as number[])[j] as number
  const put = (rows: number[][], i: number, j: number, value: number) => ((rows[i] as number[])[j] = value)
  for (let sweep = 0; sweep < 60; sweep++) {
    let off = 0
    let all = 0
    for (let i = 0; i < n; i++)
      for (let j = 0; j < n; j++) {
        all += at(m, i, j) ** 2
        if (i !== j) off += at(m, i, j) ** 2
      }
    if (off <= all * 1e-28) break
    for (let p = 0; p < n - 1; p++)
      for (let q = p + 1; q < n; q++) {
        const pq = at(m, p, q)
        if (pq === 0) continue
        const theta = (at(m, q, q) - at(m, p, p)) / (2 * pq)
        const t = (theta >= 0 ? 1 : -1) / (Math.abs(theta) + Math.sqrt(theta * theta + 1))
        const c = 1 / Math.sqrt(t * t + 1)
        const s = t * c
        for (let k = 0; k < n; k++) {
          const [kp, kq] = [at(m, k, p), at(m, k, q)]
          put(m, k, p, c * kp - s * kq)
          put(m, k, q, s * kp + c * kq)
        }
        for (let k = 0; k < n; k++) {
          const [pk, qk] = [at(m, p, k), at(m, q, k)]
          put(m, p, k, c * pk - s * qk)
          put(m, q, k, s * pk + c * qk)
          const [vp, vq] = [at(v, k, p), at(v, k, q)]
          put(v, k, p, c * vp - s * vq)
          put(v, k, q, s * vp + c * vq)
        }
      }
  }
  const order = m.map((_, i) => i).sort((i, j) => at(m, j, j) - at(m, i, i))
  return { values: order.map((i) => at(m, i, i)), vectors: order.map((i) => v.map((row) => row[i] as number)) }
}
