import type { Want } from '@taraf/contract'
import type { Recorder } from '../run'
import { calibrate, escs, reports, write } from './board'
import { capture, control, pose, turn } from './sampled'
import { log, state, watch } from './watched'

/** A list in the middle of a take is answered item by item, all at once; one that is the whole of a take comes with its request. */
const answers: Recorder<'answers'> = async (run, { want }) => {
  const observations = await run.answers()
  if (want.confirms === 'props on' && observations.every(({ answer }) => answer !== false)) await run.propsOn()
  return { segment: { label: want.label, streams: {} }, observations }
}

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
