import type { SheetPart } from '@taraf/contract'
import type { Control } from './sticks'

/** What the takes of this station ask for, as their findings read it. */

/** What is asked for each control: the segment, and what a technician calls the movement. */
export const movements: Readonly<Record<Control, { readonly label: string; readonly words: string }>> = {
  throttle: { label: 'throttle-up', words: 'throttle up' },
  roll: { label: 'roll-right', words: 'roll right' },
  pitch: { label: 'pitch-forward', words: 'stick forward' },
  yaw: { label: 'yaw-right', words: 'yaw right' },
}
/** The least that a control moves, us. */
export const leastMovedUs = 100

/** An end this near to the middle is none, us. */
export const nearUs = 200
/** The question that tells the travel which is set for an end. */
export const travelOf = (key: string): string => `${key}Travel`

/** The controls that go back by themselves. */
export const centred = ['roll', 'pitch', 'yaw'] as const satisfies readonly Control[]
/** Let go of from this far out, us, and so often from each side. */
export const farUs = 250
export const timesOut = 3

/** The segments of the link check, in their order. */
export const linkSegments = {
  heard: 'heard',
  off: 'transmitter-off',
  on: 'transmitter-on',
  power: 'power-off',
  again: 'power-on',
} as const
/** What the questions of this check are called in its evidence. */
export const linkAnswers = { transmitter: 'flownWith', model: 'model', light: 'receiverLight', telemetry: 'telemetry' } as const
export const wantsTelemetry = ({ settings }: SheetPart): boolean => settings?.['telemetry.use'] === 1
