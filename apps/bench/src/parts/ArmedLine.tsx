import { useLiveState } from '../store/store'
import { Words } from './type'

/** Modes as people say them. */
const modeWords: Readonly<Record<string, string>> = {
  selfLevel: 'self-level',
  rate: 'rate',
  altitude: 'altitude hold',
  position: 'position hold',
  returnHome: 'return home',
}

/** Whether the board is armed, in which mode, or what it would refuse for. */
export const ArmedLine = () => {
  const { link } = useLiveState()
  const state = link?.state ?? null
  if (state === null) return null
  const isArmed = state.motors === 'armed'
  return (
    <Words kind={isArmed ? 'strong' : undefined} color={isArmed ? '$buoy' : '$ink'} role="status">
      {isArmed
        ? `Armed, in mode ${modeWords[state.mode] ?? state.mode}. Disarm with its switch, or stop all.`
        : state.refusing.length === 0
          ? 'Not armed.'
          : `Not armed: the board would refuse for ${state.refusing.join(', ')}.`}
    </Words>
  )
}
