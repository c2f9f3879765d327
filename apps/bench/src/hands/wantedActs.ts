import type { Finding, HandAct, HandsState, Want, WantedState, Work } from '@taraf/contract'
import { armedUnder, controls, movements, type Control } from '@taraf/core'

export interface NamedAct {
  readonly label: string
  readonly act: HandAct
}

/** What a simulated hand can do of the work that a remedy names. */
const actOfWork: Readonly<Record<Work, NamedAct | ((output: number) => NamedAct) | null>> = {
  'fasten board': { label: 'Tighten the board screws', act: { act: 'fasten' } },
  'replace board': { label: 'Replace the board', act: { act: 'replace', part: 'board' } },
  'seat board': { label: 'Seat the board square', act: { act: 'seat board' } },
  'hold by board edges': null,
  'replace compass': { label: 'Replace the compass', act: { act: 'replace', part: 'compass' } },
  'replace barometer': { label: 'Replace the barometer', act: { act: 'replace', part: 'barometer' } },
  'clear short': { label: 'Clear the short', act: { act: 'clear short' } },
  'unplug what draws': { label: 'Clear the short', act: { act: 'clear short' } },
  'replace regulator': { label: 'Replace the regulator', act: { act: 'replace', part: 'regulator' } },
  'fit video antenna': { label: 'Fit the video antenna', act: { act: 'fit video antenna' } },
  'replace motor': (output) => ({ label: `Replace the motor at ${output}`, act: { act: 'replace motor', output } }),
  'reseat ESC plug': (output) => ({ label: `Push in the plug of ESC ${output}`, act: { act: 'reseat esc', output } }),
  'swap motor leads': (output) => ({ label: `Swap two leads of motor ${output}`, act: { act: 'swap leads', output } }),
  'replace ESC': (output) => ({ label: `Replace ESC ${output}`, act: { act: 'replace esc', output } }),
  'look at motor leads': null,
  'put right prop': (output) => ({ label: `Lay the right prop at ${output}`, act: { act: 'lay prop', output } }),
  'replace prop': (output) => ({ label: `Lay a new prop at ${output}`, act: { act: 'lay prop', output } }),
  'unplug past the board': { label: 'Unplug what bypasses the board', act: { act: 'unplug past the board' } },
  'update part': { label: 'Update the receiver', act: { act: 'update part', part: 'receiver' } },
  'reseat plug': null,
  'move plug': null,
  'choose model': { label: 'Choose model 7', act: { act: 'model', id: 7 } },
  'bind receiver': { label: 'Bind', act: { act: 'bind' } },
  'set receiver silent': { label: 'Set the receiver silent at loss', act: { act: 'loss', receiver: 'silent' } },
  'feed receiver': { label: 'Feed it from the regulator', act: { act: 'feed receiver' } },
  'plug receiver lead': { label: 'Plug receiver lead', act: { act: 'receiver lead', in: true } },
  'place receiver antenna': { label: 'Place its antenna', act: { act: 'receiver antenna' } },
  'replace receiver': { label: 'Replace the receiver', act: { act: 'replace', part: 'receiver' } },
  'fit telemetry wire': { label: 'Push the telemetry wire in', act: { act: 'telemetry wire', in: true } },
  'calibrate sticks': { label: 'Calibrate the sticks', act: { act: 'stick calibration' } },
  'mend transmitter': { label: 'Repair the transmitter', act: { act: 'mend transmitter' } },
  'take load off': { label: 'Take the extra load off', act: { act: 'take load off' } },
  'replace position receiver': { label: 'Replace the position receiver', act: { act: 'replace', part: 'position receiver' } },
}

const named = (label: string, act: HandAct): NamedAct => ({ label, act })

