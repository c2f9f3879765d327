import '../noEval'
import { benchView } from '@taraf/contract'
import { z } from 'zod'

/** What the server's answers must look like, by name: the contract's schemas, and lists of them that it does not name. */
export * from '@taraf/contract'
export const benches = z.array(benchView)
