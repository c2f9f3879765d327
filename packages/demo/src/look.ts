import type { AsBuilt, HandsState, Observation, Question } from '@taraf/contract'
import { armedAnswers, linkAnswers, seenAlone } from '@taraf/core'
import { allTurned, propAnswers } from '@taraf/core/motors'
import type { Felt } from './bench/person'

/** What each statement of the lists rests on, as the eye of somebody at the simulated bench tells it; the rest is as it should be. */
const seen: Readonly<Record<string, (eye: HandsState['eye']) => boolean>> = {
  videoAntenna: ({ videoAntenna }) => videoAntenna !== 'missing',
  motors: ({ rubbing }) => rubbing.length === 0,
  nothingElse: ({ pastBoard }) => pastBoard.length === 0,
}
/** The trust's transmitter, as it is called in the shop. */
const demoTransmitter = 'Trust hand-held 1'
const known: Readonly<Record<string, string | number>> = {
  testedBy: 'Joren, on the day that it came',
  purpose: 'survey of the saltmarsh',
  payload: 0.2,
  weight: 1.4,
  packs: '4 cells, 5000 mAh, three of them',
  transmitter: demoTransmitter,
}

/** Answers a list as a person at the simulated bench does: by what is to be seen there. */
export const lookAt = (
  questions: readonly Question[],
  { eye, transmitter, receiver, motors }: Pick<HandsState, 'eye' | 'transmitter' | 'receiver' | 'motors'>,
  airframe: AsBuilt,
  felt: Felt = new Map(),
): Observation[] =>
  questions.map(({ id, words, answer }) => {
    const read =
      id === 'tag'
        ? airframe.tag
        : id.startsWith('version of ')
          ? (eye.versions[id.slice(11)] ?? 'none shown')
          : (travelAt(transmitter, id) ??
            atTheRadio(transmitter, receiver, id) ??
            atTheMotors(motors, eye, id, words) ??
            fasterIn(felt, id) ??
            whileArmed(felt, id) ??
            onBatteryAlone(felt, id) ??
            known[id])
    return {
      segment: 'list',
      item: id,
      answer:
        answer === 'so'
          ? id === linkAnswers.telemetry
            ? transmitter.volts !== null
            : id === allTurned.id
              ? felt.get(allTurned.id)?.motors.every(({ turn }) => turn !== 'still') !== false
              : (seen[id]?.(eye) ?? true)
          : typeof answer === 'object'
            ? (answer.find((one) => one === read) ?? answer[0] ?? '')
            : (read ?? ''),
    }
  })

/** What the menu of the transmitter shows for the travel of a stick, %. */
const travelAt = ({ channels }: HandsState['transmitter'], id: string): number | undefined => {
  const asked = /^(?<stick>throttle|roll|pitch|yaw)(?<side>Low|High)Travel$/.exec(id)?.groups
  if (asked === undefined) return undefined
  const channel = channels.find((c) => c.source === `${asked.stick} stick`)
  return asked.side === 'Low' ? channel?.travelLow : channel?.travelHigh
}

/** What a thermometer reads at a bell, which prop lies ready at a boom, and how many of a hand. */
const atTheMotors = (
  motors: HandsState['motors'],
  { props }: HandsState['eye'],
  id: string,
  words: string,
): string | number | undefined => {
  const output = /^heat(\d+)$/.exec(id)?.[1]
  if (output !== undefined) return motors.find((m) => m.output === Number(output))?.heatC
  if (id === 'clockwise' || id === 'anticlockwise') return props.filter(({ turn }) => turn === id).length
  const lies = /^prop\d+$/.test(id) ? props.find(({ position }) => words.startsWith(`${position}: `)) : undefined
  if (lies === undefined) return undefined
  if (!words.includes(`, ${lies.turn},`)) return propAnswers.other
  return lies.whole ? propAnswers.right : propAnswers.damaged
}

const sides = { right: /right/, left: /left/, front: /front/, rear: /rear|tail/ } as const

/** The side on which the motors ran faster in a step, by ear. */
const fasterIn = (felt: Felt, id: string): string | undefined => {
  const { motors = [] } = felt.get(/^faster (.+)$/.exec(id)?.[1] ?? '') ?? {}
  if (motors.length === 0) return undefined
  const mean = motors.reduce((sum, { rpm }) => sum + rpm, 0) / motors.length
  const over = Object.entries(sides).map(([side, name]) => ({
    side,
    by: motors.reduce((sum, { position, rpm }) => sum + (name.test(position) ? rpm - mean : 0), 0),
  }))
  return over.sort((a, b) => b.by - a.by)[0]?.side
}

/** What the light of the board and the motors were like while it was armed. */
const whileArmed = (felt: Felt, id: string): string | undefined => {
  if (id === armedAnswers.light) return boardLight(felt.get('arm')?.lights ?? '')
  const output = Number(/^idles(\d+)$/.exec(id)?.[1] ?? 0)
  const motor = felt.get('idle')?.motors.find((one) => one.output === output)
  if (motor === undefined) return undefined
  if (motor.sound === 'stutters') return armedAnswers.stutters
  return motor.turn === 'still' ? armedAnswers.stands : armedAnswers.turns
}

/** What was seen of the motors after each act while the cable was out, by the acts of somebody at the simulated bench. */
const onBatteryAlone = (felt: Felt, id: string): string | undefined => {
  const turned = (act: number): boolean => felt.get(`alone ${act}`)?.motors.some(({ turn }) => turn !== 'still') === true
  const { stood, atOnce, later, wentOn } = seenAlone
  switch (id) {
    case seenAlone.refused:
      return turned(2) ? seenAlone.turned : stood
    case seenAlone.armed:
      return turned(5) ? seenAlone.turned : stood
    case seenAlone.off:
      return turned(6) ? wentOn : atOnce
    case seenAlone.lost:
      return turned(9) ? wentOn : later
    case seenAlone.back:
      return turned(10) || turned(11) ? seenAlone.turned : stood
    default:
      return undefined
  }
}

/** The board's light as the table of signals words it. */
const boardLight = (lights: string): string => {
  const shows = /^board light ([^;]*)/.exec(lights)?.[1] ?? ''
  return /^blinks \d+ and pauses$/.test(shows) ? 'blinks a number of times and pauses' : shows
}

/** What is read at the transmitter and at the receiver. */
const atTheRadio = (
  { modelId }: HandsState['transmitter'],
  { light }: HandsState['receiver'],
  id: string,
): string | number | undefined => {
  switch (id) {
    case linkAnswers.transmitter:
      return demoTransmitter
    case linkAnswers.model:
      return modelId
    case linkAnswers.light:
      return light === 'binding' ? 'two quick blinks, again and again' : light
    default:
      return undefined
  }
}
