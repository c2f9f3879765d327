import type { MotorPosition } from '../geometry'

/** What was seen of one output: the position that turned, counted from 1, and which way. */
export interface Seen {
  readonly output: number
  readonly position: number
  readonly turn: MotorPosition['turn']
}

/** What is to be done so that every output turns the motor that the board takes it for, the way that the sheet wants. */
export interface Solved {
  /** Positions to write, by output: those alone that differ from what the board has. */
  readonly map: Readonly<Record<number, number>>
  /** How many exchanges of two leads would do the same. */
  readonly swaps: number
  /** Outputs whose motor turns the wrong way, in their order. */
  readonly reverse: readonly number[]
  /** Every one turns the other way: the airframe follows the mirrored convention. */
  readonly isMirrored: boolean
}

/** Why what was seen cannot be: an output or a position twice, or one that there is not. */
export interface Contradiction {
  readonly outputs: readonly number[]
  readonly why: string
}

export const nameOf = ({ boom, tier }: Pick<MotorPosition, 'boom' | 'tier'>): string =>
  tier === 'only' ? boom : `${boom} ${tier}`

/** What of what was seen contradicts itself, or null. */
export const contradictionIn = (seen: readonly Seen[], positions: readonly MotorPosition[]): Contradiction | null => {
  for (const one of seen) {
    if (one.position < 1 || one.position > positions.length)
      return { outputs: [one.output], why: `output ${one.output} turned a position that the sheet has not` }
    const twice = seen.filter((other) => other.position === one.position)
    if (twice.length > 1) {
      const outputs = twice.map(({ output }) => output)
      const name = nameOf(positions[one.position - 1] as MotorPosition)
      return { outputs, why: `outputs ${outputs.join(' and ')} both turned ${name}` }
    }
  }
  return null
}

/**
 * The whole output map at once. `told` is the position that the board takes each output for. The fewest exchanges of two that make one order
 * of n into another are n less its cycles (a permutation is that many transpositions; from memory, any text on permutations).
 */
export const solveMotors = (
  seen: readonly Seen[],
  positions: readonly MotorPosition[],
  told: (output: number) => number,
  mirrored: boolean,
): Solved => {
  const differing = seen.filter(({ output, position }) => told(output) !== position)
  const wrong = seen.filter(({ position, turn }) => (turn === positions[position - 1]?.turn) === mirrored)
  return {
    map: Object.fromEntries(differing.map(({ output, position }) => [output, position])),
    swaps: swapsOf(seen, told),
    reverse: wrong.map(({ output }) => output).sort((a, b) => a - b),
    isMirrored: seen.length > 0 && wrong.length === seen.length,
  }
}

/** Exchanges of two: each ring of outputs that took each other's places wants one less than it has members. */
const swapsOf = (seen: readonly Seen[], told: (output: number) => number): number => {
  const outputTold = new Map(seen.map(({ output }) => [told(output), output]))
  const next = new Map(seen.map(({ output, position }) => [output, outputTold.get(position)]))
  const done = new Set<number>()
  let swaps = 0
  for (const { output } of seen) {
    let length = 0
    for (let at: number | undefined = output; at !== undefined && !done.has(at); at = next.get(at)) {
      done.add(at)
      length += 1
    }
    swaps += Math.max(0, length - 1)
  }
  return swaps
}
