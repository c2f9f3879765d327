import type { Evidence, Finding, LinkTells, Question, SheetPart, WantOf } from '@taraf/contract'
import { byHand, defineCheck, judged, judgedAs, refusal, shown } from '../check'
import { limitFor } from '../limits'
import { mean } from '../statistics'
import { want } from '../take'
import { framesOf, onTheWay } from './frames'
import { bindingOf, lightsOf, silentRemedy } from './receiver'
import { strengthFindings } from './strength'

const state = { disarmed: true } as const
const heard = { kind: 'capture', streams: ['radio'], mayLack: ['radio'], seconds: 20, state } as const
/** Heard well enough to go on: good frames for so long without a break. */
const until = { stream: 'radio', column: 'quality', least: 0.1, lastsS: 2 } as const
const leastRows = 10

const steps = {
  heard: {
    ...heard,
    label: 'heard',
    ask: 'Switch the transmitter on, with the model of this airframe chosen. The receiver has power.',
    enoughS: 2,
    until,
  },
  off: {
    kind: 'watch',
    label: 'transmitter-off',
    ask: 'Switch the transmitter off.',
    streams: ['radio'],
    mayLack: ['radio'],
    seconds: 60,
    until: ['loss:wait', 'loss:act'],
    atOnce: true,
    state,
  },
  on: {
    ...heard,
    label: 'transmitter-on',
    ask: 'Switch the transmitter on again.',
    atOnce: true,
    enoughS: 2,
    until,
    seconds: 60,
  },
  power: {
    kind: 'watch',
    label: 'power-off',
    ask: 'Leave the transmitter on. Take all power off the airframe, battery and cable; wait for two seconds; cable in again.',
    streams: [],
    seconds: 120,
    until: ['link:up'],
    mayLoseLink: true,
    atOnce: true,
    state,
  },
  again: {
    ...heard,
    label: 'power-on',
    ask: 'Wait until the receiver hears the transmitter again.',
    atOnce: true,
    enoughS: 2,
    until,
  },
} as const satisfies Record<string, WantOf<'capture'> | WantOf<'watch'>>
const afterHeard = [steps.off, steps.on, steps.power, steps.again] as const
const asked = { kind: 'answers', label: 'told', ask: 'Look at the transmitter and at the receiver.' } as const

/** What the questions of this check are called in its evidence. */
export const linkAnswers = { transmitter: 'flownWith', model: 'model', light: 'receiverLight', telemetry: 'telemetry' } as const

const whose: readonly Question[] = [
  {
    id: linkAnswers.transmitter,
    words: 'Transmitter in your hands',
    why: 'What is set on it is kept on its own card.',
    answer: 'text',
  },
  {
    id: linkAnswers.model,
    words: 'Number of the model that is chosen on it',
    why: 'A receiver is bound to one model, and settings are kept by model.',
    answer: 'number',
    unit: '',
  },
]
const lightQuestion = (sheet: SheetPart): Question => ({
  id: linkAnswers.light,
  words: "The receiver's light shows",
  why: 'It tells a receiver that is not bound from one whose lead is out.',
  answer: [...lightsOf(sheet).map(([shows]) => shows), 'none of these'],
})
const telemetryQuestion: Question = {
  id: linkAnswers.telemetry,
  words: "The transmitter shows the voltage that the airframe's board measures.",
  why: 'Telemetry needs its wire, the board’s setting and a transmitter that shows it.',
  answer: 'so',
}
const wantsTelemetry = ({ settings }: SheetPart): boolean => settings?.['telemetry.use'] === 1

/** The receiver: its kind, heard, heard again after either end was off, what it says of its strength, and telemetry where it is wanted. */
export const link = defineCheck({
  id: 'radio.link',
  version: 1,
  station: 'radio',
  title: 'Radio link',
  proves: 'Receiver and transmitter are bound, and find each other again whichever of them was off.',
  words: {
    kind: "Receiver's signal",
    heard: 'Heard by the board',
    frames: 'Frames',
    quality: 'Frames that arrive whole, close by',
    notice: 'Until the board knew that the transmitter was off',
    transmitterOff: 'Transmitter off',
    transmitterOn: 'Heard again after the transmitter was off',
    powerOn: 'Heard again after the airframe was off',
    strengthChannel: 'Strength is told on',
    transmitter: 'Transmitter',
    model: 'Model chosen on it',
    telemetryOn: 'Telemetry on the board',
    telemetrySeen: 'Telemetry on the transmitter',
  },
  needs: ['board.sockets'],
  reads: {
    settings: ['radio.kind', 'radio.strengthChannel', 'telemetry.use', 'loss.notice', 'socket.*'],
    parts: [...onTheWay, 'receiver antenna', 'telemetry wire'],
    acts: ['transmitter'],
    onTransmitter: () => false,
    image: true,
  },
  appliesTo: (sheet) => !sheet.setAside?.includes('radio.link'),
  stages: null,
  optional: [...afterHeard, { ...asked, questions: [] }],
  *take(soFar) {
    const { sheet } = soFar
    yield steps.heard
    if (soFar.findings().some(({ key, verdict }) => key === 'heard' && verdict === 'fail')) {
      yield* want.answers({ ...asked, questions: [lightQuestion(sheet), ...whose] })
      return
    }
    for (const step of afterHeard) yield step
    yield* want.answers({ ...asked, questions: [...whose, ...(wantsTelemetry(sheet) ? [telemetryQuestion] : [])] })
  },
  opens: ({ sheet }) => {
    const putBack = bindingOf(sheet)?.putBack
    return putBack === undefined ? [] : [{ what: 'put back', words: putBack, blocks: true }]
  },
  evaluate: (evidence) => linkFindings(evidence),
})

