import { modeName } from '@taraf/core'
import { useLive } from '../store/store'
import { Words } from './type'

/** Whether the board is armed, in which mode, or what it would refuse for. */
export const ArmedLine = () => {
  const state = useLive(({ link }) => link?.state ?? null)
  if (state === null) return null
  const isArmed = state.motors === 'armed'
  return (
    <Words kind={isArmed ? 'strong' : undefined} color={isArmed ? '$buoy' : '$ink'} role="status">
      {isArmed
        ? `Armed, in mode ${modeName(state.mode)}. ${state.radio === 'heard' ? 'Disarm with its switch, or stop all.' : 'It hears no switch: Stop all disarms it.'}`
        : state.refusing.length === 0
          ? 'Not armed.'
          : `Not armed: the board would refuse for ${state.refusing.join(', ')}.`}
    </Words>
  )
}
