import type { Evidence, Remedy, Settings } from '@taraf/contract'
import { degrees, fromAngles, multiply, radians, toAngles } from '../rotation'

/**
 * The trim that takes the offset away. With t the trim in force and o the offset left by it, body axes come from the
 * mounting's by R(o) R(t); a turn about the vertical that this may hold is no tilt, and is dropped.
 *
 * @param offset what the board says of its attitude where that is level, rad
 * @param what what leans, as the remedy begins
 * @param written settings as they were read back where the take wrote some: the trim in force
 */
export const trimRemedy = (
  evidence: Evidence,
  offset: { roll: number; pitch: number },
  what: string,
  written?: Settings,
): Remedy => {
  const told = evidence.board.level ?? { roll: 0, pitch: 0 }
  const old =
    written === undefined ? told : { roll: written['level.roll'] ?? told.roll, pitch: written['level.pitch'] ?? told.pitch }
  const before = fromAngles({ roll: radians(old.roll), pitch: radians(old.pitch), yaw: 0 })
  const { roll, pitch } = toAngles(multiply(fromAngles({ ...offset, yaw: 0 }), before))
  const at = (value: number) => Math.round(degrees(value) * 1000) / 1000 + 0
  return {
    by: 'settings',
    act: `${what} ${leanOf(offset)} Write this level trim.`,
    settings: { 'level.roll': at(roll), 'level.pitch': at(pitch) },
  }
}

/** A lean as it is seen: roll right and nose up are positive. */
const leanOf = (offset: { roll: number; pitch: number }): string => {
  const part = (angle: number, positive: string, negative: string) =>
    `${Math.abs(degrees(angle)).toFixed(1)} deg ${angle > 0 ? positive : negative}`
  return `${part(offset.roll, 'right side down', 'left side down')} and ${part(offset.pitch, 'nose up', 'nose down')}.`
}
