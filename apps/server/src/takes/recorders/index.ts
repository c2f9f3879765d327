import type { Want } from '@taraf/contract'
import type { Recorder } from '../run'
import { calibrate, escs, reports, write } from './board'
import { capture, control, pose, turn } from './sampled'
import { log, state, watch } from './watched'

/** What a list asks is answered in its request: a take at a bench never gets there. */
const answers: Recorder<'answers'> = () => Promise.reject(new Error('a list is answered in its request'))

/** One recorder for each kind of want. */
export const recorders: { readonly [K in Want['kind']]: Recorder<K> } = {
  capture,
  pose,
  control,
  turn,
  watch,
  log,
  reports,
  answers,
  write,
  calibrate,
  escs,
  state,
}
