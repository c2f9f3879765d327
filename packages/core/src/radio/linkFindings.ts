import type { Evidence, Finding, LinkTells } from '@taraf/contract'
import { byHand, judged, judgedAs, refusal, shown } from '../check'
import { limitFor } from '../limits'
import { mean } from '../statistics'
import { linkAnswers, linkSegments, wantsTelemetry } from './asked'
import { framesOf } from './frames'
import { lightsOf } from './receiver'
import { silentRemedy } from './silent'
import { strengthFindings } from './strength'

const leastRows = 10

const answerOf = ({ observations = [] }: Evidence, item: string) => observations.findLast((o) => o.item === item)?.answer

/** How the receiver and its transmitter stand with each other. */
export const linkFindings = (evidence: Evidence): Finding[] => {
  const frames = framesOf(evidence, linkSegments.heard)
  const told = [
    ...said('transmitter', answerOf(evidence, linkAnswers.transmitter)),
    ...said('model', answerOf(evidence, linkAnswers.model)),
  ]
  const kind = kindOf(evidence)
  if (frames === null || frames.t.length < leastRows) return [...kind, notHeard(evidence, kind), ...told]
  const missing = Object.values(linkSegments).find((label) => !evidence.segments.some((s) => s.label === label))
  if (missing !== undefined) return refusal(`the segment "${missing}" is missing`, 'Run it again.')
  const power = powerOn(evidence)
  const off = transmitterOff(evidence)
  const refused = [...off, ...power].filter((f) => f.verdict === 'refused')
  if (refused.length > 0) return refused.slice(0, 1)
  const rate = (frames.t.length - 1) / ((frames.t[frames.t.length - 1] as number) - (frames.t[0] as number))
  return [
    ...kind,
    judgedAs('heard', 'yes', 'yes'),
    judged('frames', rate, 'a second', { min: limitFor(evidence.sheet, 'sockets.receiverFrames').min }, weak),
    judged('quality', 100 * worstQuality(evidence), '%', { min: limitFor(evidence.sheet, 'radio.quality').min }, weak),
    ...off,
    heardAgain(evidence, 'transmitterOn', linkSegments.on),
    ...power,
    ...strengthFindings(evidence, [linkSegments.heard, linkSegments.on, linkSegments.again]),
    ...telemetry(evidence),
    ...told,
  ]
}

const said = (key: string, answer: boolean | number | string | undefined): Finding[] =>
  answer === undefined || typeof answer === 'boolean' ? [] : [shown(key, answer, '')]

const weak = byHand("Place the receiver's antenna clear of carbon and leads. If it says so again, replace the receiver.", [
  'place receiver antenna',
  'replace receiver',
])

/** The kind of signal that the board is set to, against the sheet. */
const kindOf = ({ sheet, board: { settings, choices } }: Evidence): Finding[] => {
  const [set, wanted] = [settings?.['radio.kind'], sheet.settings?.['radio.kind']]
  if (set === undefined) return []
  const word = (kind: number) => choices?.['radio.kind']?.[kind] ?? `kind ${kind}`
  if (wanted === undefined) return [shown('kind', word(set), '')]
  const act = `Set the board to the receiver's kind: ${word(wanted)}.`
  return [judgedAs('kind', word(set), word(wanted), { by: 'settings', act, settings: { 'radio.kind': wanted } })]
}

/** Nothing arrived: why, by what its light shows and by what the board is set to. */
const notHeard = (evidence: Evidence, [kind]: readonly Finding[]): Finding => {
  const { sheet } = evidence
  const light = answerOf(evidence, linkAnswers.light)
  const tells = lightsOf(sheet).find(([shows]) => shows === light)?.[1] ?? null
  const model = answerOf(evidence, linkAnswers.model)
  const isOtherKind = (tells === 'heard' || tells === null) && kind?.remedy !== undefined
  const value = isOtherKind ? 'no: the board is set to another kind of signal' : whyNot[tells ?? 'unknown']
  const remedy = isOtherKind ? kind.remedy : silentRemedy(sheet, tells, typeof model === 'number' ? model : null)
  return judgedAs('heard', value, 'yes', remedy)
}
const whyNot: Readonly<Record<LinkTells | 'unknown', string>> = {
  'no power': 'no: the receiver has no power',
  unbound: 'no: the receiver is bound to no transmitter',
  unheard: 'no: the receiver does not hear the transmitter that it is bound to',
  heard: 'no: the receiver hears, and its signal does not reach the board',
  binds: 'no: the receiver waits to be bound',
  unknown: 'no',
}

