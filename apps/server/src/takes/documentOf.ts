import type { Evidence, Place, Segment, Settings } from '@taraf/contract'
import type { Check } from '@taraf/core'

/** The evidence document of a take: what was captured, and what the sheet, the board and the place were. */
export const documentOf = (
  check: Check,
  {
    at,
    place,
    sheet,
    settings,
    segments,
  }: { at: Date; place: Place; sheet: Evidence['sheet']; settings: Settings; segments: Segment[] },
): Evidence => {
  const setTo = (name: string) => settings[name] ?? 0
  return {
    format: 'taraf-evidence/1',
    check: check.id,
    at: at.toISOString(),
    place,
    sheet,
    board: {
      orientation: { roll: setTo('board.roll'), pitch: setTo('board.pitch'), yaw: setTo('board.yaw') },
      level: { roll: setTo('level.roll'), pitch: setTo('level.pitch') },
      settings,
    },
    segments,
  }
}
