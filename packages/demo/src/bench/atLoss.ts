import type { HandAct, WantOf } from '@taraf/contract'
import type { Handled } from './handActs'

const laid: HandAct = { act: 'lay', way: 'forward' }
const stick = (name: 'throttle' | 'roll' | 'pitch' | 'yaw', to: number): HandAct => ({ act: 'stick', stick: name, to })
const over = stick('throttle', 0.05)
const letGo = [stick('roll', 0), stick('pitch', 0), stick('yaw', 0)] as const

type By = 'transmitter' | 'receiver lead'
const gone = (by: By): HandAct => (by === 'transmitter' ? { act: 'transmitter', on: false } : { act: 'receiver lead', in: false })
const back = (by: By): HandAct => (by === 'transmitter' ? { act: 'transmitter', on: true } : { act: 'receiver lead', in: true })

/** The signal is taken away with throttle somewhere, and given back a moment after an event. */
const lost = (throttle: HandAct, event: string, by: By): Handled => ({
  before: [throttle],
  then: [gone(by)],
  onEvent: { event, acts: [back(by)] },
})
/** The same, held at a tilt with throttle down. */
const tilted = (rollDeg: number, pitchDeg: number, low: boolean): Handled => {
  const down = stick('throttle', -1)
  return {
    before: [down, { act: 'tilt', rollDeg, pitchDeg, yawDeg: 0 }],
    // It has come to rest there before throttle goes up.
    then: [down, ...(low ? [] : [over]), gone('transmitter')],
    onEvent: { event: 'loss:act', acts: [back('transmitter')] },
  }
}
/** The same, with sticks held a little out of their middle. */
const held = (sticks: readonly HandAct[], more: readonly HandAct[] = []): Handled => ({
  before: [laid, ...letGo, over],
  then: [...sticks, gone('transmitter')],
  onEvent: { event: 'loss:act', acts: [...letGo, ...more, back('transmitter')] },
})

const arm = (to: 0 | 1): HandAct => ({ act: 'switch', name: 'A', to })
/** On its battery alone: refused, armed, disarmed, armed and the signal taken away, and given back. */
const alone: NonNullable<Handled['alone']> = [
  { afterS: 1, act: over },
  { afterS: 1, act: arm(1) },
  { afterS: 1.5, act: arm(0) },
  { afterS: 1, act: stick('throttle', -1) },
  { afterS: 1, act: arm(1) },
  { afterS: 1.5, act: arm(0) },
  { afterS: 1, act: arm(1) },
  { afterS: 1, act: over },
  { afterS: 1, act: gone('transmitter') },
  { afterS: 9, onceStill: true, act: back('transmitter') },
  { afterS: 3, act: stick('throttle', -1) },
  { afterS: 1, act: arm(0) },
]

/** What is done in each step of the station Failsafe, by its label and its words. */
export const atLoss = ({ label, ask }: Pick<WantOf<'watch'>, 'label' | 'ask'>): Handled | undefined => {
  const by = ask.includes('lead of the receiver') ? 'receiver lead' : 'transmitter'
  const low = ask.includes('Leave throttle down')
  if (label.startsWith('half-')) return lost(over, 'loss:act', by)
  if (label.startsWith('home-')) {
    const on = { choose: 'returnHome', on: true }
    return { before: [laid, ...letGo, over], then: [on, on, { ...on, on: false }] }
  }
  if (label.startsWith('by-'))
    return {
      before: [laid, ...letGo, over],
      then: [{ act: 'switch', name: 'D', to: 1 }],
      onEvent: { event: 'loss:act', acts: [{ act: 'switch', name: 'D', to: 0 }] },
    }
  switch (label) {
    case 'idle':
      return lost(stick('throttle', -1), 'disarmed', by)
    case 'disarmed':
      return lost(over, 'loss:wait', by)
    case 'held-right-down':
      return tilted(20, 0, low)
    case 'held-nose-up':
      return tilted(0, 20, low)
    case 'held-roll-pitch':
      return held([stick('roll', 0.1), stick('pitch', 0.1)], [{ act: 'switch', name: 'B', to: 0 }])
    case 'held-yaw':
      return held([stick('yaw', 0.1)])
    case 'drop-out':
      return { before: [laid, ...letGo, over], then: [{ act: 'block signal', seconds: 0.35 }] }
    case 'alone':
      return { before: [laid, ...letGo, stick('throttle', -1), arm(0)], alone }
    default:
      return undefined
  }
}
