import { readdirSync } from 'node:fs'
import { access } from 'node:fs/promises'
import { constants, setPriority } from 'node:os'

/**
 * Every thread of this process gives way to the one that stops motors: those that decode pictures and read files are Node's own, and at its
 * priority they would take a core from it for tens of milliseconds. Linux counts priority by thread; elsewhere all threads stay alike.
 */
export const othersGiveWay = async (): Promise<void> => {
  // Node starts the threads of its pool with the first work for them.
  await access('/')
  for (const thread of threads()) if (thread !== process.pid) giveWay(thread)
}

const giveWay = (thread: number): void => {
  try {
    setPriority(thread, constants.priority.PRIORITY_LOW)
  } catch {
    // It has ended meanwhile.
  }
}

const threads = (): number[] => {
  try {
    return readdirSync('/proc/self/task').map(Number)
  } catch {
    return []
  }
}
