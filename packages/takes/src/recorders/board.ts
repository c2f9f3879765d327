import { type Got } from '@taraf/core'
import { askReports, changeEscs, changeSettings, type NotWritten, type SettingsAct } from '@taraf/core/atLink'
import { ProblemError } from '@taraf/contract'
import { onLink } from '../link/onLink'
import { until } from '../link/until'
import type { Recorder, Run } from '../run'

/** What the board answers: each step as the core says it, to the end, so that what a step tried is put back. */
export const reports: Recorder<'reports'> = async (run, { want }) => {
  run.say({ phase: 'capturing' })
  const found = await onLink(run.link, askReports(want.of))
  run.signal.throwIfAborted()
  return { segment: { label: want.label, streams: {}, reports: found } }
}

export const write: Recorder<'write'> = (run, { want }) => writing(run, { do: 'write', settings: want.settings })
export const calibrate: Recorder<'calibrate'> = (run, { want }) => writing(run, { do: 'calibrate', sensor: want.sensor })

/** What a calibration found is written as one act; what could not be is told as kept otherwise, and the take goes on to say so. */
const writing = async (run: Run, act: SettingsAct): Promise<Got> => {
  run.say({ phase: 'writing', share: 0 })
  const { link } = run
  const found = await unlessRefused(run, () => onLink(link, changeSettings(act)))
  if ('why' in found) return { written: { before: {}, after: {}, asked: {}, differs: [found.why] } }
  await run.wrote(found)
  return { written: found }
}

/** ESC settings over a power cycle: the technician takes the battery out and puts it in where the steps want that. */
export const escs: Recorder<'escs'> = async (run, { want }) => {
  run.say({ phase: 'writing', share: 0 })
  const { link } = run
  const battery = (wanted: 'off' | 'on') => {
    run.say({
      phase: 'waiting',
      guide: { words: wanted === 'off' ? 'Take the battery out.' : 'Put the battery in again.', tiltDeg: null },
    })
    return until(link, run.signal, () => (link.state?.power === 'cable') === (wanted === 'off'))
  }
  const found = await unlessRefused(run, () =>
    onLink(link, changeEscs(want.outputs, want.settings), { battery, keep: (change) => run.changed(change) }),
  )
  return { escs: 'why' in found ? { before: [], after: [], differs: [found.why] } : found }
}

/**
 * Nothing is written before every motor has come to rest. What a board would not do is told, and the take goes on to say so; a link that is
 * lost ends it.
 */
const unlessRefused = async <T>(run: Run, act: () => Promise<T>): Promise<T | NotWritten> => {
  await until(run.link, run.signal, () => run.link.state?.motors === 'still')
  try {
    return await act()
  } catch (error) {
    if (!(error instanceof ProblemError) || error.type === 'link-lost') throw error
    return { why: error.detail }
  }
}
