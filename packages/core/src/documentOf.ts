import type { Evidence, FlownHover, Observation, Place, Segment, Settings } from '@taraf/contract'

/** The evidence document of a take: what was captured, and what the sheet, the board and the place were. */
export const documentOf = (
  { id }: { readonly id: string },
  {
    at,
    place,
    sheet,
    airframe,
    settings,
    choices,
    hovers = [],
    segments,
    observations = [],
    written,
  }: {
    at: Date
    place: Place
    sheet: Evidence['sheet']
    airframe?: Evidence['airframe'] | undefined
    settings: Settings
    choices?: Readonly<Record<string, readonly string[]>> | undefined
    hovers?: readonly FlownHover[] | undefined
    segments: readonly Segment[]
    observations?: readonly Observation[]
    written?: Settings | undefined
  },
): Evidence => {
  const setTo = (name: string) => settings[name] ?? 0
  return {
    format: 'taraf-evidence/1',
    check: id,
    at: at.toISOString(),
    place,
    sheet,
    ...(airframe === undefined ? {} : { airframe }),
    board: {
      orientation: { roll: setTo('board.roll'), pitch: setTo('board.pitch'), yaw: setTo('board.yaw') },
      chip: { roll: setTo('chip.roll'), pitch: setTo('chip.pitch'), yaw: setTo('chip.yaw') },
      level: { roll: setTo('level.roll'), pitch: setTo('level.pitch') },
      settings,
      ...(choices === undefined
        ? {}
        : { choices: Object.fromEntries(Object.entries(choices).map(([name, words]) => [name, [...words]])) }),
    },
    segments: [...segments],
    ...(hovers.length === 0 ? {} : { hovers: [...hovers] }),
    ...(written === undefined ? {} : { written }),
    ...(observations.length === 0 ? {} : { observations: [...observations] }),
  }
}
