const steps = [1, 2, 5, 10, 20, 25, 50, 100, 200, 250, 500, 1000]

/** Round times from zero on, of which no more than six fit before the end, us. */
export const ticksOf = (endUs: number): number[] => {
  const step = steps.find((one) => endUs / one <= 6) ?? 1000 * Math.ceil(endUs / 6000)
  return Array.from({ length: Math.floor(endUs / step) + 1 }, (_, i) => i * step)
}
