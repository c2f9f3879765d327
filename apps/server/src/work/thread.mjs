// A thread of a pool: loads the TypeScript module that it is told and does by name what that exports.
import { readlinkSync } from 'node:fs'
import { constants, setPriority } from 'node:os'
import { basename } from 'node:path'
import { workerData } from 'piscina'
import { tsImport } from 'tsx/esm/api'

try {
  // Linux counts priority by thread: whatever is heavy gives way to the one that stops motors.
  setPriority(Number(basename(readlinkSync('/proc/thread-self'))), constants.priority.PRIORITY_LOW)
} catch {
  // Elsewhere all threads are alike.
}
const work = await tsImport(workerData, import.meta.url)

export default ({ name, given }) => work[name](given)
