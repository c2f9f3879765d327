import { Socket } from 'node:net'
import type { Work } from '../src/work/work'
import { workBy } from '../src/work/work'
import * as evidenceWork from '../src/work/evidenceWork'
import * as fileWork from '../src/work/fileWork'
import * as passwordWork from '../src/work/passwordWork'
import { JumpClock, elapsed, type Clock } from '@taraf/takes'
import { machineClock } from '../src/clock'

/**
 * The time that the tests of one file go by. It jumps to what is due next once nothing is in flight, though sockets and database are real; a
 * world of several processes makes it the machine's.
 */
let jumps: JumpClock | null = null

/** What is under way outside of this thread: queries, and work of threads of the library's own. */
const inFlight = new Set<object>()
let landed: () => void = () => {}
const took = (what: object): void => void inFlight.add(what)
const lands = (what: object): void => {
  inFlight.delete(what)
  if (inFlight.size === 0) landed()
}

/** A message goes over a socket of this machine in one turn of the loop. */
const quietTurns = 3
/** A query that waits for so long, of real time, waits for a lock: time goes on for whoever has it, ms. */
const lockMs = 50

const settled = async (): Promise<void> => {
  for (let quiet = 0; quiet < quietTurns; quiet++) {
    await new Promise((resolve) => setImmediate(resolve))
    if (inFlight.size === 0) continue
    let timer: NodeJS.Timeout | undefined
    await new Promise<void>((resolve) => {
      landed = resolve
      timer = setTimeout(resolve, lockMs)
    })
    clearTimeout(timer)
    if (inFlight.size > 0) return
    quiet = -1
  }
}

/** Begins the time of a world; returns its clock. */
export const beginTime = (inRealTime: boolean): Clock =>
  (jumps = inRealTime ? null : new JumpClock(new Date(), settled)) ?? machineClock

/** The clock of this file's world. */
export const clock = (): Clock => jumps ?? machineClock

let awaited = 0
let idle: () => void = () => {}
/** Lets time run until the work is done: of several that are waited for, until all are. */
export const lasts = async <T>(work: Promise<T>): Promise<T> => {
  if (jumps === null) return work
  awaited += 1
  if (awaited === 1) void jumps.until(new Promise<void>((resolve) => (idle = resolve)))
  try {
    return await work
  } finally {
    awaited -= 1
    if (awaited === 0) idle()
  }
}

export const nowMs = (): number => clock().nowMs()
export const pause = (ms: number): Promise<void> => lasts(elapsed(clock(), ms / 1000))
/** Calls every so often, until what it returns is called. */
export const every = (ms: number, call: () => void): (() => void) => clock().every(ms, call)

/** How often it is looked whether something is so, ms. */
const lookMs = 50
/** Waits until something is so. Throws after `ms`. */
export const eventually = async (so: () => Promise<boolean> | boolean, ms = 15_000): Promise<void> => {
  const until = nowMs() + ms
  while (nowMs() < until) {
    if (await so()) return
    await pause(lookMs)
  }
  throw new Error(`not so after ${ms} ms`)
}

const ready = Buffer.from([0x5a, 0, 0, 0, 5])
/** A connection to the database that says whether an answer is to come (PostgreSQL 15, chapter 55: "ReadyForQuery"). */
class Wire extends Socket {
  constructor() {
    super()
    this.on('data', (bytes: Buffer) => bytes.includes(ready) && lands(this))
    this.on('close', () => lands(this))
  }

  override connect(...args: unknown[]): this {
    took(this)
    return (super.connect as (...all: unknown[]) => this)(...args)
  }

  override write(...args: unknown[]): boolean {
    took(this)
    return (super.write as (...all: unknown[]) => boolean)(...args)
  }
}
export const wire = (): Socket => new Wire()

/** The work of a server's processes, done here: they take a second each to start. */
export const workHere = (): Work => {
  const here =
    (functions: object) =>
    async <T>(name: string, given: unknown): Promise<T> => {
      const work = {}
      took(work)
      try {
        const one = (functions as Record<string, ((given: unknown) => T | Promise<T>) | undefined>)[name]
        if (one === undefined) throw new Error(`no process does "${name}"`)
        return await one(given)
      } finally {
        lands(work)
      }
    }
  return workBy(here(passwordWork), here(fileWork), here(evidenceWork), async () => {})
}
