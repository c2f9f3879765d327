import type { Remedy, SheetFirmware } from '@taraf/contract'
import { byHand, defineCheck, reportsOf, refusal, shown } from '../check'
import { hasBoard } from '../sheetHas'
import { want } from '../take'
import { wantedVersion } from './firmware'

/** Who the board says it is, against the sheet. */
export const identity = defineCheck({
  id: 'board.identity',
  version: 2,
  station: 'board',
  title: 'Board identity',
  proves: 'It is the board that the sheet names, and it runs an image.',
  words: { serial: 'Serial of the board', target: 'Target', firmware: 'Image it runs' },
  needs: [],
  reads: { settings: [], parts: ['board'], acts: [], image: true },
  appliesTo: hasBoard,
  stages: null,
  *take() {
    yield* want.reports({ label: 'asked', ask: 'Plug the cable in. The board says who it is.', of: ['identity'] })
  },
  evaluate: (evidence) => {
    const { identity } = reportsOf(evidence)
    if (identity === undefined) return refusal('the board was not asked who it is', 'Run it again.')
    const { board, target, firmware, loader } = identity
    const wanted = evidence.sheet.board?.target
    const named = firmware === null ? 'none' : `${firmware.name} ${firmware.version}`
    return [
      shown('serial', board, ''),
      wanted === undefined
        ? shown('target', target, '')
        : target === wanted
          ? { key: 'target', value: target, unit: '', limit: { equals: wanted }, verdict: 'pass' }
          : {
              key: 'target',
              value: target,
              unit: '',
              limit: { equals: wanted },
              verdict: 'fail',
              remedy: byHand(`Replace the board by one of target ${wanted}.`, ['replace board']),
            },
      firmware !== null && !loader
        ? { key: 'firmware', value: named, unit: '', verdict: 'pass' }
        : {
            key: 'firmware',
            value: loader ? 'the board is in its loader' : named,
            unit: '',
            verdict: 'fail',
            remedy: writeRemedy(evidence.sheet.board?.firmware),
          },
    ]
  },
})

const writeRemedy = (wanted: SheetFirmware | undefined): Remedy => {
  const waits = 'the board keeps waiting in its loader until a whole one is there'
  if (wanted === undefined) return byHand(`Write an image that is right for this airframe; ${waits}.`)
  const image = wantedVersion(wanted)
  return { by: 'image', act: `Write image ${image}: ${waits}.`, image }
}
