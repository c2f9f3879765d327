type Listeners<Events extends { [Name in keyof Events]: unknown[] }> = {
  [Name in keyof Events]?: readonly ((...args: Events[Name]) => void)[]
}

/** Listeners by the name of what they are told of. Only what extends it tells. */
export class Emitter<Events extends { [Name in keyof Events]: unknown[] }> {
  private readonly listeners: Listeners<Events> = {}

  on<Name extends keyof Events>(event: Name, listener: (...args: Events[Name]) => void): void {
    this.listeners[event] = [...(this.listeners[event] ?? []), listener]
  }

  off<Name extends keyof Events>(event: Name, listener: (...args: Events[Name]) => void): void {
    this.listeners[event] = this.listeners[event]?.filter((one) => one !== listener)
  }

  /** Tells all listeners, in the order in which they came. */
  protected tell<Name extends keyof Events>(event: Name, ...args: Events[Name]): void {
    for (const listener of this.listeners[event] ?? []) listener(...args)
  }

  protected isHeard(event: keyof Events): boolean {
    return (this.listeners[event]?.length ?? 0) > 0
  }
}
