import type { SheetPart, Signal } from '@taraf/contract'

/** What the lights and tones of the parts of a sheet say, part by part: it differs by model, and is never guessed. */
export const signalsOf = (
  { parts = [] }: SheetPart,
  only?: string,
): { part: string; model: string; signals: readonly Signal[] }[] =>
  parts.flatMap(({ part, model, signals }) =>
    signals === undefined || (only !== undefined && part !== only) ? [] : [{ part, model, signals }],
  )
