// A thread of a pool: loads the TypeScript module that it is told and does by name what that exports.
import { workerData } from 'piscina'
import { tsImport } from 'tsx/esm/api'

const work = await tsImport(workerData, import.meta.url)

export default ({ name, given }) => work[name](given)
