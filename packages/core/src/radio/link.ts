import type { Question, SheetPart, WantOf } from '@taraf/contract'
import { defineCheck } from '../check'
import { want } from '../take'
import { linkAnswers, linkSegments, wantsTelemetry } from './asked'
import { onTheWay } from './sticks'
import { linkFindings } from './linkFindings'
import { bindingOf, lightsOf } from './receiver'

const state = { disarmed: true } as const
const heard = { kind: 'capture', streams: ['radio'], mayLack: ['radio'], seconds: 20, state } as const
/** Heard well enough to go on: good frames for so long without a break. */
const until = { stream: 'radio', column: 'quality', least: 0.1, lastsS: 2 } as const

const steps = {
  heard: {
    ...heard,
    label: linkSegments.heard,
    ask: 'Switch the transmitter on, with the model of this airframe chosen. The receiver has power.',
    enoughS: 2,
    until,
  },
  off: {
    kind: 'watch',
    label: linkSegments.off,
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
    label: linkSegments.on,
    ask: 'Switch the transmitter on again.',
    atOnce: true,
    enoughS: 2,
    until,
    seconds: 60,
  },
  power: {
    kind: 'watch',
    label: linkSegments.power,
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
    label: linkSegments.again,
    ask: 'Wait until the receiver hears the transmitter again.',
    atOnce: true,
    enoughS: 2,
    until,
  },
} as const satisfies Record<string, WantOf<'capture'> | WantOf<'watch'>>
const afterHeard = [steps.off, steps.on, steps.power, steps.again] as const
const asked = { kind: 'answers', label: 'told', ask: 'Look at the transmitter and at the receiver.' } as const

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

/** The receiver: its kind, heard, heard again after either end was off, what it says of its strength, and telemetry where it is wanted. */
export const link = defineCheck({
  id: 'radio.link',
  version: 2,
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
    strengthChannel: 'Strength channel',
    transmitter: 'Transmitter',
    model: 'Model chosen on it',
    telemetryOn: 'Telemetry on the board',
    telemetrySeen: 'Telemetry on the transmitter',
  },
  needs: ['board.sockets'],
  reads: {
    settings: ['radio.kind', 'radio.strengthChannel', 'telemetry.use', 'loss.notice', 'socket.*'],
    parts: [...onTheWay, 'receiver at loss', 'receiver antenna', 'telemetry wire'],
    acts: ['transmitter'],
    onTransmitter: () => false,
    image: true,
  },
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
  evaluate: linkFindings,
})
