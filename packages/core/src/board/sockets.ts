import type { Finding, Remedy, SheetPart, SocketUse } from '@taraf/contract'
import { byHand, defineCheck, refusal, reportsOf } from '../check'
import { limitFor } from '../limits'
import { silentRemedy } from '../radio/silent'
import { hasBoard } from '../sheetHas'
import { want } from '../take'

/** Those whose other end speaks by itself, and the limit of how many good frames a second are the least. */
const speaks: Partial<Record<SocketUse, 'sockets.receiverFrames' | 'sockets.positionFrames'>> = {
  receiver: 'sockets.receiverFrames',
  position: 'sockets.positionFrames',
}

/** Which peripheral is on which serial socket, and whether good frames arrive from those that speak. */
export const sockets = defineCheck({
  id: 'board.sockets',
  version: 3,
  station: 'board',
  title: 'Serial sockets',
  proves: 'Each serial socket is set for what is plugged into it, and good frames arrive.',
  words: Object.fromEntries(
    Array.from({ length: 12 }, (_, i) => [
      [`socket${i + 1}`, `Socket ${i + 1} is set for`],
      [`frames${i + 1}`, `Good frames at socket ${i + 1}`],
    ]).flat(),
  ),
  needs: ['board.identity'],
  reads: {
    settings: ['socket.*'],
    parts: ['board', 'sockets', 'receiver', 'receiver leads', 'receiver antenna', 'position receiver'],
    acts: ['transmitter'],
    // Another model or another binding; what is set for one channel is no matter here.
    onTransmitter: () => false,
    image: true,
  },
  appliesTo: hasBoard,
  stages: null,
  *take() {
    yield* want.reports({
      label: 'asked',
      ask: 'Switch the transmitter on and see that the receiver hears it; cable in. Frames are counted for a second.',
      of: ['sockets'],
    })
  },
  evaluate: (evidence) => {
    const listings = reportsOf(evidence).sockets
    const [first, last] = [listings?.[0], listings?.[listings.length - 1]]
    if (first === undefined || last === undefined || !(last.t > first.t))
      return refusal('the sockets were not listed twice, some time apart', 'Run it again.')
    const wanted = evidence.sheet.board?.sockets ?? []
    if (last.sockets.length === 0) return refusal('the board lists no socket', 'Run it again.')
    const unheard = last.sockets.find(({ socket }) => !first.sockets.some((s) => s.socket === socket))
    if (unheard !== undefined)
      return refusal(`socket ${unheard.socket} is in the second listing and not in the first`, 'Run it again.')
    const unlisted = wanted.filter(({ socket }) => !last.sockets.some((s) => s.socket === socket))
    const missing = unlisted.map(({ socket, use }): Finding => ({
      key: `socket${socket}`,
      value: 'not there',
      unit: '',
      limit: { equals: use },
      verdict: 'fail',
      remedy: byHand(`The board has no socket ${socket}, where the sheet has the ${use}: compare the sheet with the board.`),
    }))
    const listed = last.sockets.flatMap(({ socket, use, goodFrames }): Finding[] => {
      const should = wanted.find((w) => w.socket === socket)?.use ?? 'free'
      const set = setTo(socket, use, should, evidence.board.choices?.[`socket.${socket}.use`]?.indexOf(should) ?? -1)
      const limit = speaks[should]
      if (set.verdict === 'fail' || limit === undefined) return [set]
      const least = limitFor(evidence.sheet, limit).min
      const before = first.sockets.find((s) => s.socket === socket)?.goodFrames ?? 0
      return [set, frames(evidence.sheet, socket, should, (goodFrames - before) / (last.t - first.t), least)]
    })
    return [...missing, ...listed]
  },
})

/** `number` is what the board calls that use, or -1 where it does not say. */
const setTo = (socket: number, use: string, should: SocketUse, number: number): Finding =>
  use === should
    ? { key: `socket${socket}`, value: use, unit: '', limit: { equals: should }, verdict: 'pass' }
    : {
        key: `socket${socket}`,
        value: use,
        unit: '',
        limit: { equals: should },
        verdict: 'fail',
        remedy:
          number < 0
            ? byHand(`Set socket ${socket} to ${should}.`)
            : { by: 'settings', act: `Set socket ${socket} to ${should}.`, settings: { [`socket.${socket}.use`]: number } },
      }

const frames = (sheet: SheetPart, socket: number, use: SocketUse, perSecond: number, least: number): Finding => ({
  key: `frames${socket}`,
  value: perSecond,
  unit: 'good frames a second',
  limit: { min: least },
  ...(perSecond >= least
    ? { verdict: 'pass' }
    : { verdict: 'fail', remedy: use === 'receiver' ? silentRemedy(sheet, null, null) : silentPosition(socket) }),
})

const silentPosition = (socket: number): Remedy => ({
  by: 'work',
  act: `Nothing comes from the position receiver. Push the plug of socket ${socket} fully in and compare its wires with the wiring sheet. If it fails again, check whether the plug is in another socket, then replace the position receiver.`,
  work: ['reseat plug', 'move plug', 'replace position receiver'],
  socket,
})
