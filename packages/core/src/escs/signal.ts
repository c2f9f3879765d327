import { entryOf, type Evidence, type Finding, type Remedy, type SheetPart } from '@taraf/contract'
import { hertz } from '../board/hertz'
import { defineCheck, judged, judgedAs, refusal, shown } from '../check'
import { outputsOf } from '../geometry'
import { hasMotors } from '../sheetHas'
import { mean } from '../statistics'
import { frameUs, kbitOf } from './frame'
import { ofOutput, outputWords, powered, readEscs } from './read'

const replies = {
  kind: 'capture',
  label: 'replies',
  ask: 'Leave it: the board asks every ESC, and no motor turns.',
  atOnce: true,
  seconds: 3,
  enoughS: 2,
  streams: ['escs'],
  state: powered,
} as const
/** More than this share of bad replies, and none is understood: a wire that is only bad loses some. */
const silentAbove = 0.9

/** The largest prop, in, up to which a signal is clean on the wires that such a frame has (common practice; DShot1200 from memory). */
const mostInch: Readonly<Record<string, number>> = { DShot600: 7, DShot1200: 3, MultiShot: 7 }
/** Signals in the order in which one is chosen: the one that every size takes first, then the next fast enough. */
const preferred = ['DShot300', 'DShot600', 'DShot150', 'DShot1200', 'MultiShot', 'OneShot125', 'PWM']

/** What the board sends the ESCs: whether they understand it, the size of the frame allows it, and a whole frame fits the period. */
export const signal = defineCheck({
  id: 'escs.signal',
  version: 1,
  station: 'escs',
  title: 'Motor signal',
  proves: 'The board uses a motor signal that the ESCs understand, that the wires carry and that fits the period.',
  words: {
    understood: 'Signal',
    wireLength: 'Prop, for the length of the wires',
    frameUs: 'One command on the wire, whole',
    silent: 'ESCs that do not understand it',
  },
  needs: ['escs.found'],
  reads: {
    settings: ['esc.signal', 'esc.replies', 'loop.rate'],
    parts: ['ESC'],
    acts: ['board'],
    image: true,
  },
  appliesTo: hasMotors,
  stages: null,
  *take() {
    yield readEscs
    yield replies
  },
  optional: [replies],
  evaluate: (evidence) => signalFindings(evidence),
})

const signalFindings = (evidence: Evidence): Finding[] => {
  const { sheet, board } = evidence
  const names = board.choices?.['esc.signal'] ?? []
  const spoken = names[board.settings?.['esc.signal'] ?? -1]
  const loopHz = hertz(board.choices?.['loop.rate']?.[board.settings?.['loop.rate'] ?? -1] ?? '')
  if (spoken === undefined || loopHz === 0)
    return refusal('the board does not say which signal it sends, or how often', 'Link the board again, then run it again.')
  const withReplies = board.settings?.['esc.replies'] === 1
  const { understands } = sheet.escs ?? { understands: [] as string[] }
  const inch = inchesOf(sheet)
  const periodUs = 1e6 / loopHz
  const allows = (name: string) => inch <= (entryOf(mostInch, name) ?? Infinity) && frameUs(name, withReplies) <= periodUs
  const better = preferred.find((name) => names.includes(name) && understands.includes(name) && allows(name))
  const write: Remedy =
    better === undefined
      ? {
          by: 'technician',
          act: 'No signal that these ESCs understand fits this size and this loop: write a slower loop into the build sheet, or fit other ESCs.',
        }
      : { by: 'settings', act: `Send ${better}.`, settings: { 'esc.signal': names.indexOf(better) } }
  const longest = entryOf(mostInch, spoken)
  const understood = understands.includes(spoken)
  return [
    understood
      ? { key: 'understood', value: spoken, unit: '', limit: { equals: spoken }, verdict: 'pass' }
      : judgedAs('understood', spoken, better ?? understands.join(' or '), write),
    longest === undefined ? shown('wireLength', inch, 'in') : judged('wireLength', inch, 'in', { max: longest }, write),
    judged('frameUs', frameUs(spoken, withReplies), 'us', { max: periodUs }, write),
    ...(understood && withReplies && kbitOf(spoken) !== null ? silentFinding(evidence, spoken) : []),
  ]
}

/** The diameter of the props as they are sold, in. */
const inchesOf = ({ geometry }: SheetPart): number => Math.round((10 * (geometry?.propDiameterM ?? 0)) / 0.0254) / 10

/** ESCs whose replies are all bad: of some of them, that they do not understand; of all, that is looked into at their data. */
const silentFinding = ({ sheet, segments }: Evidence, spoken: string): Finding[] => {
  const stream = segments.find((s) => s.label === replies.label)?.streams.escs
  if (stream === undefined) return []
  const outputs = outputsOf(sheet)
  const silent = outputs.filter((output) => {
    const errors = ofOutput(stream, 'err', output)
    return errors === undefined || mean(errors) > silentAbove
  })
  return [
    judgedAs(
      'silent',
      silent.length === 0 || silent.length === outputs.length ? 'none alone' : outputWords(silent),
      'none alone',
      {
        by: 'work',
        act: `The ESC at ${outputWords(silent)} does not understand ${spoken}, and the others do: it is of an older make. Battery out; replace it.`,
        work: ['replace ESC'],
        outputs: silent,
      },
    ),
  ]
}
