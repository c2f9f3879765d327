import type { BoardSetting, Settings } from '@taraf/contract'
import { definitionOf, definitions, isSetting } from './definitions'

/** A board's settings: a working copy that is in force, and a saved one that survives a restart. */
export class BoardSettings {
  private readonly working = new Map<string, number>()
  private readonly saved = new Map<string, number>()
  /** Raised whenever a value in force may have changed, so that what is computed from settings is computed once. */
  version = 0

  constructor(asReceived: Settings = {}) {
    this.clear()
    const wrong = this.write(asReceived)
    if (wrong !== null) throw new Error(`an airframe cannot come with this: ${wrong}`)
    this.save()
  }

  /** The value in force. Throws for a name that no board has: a bug, never input. */
  get(name: string): number {
    const value = this.working.get(name)
    if (value === undefined) throw new Error(`no setting ${name}`)
    return value
  }

  /** What is computed from settings: once for each change of them. */
  derived<T>(compute: (settings: BoardSettings) => T): () => T {
    let found: { version: number; value: T } | null = null
    return () => {
      if (found?.version !== this.version) found = { version: this.version, value: compute(this) }
      return found.value
    }
  }

  isOn(name: string): boolean {
    return this.get(name) !== 0
  }

  list(): BoardSetting[] {
    return definitions.map(({ name, unit, min, max, factory, choices }) => ({
      name,
      unit,
      min,
      max,
      factory,
      value: this.get(name),
      saved: this.saved.get(name) ?? NaN,
      ...(choices === undefined ? {} : { choices: [...choices] }),
    }))
  }

  /** Puts values in force, all or none. Returns what is wrong with them, or null. */
  write(values: Settings): string | null {
    for (const [name, value] of Object.entries(values)) {
      if (!isSetting(name)) return `${name} is unknown`
      const { min, max, unit, choices } = definitionOf(name)
      if (!(value >= min && value <= max)) return `${name} = ${value} is outside ${min} to ${max} ${unit}`.trim()
      if (choices !== undefined && !Number.isInteger(value)) return `${name} = ${value} must be a whole number`
    }
    for (const [name, value] of Object.entries(values)) this.working.set(name, value)
    this.version += 1
    return null
  }

  save(): void {
    for (const [name, value] of this.working) this.saved.set(name, value)
  }

  /** What a restart does: values that were not saved are lost. */
  reload(): void {
    for (const [name, value] of this.saved) this.working.set(name, value)
    this.version += 1
  }

  /** Puts the factory's values in force: the board's mounting and calibration go with the rest. Saved is what was saved. */
  clear(): void {
    for (const { name, factory } of definitions) this.working.set(name, factory)
    this.version += 1
  }
}
