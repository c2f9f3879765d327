import type { BoardState, WantedState } from '@taraf/contract'

/** What of a wanted state a bench is not in, in words, or null. `powerId` is the battery connection that props were confirmed for. */
export const leftState = (wanted: WantedState, state: BoardState, powerId: string | null): string | null => {
  const battery = state.power !== 'cable'
  if (powerId !== null && state.powerId !== powerId)
    return battery
      ? 'the battery was taken out and put in again: what was confirmed for it before is worth nothing'
      : 'the battery was taken out'
  if (wanted.battery === true && !battery) return 'the battery is not in'
  if (wanted.battery === false && battery) return 'the battery is in'
  if (wanted.cable === true && state.power === 'battery') return 'the cable is out'
  if (wanted.transmitter === true && state.radio !== 'heard') return 'the transmitter is not heard'
  if (wanted.transmitter === false && state.radio === 'heard') return 'the transmitter is heard'
  if (wanted.armed === true && state.motors !== 'armed') return 'the board disarmed'
  if (wanted.disarmed === true && state.motors === 'armed') return 'the board armed'
  return null
}
