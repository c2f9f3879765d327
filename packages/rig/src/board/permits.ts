export const permitKinds = ['spin', 'armed-bench', 'armed-alone', 'teach', 'flight'] as const
export type PermitKind = (typeof permitKinds)[number]

export interface Permit {
  readonly kind: PermitKind
  readonly token: string
  readonly powerId: string
}
export type PermitRefusal = 'held' | 'power-changed' | 'token' | 'props' | 'no-battery'

/** Whether a board may be armed by its own means under a permit. */
export const mayBeArmed = (permit: Permit | null): boolean =>
  permit?.kind === 'armed-bench' || permit?.kind === 'armed-alone' || permit?.kind === 'flight'

const spinKeptS = 0.2
const idleS = 120
const teachS = 30

/**
 * Nothing turns without a permit, one at a time, bound to one battery connection. `spin` is lost 0.2 s after its last
 * renewal; the armed ones when they have been unused for two minutes; `teach` when its script is over.
 */
export class Permits {
  private held: Permit | null = null
  private keptUntil = -Infinity
  private count = 0

  constructor(private readonly serial: string) {}

  get current(): Permit | null {
    return this.held
  }

  /** `props` is what the asker has confirmed. A refused request changes nothing. */
  grant(
    kind: PermitKind,
    props: 'off' | 'on',
    asked: string,
    powerId: string,
    battery: boolean,
    t: number,
  ): Permit | PermitRefusal {
    if (this.held !== null) return 'held'
    if (asked !== powerId) return 'power-changed'
    if (props !== (kind === 'flight' ? 'on' : 'off')) return 'props'
    // Teaching begins before the battery: its connection is what the ESCs listen at.
    if (kind === 'teach' ? battery : !battery) return 'no-battery'
    this.count += 1
    this.held = { kind, token: `${this.serial}/${powerId}/${this.count}`, powerId }
    this.keptUntil = t + (kind === 'spin' ? spinKeptS : kind === 'teach' ? teachS : idleS)
    return this.held
  }

  /** A renewal; a foreign token takes the permit away, so that whatever turns stops. */
  renew(token: string, t: number): PermitRefusal | null {
    if (this.held?.token !== token) {
      this.drop()
      return 'token'
    }
    if (this.held.kind === 'spin') this.keptUntil = t + spinKeptS
    return null
  }

  /** An armed permit is kept by being used. */
  use(t: number): void {
    if (mayBeArmed(this.held)) this.keptUntil = t + idleS
  }

  /** Returns the permit that was lost by time, or null. */
  step(t: number): Permit | null {
    const { held } = this
    if (held === null || t <= this.keptUntil) return null
    this.drop()
    return held
  }

  drop(): void {
    this.held = null
    this.keptUntil = -Infinity
  }

  /** Another battery connection: only a `teach` permit lives through the one that it waits for. */
  powerChanged(powerId: string): void {
    if (this.held?.kind === 'teach' && this.held.powerId !== powerId && !this.held.powerId.endsWith('+')) {
      this.held = { ...this.held, powerId: `${powerId}+` }
      return
    }
    this.drop()
  }
}
