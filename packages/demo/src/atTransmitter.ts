import type { ChannelSetupChange, HandAct, HandsState } from '@taraf/contract'

/** What a technician does at the transmitter for one item of a remedy, as its words say. */
export const atTransmitter = (
  { channels }: HandsState['transmitter'],
  { channel, ...wanted }: { readonly channel: number } & Readonly<Record<string, unknown>>,
): HandAct => {
  const now = channels[channel - 1]
  const { invert, subTrimByUs, ...set } = wanted as ChannelSetupChange & { invert?: boolean; subTrimByUs?: number }
  return {
    act: 'channel',
    channel,
    set: {
      ...set,
      ...(invert === true ? { inverted: now?.inverted !== true } : {}),
      ...(subTrimByUs === undefined ? {} : { subTrimUs: Math.round((now?.subTrimUs ?? 0) + subTrimByUs) }),
    },
  }
}
