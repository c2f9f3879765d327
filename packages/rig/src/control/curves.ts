import { radians } from '@taraf/core/rotation'
import type { BoardSettings } from '../board/settings'

/** The turn rate asked for by a stick from -1 to 1, rad/s: straight and cubic shares mixed, so that the middle is soft. */
export const stickRate = (settings: BoardSettings, axis: 'roll' | 'pitch' | 'yaw', stick: number): number => {
  const soft = settings.get(`curve.${axis}.soft`)
  const shaped = stick * (1 - soft) + stick ** 3 * soft
  return radians(settings.get(`curve.${axis}.rate`)) * shaped
}
