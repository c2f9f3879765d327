import type { Settings, SheetPart, TransmitterSetting } from '@taraf/contract'

export const controls = ['throttle', 'roll', 'pitch', 'yaw'] as const
export type Control = (typeof controls)[number]

/** The channel that the board takes a control from; 0 where it does not say. */
export const channelOf = (settings: Settings | undefined, control: Control): number =>
  Number(settings?.[`radio.${control}.channel`] ?? 0)

export const isReversed = (settings: Settings | undefined, control: Control): boolean =>
  Number(settings?.[`radio.${control}.reverse`] ?? 0) === 1

/** Not one that a hand moves: it says how well the receiver hears. 0 where there is none. */
export const strengthOf = (settings: Settings | undefined): number => Number(settings?.['radio.strengthChannel'] ?? 0)

/** Whether what is set on a transmitter is of the channel of a stick. */
export const isOfStick = ({ channel }: Pick<TransmitterSetting, 'channel'>, sheet: SheetPart): boolean =>
  controlChannels(sheet).includes(channel)
/** The parts through which channels come to the board. */
export const onTheWay = ['receiver', 'receiver leads', 'sockets', 'part firmware'] as const
/** Common practice, where nothing else is set. */
const usualChannel: Readonly<Record<Control, number>> = { roll: 1, pitch: 2, throttle: 3, yaw: 4 }
/** The channels of the sticks, by the sheet, in the order of `controls`; the usual ones where it does not say. */
export const controlChannels = ({ settings }: SheetPart): number[] =>
  controls.map((control) => Number(settings?.[`radio.${control}.channel`] ?? usualChannel[control]))
/** The same as a list: empty where there is none. */
export const strengthIn = (settings: Settings | undefined): number[] => [strengthOf(settings)].filter((channel) => channel > 0)