const qualityOf = (evidence: Evidence, label: string): number[] => {
  const quality = evidence.segments.find((s) => s.label === label)?.streams.radio?.quality
  return quality === undefined ? [1] : Array.from(quality)
}
/** The worst of all that was heard, each time that they met: a link that comes back poor is a poor one. */
const worstQuality = (evidence: Evidence): number =>
  Math.min(...[linkSegments.heard, linkSegments.on, linkSegments.again].map((label) => mean(qualityOf(evidence, label))))
const eventsOf = (evidence: Evidence, label: string) => evidence.segments.find((s) => s.label === label)?.events ?? []

/** The transmitter was off: the board must have known it. */
const transmitterOff = (evidence: Evidence): Finding[] => {
  const label = linkSegments.off
  const heardThen = framesOf(evidence, label)
  const known = eventsOf(evidence, label).find((e) => e.what === 'loss' && (e.phase === 'wait' || e.phase === 'act'))
  const last = heardThen?.t.at(-1) ?? framesOf(evidence, linkSegments.heard)?.t.at(-1)
  if (known !== undefined)
    return [
      judgedAs('transmitterOff', knew, knew),
      ...(last === undefined ? [] : [shown('notice', Math.max(0, known.t - last), 's')]),
    ]
  const rows = evidence.segments.find((s) => s.label === label)?.streams.radio?.t
  const end = rows?.[rows.length - 1]
  if (heardThen !== null && end !== undefined && end - (last ?? 0) < 1)
    return refusal(
      'good frames went on coming: the transmitter was not switched off, or the receiver sends on without saying so',
      'Run it again, and switch it off when it says so. If it says this again, set the receiver to send nothing once it hears no transmitter.',
    )
  const value = rows === undefined || rows.length === 0 ? 'the board did not say so' : 'the receiver went on sending'
  return [
    judgedAs(
      'transmitterOff',
      value,
      knew,
      byHand('Set the receiver to send nothing once it hears no transmitter, by the steps of its maker.', [
        'set receiver silent',
      ]),
    ),
  ]
}
const knew = 'the board knew'

const heardAgain = (evidence: Evidence, key: string, label: string): Finding => {
  const frames = framesOf(evidence, label)
  const isHeard = frames !== null && frames.t.length >= leastRows
  return judgedAs(key, isHeard ? 'yes' : 'no', 'yes', silentRemedy(evidence.sheet, 'unheard', null))
}

/** All power was off, as the board's clock says, which began again; and they met again. */
const powerOn = (evidence: Evidence): Finding[] => {
  const wasLost = eventsOf(evidence, linkSegments.power).some((e) => e.what === 'link' && e.link === 'lost')
  const before = framesOf(evidence, linkSegments.on)?.t.at(-1)
  const after = evidence.segments.find((s) => s.label === linkSegments.again)?.streams.radio?.t[0]
  const act = 'Run it again, and take battery and cable off when it says so.'
  if (!wasLost) return refusal('the cable stayed in', act)
  if (before !== undefined && after !== undefined && after >= before) return refusal('the board stayed on', act)
  return [heardAgain(evidence, 'powerOn', linkSegments.again)]
}

const telemetry = (evidence: Evidence): Finding[] => {
  if (!wantsTelemetry(evidence.sheet)) return []
  const isOn = evidence.board.settings?.['telemetry.use'] === 1
  const isSeen = answerOf(evidence, linkAnswers.telemetry) === true
  const wire = byHand(
    'Compare the telemetry wire of the receiver with the wiring sheet and push it in; let the transmitter look for its values.',
    ['fit telemetry wire'],
  )
  return [
    judgedAs('telemetryOn', isOn ? 'on' : 'off', 'on', {
      by: 'settings',
      act: 'Switch telemetry on.',
      settings: { 'telemetry.use': 1 },
    }),
    // One that is off cannot be seen: that is repaired first.
    judgedAs('telemetrySeen', isSeen ? 'seen' : 'not seen', 'seen', isOn ? wire : undefined),
  ]
}
