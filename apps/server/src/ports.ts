import type { Duplex } from 'node:stream'
import type { Clock } from '@taraf/takes'
import { WebSocket, type ClientOptions } from 'ws'
import { machineClock } from './clock'
import { openWork, type Work } from './work/work'

/** Opens a socket to a board or to another server. */
export type Dial = (address: string, options: ClientOptions) => WebSocket

/** What joins a server to all that lies outside it. A simulation puts its own in their place. */
export interface Ports {
  readonly clock: Clock
  readonly dial: Dial
  /** The stream of one more connection to the database, not yet connected; undefined for one over TCP. */
  readonly wire: (() => Duplex) | undefined
  /** The processes of heavy work. */
  readonly work: () => Work
}

export const machinePorts: Ports = {
  clock: machineClock,
  dial: (address, options) => new WebSocket(address, options),
  wire: undefined,
  work: openWork,
}