const forState = (state: WantedState, hands: HandsState): NamedAct[] => [
  ...(state.props === 'off' && hands.props !== 'off' ? [named('Take props off', { act: 'props', on: false })] : []),
  ...(state.props === 'off' && hands.nuts ? [named('Take nuts off', { act: 'nuts', on: false })] : []),
  ...(state.cable === true && !hands.cable ? [named('Plug the cable in', { act: 'cable', in: true })] : []),
  ...(state.cable === false && hands.cable ? [named('Pull the cable', { act: 'cable', in: false })] : []),
  ...(state.battery === true && hands.battery === 'none' ? [named('Plug the pack in', { act: 'battery', source: 'pack' })] : []),
  ...(state.battery === false && hands.battery !== 'none'
    ? [named('Take the battery out', { act: 'battery', source: 'none' })]
    : []),
  ...(state.transmitter === true && !hands.transmitter.on
    ? [named('Switch the transmitter on', { act: 'transmitter', on: true })]
    : []),
  ...(state.transmitter === false && hands.transmitter.on
    ? [named('Switch the transmitter off', { act: 'transmitter', on: false })]
    : []),
]

const stickOfLabel = (label: string): Control | undefined =>
  controls.find((control) => label === control || movements[control].label === label)

/** A stick to its end, to the other and back to rest; a switch to its next position. */
const forControl = (label: string, { transmitter }: HandsState): NamedAct[] => {
  const stick = stickOfLabel(label)
  if (stick !== undefined) {
    const rest = stick === 'throttle' ? -1 : 0
    const ends = label === stick && stick !== 'throttle' ? [1, -1] : [1]
    const words =
      stick === 'throttle' ? ['Throttle up'] : [`${sentence(stick)} to its end`, `${sentence(stick)} to the other end`]
    return [
      ...ends.map((to, i) => named(words[i] ?? '', { act: 'stick', stick, to })),
      named(stick === 'throttle' ? 'Throttle down' : `Let ${stick} go`, { act: 'stick', stick, to: rest }),
    ]
  }
  const channel = Number(/^switch-(\d+)$/.exec(label)?.[1] ?? 0)
  const source = transmitter.channels[channel - 1]?.source
  const one = transmitter.switches.find(({ name }) => source === `switch ${name}`)
  return one === undefined
    ? []
    : Array.from({ length: one.positions }, (_, to) =>
        named(`Switch ${one.name} to ${to + 1}`, { act: 'switch', name: one.name, to }),
      )
}
const sentence = (word: string): string => word.charAt(0).toUpperCase() + word.slice(1)

/** What the steps of the link check ask for. */
const forLink = (label: string, hands: HandsState): NamedAct[] => {
  switch (label) {
    case 'heard':
    case 'transmitter-on':
      return hands.transmitter.on ? [] : [named('Switch the transmitter on', { act: 'transmitter', on: true })]
    case 'transmitter-off':
      return hands.transmitter.on ? [named('Switch the transmitter off', { act: 'transmitter', on: false })] : []
    case 'power-off':
      return [
        ...(hands.battery === 'none' ? [] : [named('Take the battery out', { act: 'battery', source: 'none' } as const)]),
        hands.cable
          ? named('Pull the cable', { act: 'cable', in: false })
          : named('Plug the cable in', { act: 'cable', in: true }),
      ]
    default:
      return []
  }
}

const throttle = (label: string, to: number) => named(label, { act: 'stick', stick: 'throttle', to })
const tilts: Readonly<Record<string, readonly [label: string, rollDeg: number, pitchDeg: number, yawDeg: number]>> = {
  'right-down': ['Hold its right side down', 20, 0, 0],
  'left-down': ['Hold its left side down', -20, 0, 0],
  'nose-up': ['Hold its nose up', 0, 20, 0],
  'nose-down': ['Hold its nose down', 0, -20, 0],
  'turn-right': ['Turn its nose to the right', 0, 0, 80],
  'turn-left': ['Turn its nose to the left', 0, 0, -80],
}

/** What the steps of an armed board ask for: its switch, throttle, and how it is held. */
const forArmed = ({ label }: Want, { transmitter }: HandsState): NamedAct[] => {
  const down = throttle('Throttle down', -1)
  const arm = transmitter.switches[0]
  if (label === 'arm' || label === 'disarm') {
    const to = label === 'arm' ? (arm?.positions ?? 2) - 1 : 0
    return [down, ...(arm === undefined ? [] : [named(`Switch ${arm.name} to ${to + 1}`, { act: 'switch', name: arm.name, to })])]
  }
  const tilt = tilts[label]
  if (tilt === undefined) return [down, layings[0], throttle('Throttle up a little', -0.5)]
  const [words, rollDeg, pitchDeg, yawDeg] = tilt
  const held = named(words, { act: 'tilt', rollDeg, pitchDeg, yawDeg })
  const up = throttle('Throttle up a little', -0.5)
  return yawDeg === 0 ? [down, held, up] : [down, layings[0], up, held]
}

