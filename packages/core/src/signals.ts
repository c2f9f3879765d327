import type { SheetPart } from '@taraf/contract'

/** What a light or a tone of a part says. Differs by model: a table, never a guess. */
export interface Signal {
  readonly by: 'light' | 'tone'
  readonly shows: string
  readonly means: string
}

/** By the model of the part, as a sheet names it. */
export const signalsByModel: Readonly<Record<string, readonly Signal[]>> = {
  'Tideboard 4': [
    { by: 'light', shows: 'blinks slowly', means: 'it is ready to arm' },
    { by: 'light', shows: 'blinks a number of times and pauses', means: 'it will not arm: as many reasons as blinks' },
    { by: 'light', shows: 'steady, and no sound from the motors', means: 'it waits in its loader for an image' },
    { by: 'light', shows: 'steady', means: 'it is armed' },
    { by: 'tone', shows: 'three short tones', means: 'the signal is lost' },
    { by: 'tone', shows: 'one long tone, again and again', means: 'the pack is low' },
    { by: 'tone', shows: 'on and off', means: 'its sounder is switched on' },
  ],
  'Gannet R8': [
    { by: 'light', shows: 'off', means: 'it has no power' },
    { by: 'light', shows: 'blinking', means: 'it hears no transmitter' },
    { by: 'light', shows: 'steady', means: 'it hears its transmitter' },
    { by: 'light', shows: 'two quick blinks, again and again', means: 'it waits to be bound' },
  ],
}

/** The signals of the parts that a sheet names, part by part. */
export const signalsOf = (
  { parts = [] }: SheetPart,
  only?: string,
): { part: string; model: string; signals: readonly Signal[] }[] =>
  parts.flatMap(({ part, model }) => {
    const signals = signalsByModel[model]
    return signals === undefined || (only !== undefined && part !== only) ? [] : [{ part, model, signals }]
  })
