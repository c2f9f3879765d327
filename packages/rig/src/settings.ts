import type { BoardSetting, Settings } from '@taraf/contract'

interface Definition {
  readonly name: string
  readonly unit: string
  readonly min: number
  readonly max: number
  readonly factory: number
}

const axes = ['X', 'Y', 'Z']
const each = (group: string, rest: Omit<Definition, 'name'>): Definition[] =>
  axes.map((axis) => ({ name: `${group}${axis}`, ...rest }))

/** What the simulated board can be told, with ranges and factory values. */
const definitions: readonly Definition[] = [
  ...each('gyro.bias', { unit: 'deg/s', min: -20, max: 20, factory: 0 }),
  ...each('accel.bias', { unit: 'm/s2', min: -3, max: 3, factory: 0 }),
  ...each('accel.scale', { unit: '', min: 0.8, max: 1.2, factory: 1 }),
  { name: 'board.roll', unit: 'deg', min: -180, max: 180, factory: 0 },
  { name: 'board.pitch', unit: 'deg', min: -90, max: 90, factory: 0 },
  { name: 'board.yaw', unit: 'deg', min: -180, max: 180, factory: 0 },
  { name: 'level.roll', unit: 'deg', min: -15, max: 15, factory: 0 },
  { name: 'level.pitch', unit: 'deg', min: -15, max: 15, factory: 0 },
]

/** A board's settings: a working copy that is in force, and a saved one that survives a restart. */
export class BoardSettings {
  private readonly working = new Map<string, number>()
  private readonly saved = new Map<string, number>()

  constructor() {
    for (const { name, factory } of definitions) {
      this.working.set(name, factory)
      this.saved.set(name, factory)
    }
  }

  /** The value in force. Throws for a name that no board has: a bug, never input. */
  get(name: string): number {
    const value = this.working.get(name)
    if (value === undefined) throw new Error(`no setting ${name}`)
    return value
  }

  list(): BoardSetting[] {
    return definitions.map(({ name, unit, min, max }) => ({
      name,
      unit,
      min,
      max,
      value: this.get(name),
      saved: this.saved.get(name) ?? NaN,
    }))
  }

  /** Puts values in force, all or none. Returns what is wrong with them, or null. */
  write(values: Settings): string | null {
    for (const [name, value] of Object.entries(values)) {
      const definition = definitions.find((d) => d.name === name)
      if (definition === undefined) return `${name} is unknown`
      if (!(value >= definition.min && value <= definition.max))
        return `${name} = ${value} is outside ${definition.min} to ${definition.max} ${definition.unit}`.trim()
    }
    for (const [name, value] of Object.entries(values)) this.working.set(name, value)
    return null
  }

  save(): void {
    for (const [name, value] of this.working) this.saved.set(name, value)
  }

  /** What a restart does: values that were not saved are lost. */
  reload(): void {
    for (const [name, value] of this.saved) this.working.set(name, value)
  }
}
