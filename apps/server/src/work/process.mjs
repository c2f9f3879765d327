// A process of a pool: loads the TypeScript module that it is told and does by name what that exports.
import { constants, setPriority } from 'node:os'
import { tsImport } from 'tsx/esm/api'
import workerpool from 'workerpool'

// Whatever is heavy gives way to the process that stops motors.
setPriority(constants.priority.PRIORITY_LOW)
// Whoever asked may be gone before it has begun; what cannot be told to anybody ends it.
process.once('error', () => process.exit(1))
if (process.connected) workerpool.worker({ ...(await tsImport(process.argv[2], import.meta.url)) })