/** Carried out with its props on; armed, flown and disarmed with the cable out. */
const forHop = ({ label }: Want, hands: HandsState): NamedAct[] => {
  const { battery, cable, held, transmitter } = hands
  const arm = transmitter.switches[0]
  const armed = (to: number) =>
    arm === undefined ? [] : [named(`Switch ${arm.name} to ${to + 1}`, { act: 'switch', name: arm.name, to })]
  switch (label) {
    case 'hop-ready':
      return battery === 'none'
        ? [
            ...(held === 'out' ? [] : [named('Carry it out', { act: 'put out' })]),
            named('Put props on', { act: 'props', on: true }),
            named('Put nuts on', { act: 'nuts', on: true }),
          ]
        : []
    case 'flight':
      return cable
        ? [named('Pull the cable', { act: 'cable', in: false })]
        : [
            ...armed((arm?.positions ?? 2) - 1),
            named('Fly the hop', { act: 'hop' }),
            ...armed(0),
            named('Plug the cable in', { act: 'cable', in: true }),
          ]
    case 'hop-done':
      return battery === 'none' ? [...forState({ props: 'off' }, hands), layings[0]] : []
    default:
      return []
  }
}

/** Props and nuts off without the battery; then the battery. */
const forTeaching = (hands: HandsState): NamedAct[] => [
  ...forState({ props: 'off' }, hands),
  ...forState({ battery: hands.battery === 'none' }, hands),
]

const layings = [
  named('Lay it, nose away', { act: 'lay', way: 'forward' }),
  named('Lay it, nose to you', { act: 'lay', way: 'reversed' }),
] as const

/** What the hands would do for a step of a take: what must be on, and how the airframe is held. */
export const actsForStep = (want: Want, hands: HandsState): NamedAct[] => [
  ...forState(want.state ?? {}, hands),
  ...(want.kind === 'escs' ? forState({ battery: hands.battery === 'none' }, hands) : []),
  ...(armedUnder(want) === 'flight' || want.label.startsWith('hop-')
    ? forHop(want, hands)
    : armedUnder(want) !== null
      ? forArmed(want, hands)
      : []),
  ...('permit' in want && want.permit === 'teach' ? forTeaching(hands) : []),
  ...(want.kind === 'control' ? forControl(want.label, hands) : forLink(want.label, hands)),
  ...(want.kind === 'pose'
    ? [named('Hold it so', { act: 'tilt', rollDeg: want.rollDeg, pitchDeg: want.pitchDeg })]
    : want.kind === 'capture' && want.still === 'laid'
      ? layings
      : want.kind === 'capture' && want.streams.includes('mag') && want.still === undefined
        ? [named('Turn it all ways', { act: 'turn all ways' })]
        : []),
]

/** Nobody works at a motor or an ESC with the battery in. */
const forPower = (battery: HandsState['battery']): NamedAct[] =>
  battery === 'none' ? [] : [named('Take the battery out', { act: 'battery', source: 'none' })]

/** What the hands would do for the remedies of a take that failed. */
export const actsForRemedies = (findings: readonly Finding[], battery: HandsState['battery'] = 'none'): NamedAct[] => {
  const acts = findings.flatMap(({ remedy, verdict }) => {
    if (verdict === 'pass' || remedy?.by !== 'work') return []
    const { work, outputs = [] } = remedy
    return work.flatMap((one) => {
      const act = actOfWork[one]
      if (typeof act !== 'function') return act ?? []
      return [...forPower(battery), ...outputs.map(act)]
    })
  })
  return acts.filter(({ label }, i) => acts.findIndex((a) => a.label === label) === i)
}
