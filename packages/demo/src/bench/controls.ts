import type { HandAct } from '@taraf/contract'
import { flightModes, modeName } from '@taraf/core'
import { handsOf, type Rig } from '@taraf/rig'

const stickOf: Readonly<Record<string, { stick: 'roll' | 'pitch' | 'throttle' | 'yaw'; to: 1 | -1 }>> = {
  'throttle-up': { stick: 'throttle', to: 1 },
  'roll-right': { stick: 'roll', to: 1 },
  'pitch-forward': { stick: 'pitch', to: 1 },
  'yaw-right': { stick: 'yaw', to: 1 },
}

/** The flight mode that a step names. */
export const modeIn = (ask: string): string | undefined => {
  const named = /\bmode ([a-z- ]+)[.,]/i.exec(ask)?.[1]
  return named === undefined ? undefined : flightModes.find((mode) => modeName(mode) === named)
}

/** The acts on the switch of a flight mode that put it on, or off again: one position after the other, each seen before the next. */
export const chooseMode = (rig: Rig, mode: string, hand: (act: HandAct) => void, on = true): void => {
  const get = (name: string) => rig.board.settings.get(`switch.${mode}.${name}`)
  const channel = get('channel')
  if (channel === 0) return
  const isOn = () => {
    const us = rig.transmitter.channels()[channel - 1] ?? 0
    return us >= get('low') && us <= get('high')
  }
  const next = switchMoves(rig, channel)
  for (let i = 0; isOn() !== on && i < 6; i++) hand(next(i))
}

/** What a hand does next with a control: out, back, and so on; -1 is back for good. */
export type Moves = (number: number) => HandAct

/** The moves of the control that a label names: a stick, or the switch on a channel. */
export const movesOf = (rig: Rig, label: string): Moves =>
  label.startsWith('switch-') ? switchMoves(rig, Number(label.slice(7))) : stickMoves(label)

/** To the end that the label names, or to one end and the other in turns, and back to its rest in between. */
const stickMoves = (label: string): Moves => {
  const { stick, to } = stickOf[label] ?? { stick: label as 'roll', to: 1 }
  // A stick that is let go of goes back by itself; throttle is brought down, as every take asks.
  const rest = stick === 'throttle' ? -1 : 0
  return (number) => ({ act: 'stick', stick, to: number % 2 !== 0 ? rest : number % 4 === 0 ? to : (-to as 1 | -1) })
}

/** Through all positions of the switch on a channel, from the one that it is in. */
const switchMoves = (rig: Rig, channel: number): Moves => {
  const { channels, switches } = handsOf(rig).transmitter
  const found = switches.find(({ name }) => channels[channel - 1]?.source === `switch ${name}`)
  if (found === undefined) throw new Error(`no switch is on channel ${channel}`)
  const { name, positions, at } = found
  return (number) => ({ act: 'switch', name, to: number < 0 ? at : (at + 1 + number) % positions })
}
