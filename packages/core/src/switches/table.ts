/** What a switch must be at for one condition: its channel, and the band that its pulse is in, both ends counted in, us. */
export interface Band {
  readonly channel: number
  readonly from: number
  readonly to: number
}
/** A function that is on where all its bands are met: one, or two together. */
export interface Planned {
  readonly function: string
  readonly bands: readonly Band[]
}
/** A switch as it was measured: the pulse of each of its positions, us, and the position that it has at power-up. */
export interface Measured {
  readonly channel: number
  readonly positions: readonly number[]
  readonly atPowerUp: number
}

/** One position of each switch, in the order of the switches, counted from 0. */
export type Combination = readonly number[]

export type SwitchFault =
  | 'armed at power-up'
  | 'no self-level'
  | 'two modes at once'
  | 'never on'
  | 'never off'
  | 'no failsafe from a mode'
  | 'sounder with arm'

/** A fault of the plan: which functions (failsafe alone where no mode is chosen), in how many combinations, and the first of those. */
export interface Found {
  readonly fault: SwitchFault
  readonly functions: readonly string[]
  readonly count: number
  readonly example: Combination | null
}

export interface SwitchTable {
  /** How many combinations of positions there are. */
  readonly combinations: number
  /** In how many of them each function is on. */
  readonly on: Readonly<Record<string, number>>
  readonly faults: readonly Found[]
}

/** The functions that say how the craft flies: of these one is on at a time, or none, and then the sticks ask for rates. */
export const flightModes = ['rate', 'selfLevel', 'blend', 'altitude', 'position', 'returnHome'] as const

/**
 * The whole table of a switch plan: every combination of every position is looked at, so that counts are exact. A function that hangs on a
 * channel without a switch is never on. Sixteen functions over eight switches of three positions are 6,561 combinations.
 */
export const switchTable = (switches: readonly Measured[], plan: readonly Planned[]): SwitchTable => {
  const counts = switches.map((s) => s.positions.length)
  const total = counts.reduce((product, count) => product * count, 1)
  const columns = plan.map((planned) => whereOn(switches, planned, counts, total))
  const on = Object.fromEntries(plan.map((planned, i) => [planned.function, sumOf(columns[i] as Uint8Array)]))
  const column = (name: string): Uint8Array | null => {
    const i = plan.findIndex((planned) => planned.function === name)
    return i < 0 ? null : (columns[i] as Uint8Array)
  }
  const look = (fault: SwitchFault, functions: readonly string[], isWrong: (combination: number) => boolean): Found[] => {
    let [count, first] = [0, -1]
    for (let c = 0; c < total; c++) {
      if (!isWrong(c)) continue
      if (count === 0) first = c
      count += 1
    }
    return count === 0 ? [] : [{ fault, functions, count, example: combinationOf(first, counts) }]
  }
  const whole = (fault: SwitchFault, functions: readonly string[]): Found => ({ fault, functions, count: total, example: null })
  const modes = plan.filter((p) => (flightModes as readonly string[]).includes(p.function)).map((p) => p.function)
  const both = (a: Uint8Array | null, b: Uint8Array | null) => (c: number) => a?.[c] === 1 && b?.[c] === 1
  const arm = column('arm')
  const failsafe = column('failsafe')
  const powerUp = indexOf(
    switches.map((s) => s.atPowerUp),
    counts,
  )
  const faults: Found[] = [
    ...(arm?.[powerUp] === 1
      ? [{ fault: 'armed at power-up', functions: ['arm'], count: 1, example: switches.map((s) => s.atPowerUp) } as const]
      : []),
    ...(on.selfLevel === undefined || on.selfLevel === 0 ? [whole('no self-level', ['selfLevel'])] : []),
    ...plan.flatMap(({ function: name }) => {
      if (on[name] === 0) return [whole('never on', [name])]
      return on[name] === total ? [whole('never off', [name])] : []
    }),
    ...modes.flatMap((a, i) => modes.slice(i + 1).flatMap((b) => look('two modes at once', [a, b], both(column(a), column(b))))),
    ...(goTogether(column('sounder'), arm) ? look('sounder with arm', ['sounder', 'arm'], both(column('sounder'), arm)) : []),
    ...(failsafe === null || on.failsafe === 0
      ? []
      : [...modes, null].flatMap((mode) => {
          const isIn =
            mode === null ? (c: number) => modes.every((m) => column(m)?.[c] === 0) : (c: number) => column(mode)?.[c] === 1
          return look(
            'no failsafe from a mode',
            mode === null ? ['failsafe'] : ['failsafe', mode],
            (c) => isIn(c) && failsafe[c] === 0 && !oneMoveTo(failsafe, c, counts),
          )
        })),
  ]
  return { combinations: total, on, faults }
}

