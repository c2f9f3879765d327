import type { Evidence, Finding, Remedy } from '@taraf/contract'
import { defineCheck, judgedAs, refusal, shown } from '../check'
import { outputsOf } from '../geometry'
import { hasMotors } from '../sheetHas'
import { want } from '../take'
import { escsIn, outputWords, readEscs } from './read'

/** Every ESC of the sheet answers when it is read, and none beside them. */
export const found = defineCheck({
  id: 'escs.found',
  version: 1,
  station: 'escs',
  title: 'All ESCs found',
  proves: 'Every ESC answers when it is read, as many as the build sheet says.',
  words: (sheet) => ({
    ...Object.fromEntries(outputsOf(sheet).map((output) => [`esc${output}`, `ESC at output ${output}`])),
    beside: 'ESCs that the sheet has not',
    firmware: 'Firmware',
  }),
  needs: ['intake.firstPower'],
  reads: { settings: [], parts: ['ESC'], acts: ['board', 'knock'], image: false, escs: [] },
  appliesTo: hasMotors,
  stages: null,
  *take() {
    yield* want.reports(readEscs)
  },
  evaluate: (evidence) => foundFindings(evidence),
})

const foundFindings = (evidence: Evidence): Finding[] => {
  const escs = escsIn(evidence, readEscs.label)
  const read = evidence.segments.find((s) => s.label === readEscs.label)?.reports?.escs
  if (read === undefined) return refusal('the ESCs were not read', 'Run it again.')
  const silent = [...escs].flatMap(([output, esc]) => (esc === null ? [output] : []))
  const beside = read.flatMap(({ output, found: answers }) => (answers && !escs.has(output) ? [output] : []))
  const versions = [...escs].flatMap(([output, esc]) => (esc === null ? [] : [[output, esc.firmware ?? 'not told'] as const]))
  const same = new Set(versions.map(([, version]) => version)).size === 1
  return [
    ...[...escs].map(([output, esc]) =>
      judgedAs(`esc${output}`, esc === null ? 'silent' : 'answers', 'answers', silentRemedy(silent, escs.size)),
    ),
    judgedAs('beside', beside.length === 0 ? 'none' : outputWords(beside), 'none', {
      by: 'technician',
      act: 'Compare the wiring with the build sheet: something answers where the sheet has no motor.',
    }),
    ...(versions.length === 0
      ? []
      : [
          shown(
            'firmware',
            same ? (versions[0]?.[1] ?? '') : versions.map(([output, version]) => `output ${output}: ${version}`).join(', '),
            '',
          ),
        ]),
  ]
}

/** A single silent one is mostly its plug; all of them at once mostly what they have in common. */
const silentRemedy = (silent: readonly number[], count: number): Remedy => ({
  by: 'work',
  act:
    silent.length === count && count > 1
      ? 'No ESC answers. Battery out: look at what they share, the plug of their leads at the board and their power wires; then in again. If they still say nothing, see at "Motor signal" what the board sends them.'
      : `Battery out. Look at the plug at ${outputWords(silent)}: a bent pin or a plug that is not home is the usual cause. If it still does not answer, replace that ESC.`,
  work: ['reseat ESC plug', 'replace ESC'],
  outputs: [...silent],
})