const answerOf = ({ observations = [] }: Evidence, item: string) => observations.findLast((o) => o.item === item)?.answer

/** How the receiver and its transmitter stand with each other. */
export const linkFindings = (evidence: Evidence): Finding[] => {
  const frames = framesOf(evidence, 'heard')
  const told = [
    ...said('transmitter', answerOf(evidence, linkAnswers.transmitter)),
    ...said('model', answerOf(evidence, linkAnswers.model)),
  ]
  const kind = kindOf(evidence)
  if (frames === null || frames.t.length < leastRows) return [...kind, notHeard(evidence, kind), ...told]
  const missing = afterHeard.find(({ label }) => !evidence.segments.some((s) => s.label === label))
  if (missing !== undefined) return refusal(`the segment "${missing.label}" is missing`, 'Run it again.')
  const power = powerOn(evidence)
  const off = transmitterOff(evidence)
  const refused = [...off, ...power].filter((f) => f.verdict === 'refused')
  if (refused.length > 0) return refused.slice(0, 1)
  const rate = (frames.t.length - 1) / ((frames.t[frames.t.length - 1] as number) - (frames.t[0] as number))
  return [
    ...kind,
    judgedAs('heard', 'yes', 'yes'),
    judged('frames', rate, 'a second', { min: limitFor(evidence.sheet, 'sockets.receiverFrames').min }, weak),
    judged(
      'quality',
      100 * mean(qualityOf(evidence, 'heard')),
      '%',
      { min: limitFor(evidence.sheet, 'radio.quality').min },
      weak,
    ),
    ...off,
    heardAgain(evidence, 'transmitterOn', 'transmitter-on'),
    ...power,
    ...strengthFindings(evidence, [steps.heard.label, steps.on.label, steps.again.label]),
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
const eventsOf = (evidence: Evidence, label: string) => evidence.segments.find((s) => s.label === label)?.events ?? []

/** The transmitter was off: the board must have known it. */
const transmitterOff = (evidence: Evidence): Finding[] => {
  const { label } = steps.off
  const heardThen = framesOf(evidence, label)
  const known = eventsOf(evidence, label).find((e) => e.what === 'loss' && (e.phase === 'wait' || e.phase === 'act'))
  const last = heardThen?.t.at(-1) ?? framesOf(evidence, 'heard')?.t.at(-1)
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
      byHand('Set the receiver to send nothing once it hears no transmitter, by the steps of its maker.'),
    ),
  ]
}
const knew = 'the board knew'

const heardAgain = (evidence: Evidence, key: string, label: string): Finding => {
  const frames = framesOf(evidence, label)
  const isHeard = frames !== null && frames.t.length >= leastRows
  return judgedAs(key, isHeard ? 'yes' : 'no', 'yes', silentRemedy(evidence.sheet, 'unheard', null))
}

/** All power was off, as the board's clock says, which began anew; and they met again. */
const powerOn = (evidence: Evidence): Finding[] => {
  const wasLost = eventsOf(evidence, 'power-off').some((e) => e.what === 'link' && e.link === 'lost')
  const before = framesOf(evidence, 'transmitter-on')?.t.at(-1)
  const after = evidence.segments.find((s) => s.label === 'power-on')?.streams.radio?.t[0]
  const act = 'Run it again, and take battery and cable off when it says so.'
  if (!wasLost) return refusal('the cable stayed in', act)
  if (before !== undefined && after !== undefined && after >= before) return refusal('the board stayed on', act)
  return [heardAgain(evidence, 'powerOn', 'power-on')]
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
    // One that is off cannot be seen: that is mended first.
    judgedAs('telemetrySeen', isSeen ? 'seen' : 'not seen', 'seen', isOn ? wire : undefined),
  ]
}