/** Whether one of two functions is never on without the other. */
const goTogether = (a: Uint8Array | null, b: Uint8Array | null): boolean => {
  if (a === null || b === null) return false
  const shared = a.reduce((sum, value, c) => sum + value * (b[c] as number), 0)
  return shared > 0 && (shared === sumOf(a) || shared === sumOf(b))
}

const sumOf = (column: Uint8Array): number => column.reduce((sum, value) => sum + value, 0)

/** For each combination whether a function is on in it. */
const whereOn = (switches: readonly Measured[], { bands }: Planned, counts: readonly number[], total: number): Uint8Array => {
  const column = new Uint8Array(total)
  const isThere = bands.length > 0 && bands.every((band) => switches.some((s) => s.channel === band.channel))
  if (!isThere) return column
  const met = switches.map((s) => s.positions.map((us) => bands.every((b) => b.channel !== s.channel || isIn(us, b))))
  for (let c = 0; c < total; c++) {
    let rest = c
    let isOn = true
    for (let s = 0; s < counts.length && isOn; s++) {
      const count = counts[s] as number
      isOn = met[s]?.[rest % count] === true
      rest = Math.floor(rest / count)
    }
    column[c] = isOn ? 1 : 0
  }
  return column
}
const isIn = (us: number, { from, to }: Band): boolean => us >= from && us <= to

/** Whether a function comes on by moving one switch alone. */
const oneMoveTo = (column: Uint8Array, from: number, counts: readonly number[]): boolean => {
  let step = 1
  for (const count of counts) {
    const at = Math.floor(from / step) % count
    for (let to = 0; to < count; to++) if (to !== at && column[from + (to - at) * step] === 1) return true
    step *= count
  }
  return false
}

const combinationOf = (index: number, counts: readonly number[]): number[] => {
  let rest = index
  return counts.map((count) => {
    const at = rest % count
    rest = Math.floor(rest / count)
    return at
  })
}
const indexOf = (combination: Combination, counts: readonly number[]): number =>
  combination.reduceRight((index, at, s) => index * (counts[s] as number) + at, 0)

/** How far a position lies from the nearest edge of a band on its channel, us; Infinity where the channel has none. */
export const marginOf = (channel: number, us: number, plan: readonly Planned[]): number =>
  Math.min(
    ...plan.flatMap(({ bands }) =>
      bands.filter((b) => b.channel === channel).flatMap(({ from, to }) => [Math.abs(us - from), Math.abs(us - to)]),
    ),
    Infinity,
  )

/** What may be added to one position of a mode switch so that it lands in the failsafe band, us. */
export interface Offset {
  readonly least: number
  readonly most: number
}

/**
 * Two functions on one channel: a second switch adds an offset to the mode switch, and each mode must land in the failsafe band with it.
 * Gives the offsets for each position, `margin` within the band, and the one that does for all of them, in the middle of what does; null
 * where none does, and then each position needs its own offset.
 */
export const failsafeOffsets = (
  modes: readonly number[],
  { from, to }: Omit<Band, 'channel'>,
  margin: number,
): { readonly each: readonly Offset[]; readonly common: number | null } => {
  const each = modes.map((us) => ({ least: from + margin - us, most: to - margin - us }))
  const least = Math.max(...each.map((o) => o.least))
  const most = Math.min(...each.map((o) => o.most))
  return { each, common: least <= most ? (least + most) / 2 : null }
}
