import type { Evidence, Finding, Offset } from '@taraf/contract'
import { byHand, defineCheck, judged, refusal } from '../check'
import { limitFor } from '../limits'
import { median } from '../statistics'
import { want } from '../take'

/** A fix is watched for so long from when it came (common practice). */
const lastsS = 10

/** The position receiver under the open sky: a fix in time, enough satellites, good geometry, the antenna where it is told. */
export const position = defineCheck({
  id: 'sensors.position',
  version: 4,
  station: 'sensors',
  title: 'Position',
  proves: 'The position receiver gets a good fix in time.',
  words: {
    wait: 'Time to first fix',
    lasts: 'Share of the time with a fix',
    satellites: 'Satellites',
    dilution: 'Dilution of position',
    placed: 'Antenna, distance from where the sheet has it',
    antenna: 'Antenna, as the board has it',
  },
  needs: [],
  reads: {
    settings: ['position.*', 'socket.*'],
    parts: ['position receiver', 'sockets', 'board'],
    // A knock moves an antenna, and shakes a plug loose.
    acts: ['knock'],
    image: true,
  },
  appliesTo: (sheet) => sheet.fitted?.includes('position') === true,
  stages: null,
  *take({ sheet }) {
    yield* want.capture({
      label: 'sky',
      seconds: limitFor(sheet, 'position.wait').max + lastsS + 5,
      ask: 'Keep it under cover until this starts, then carry it under the open sky.',
      during: 'Carry it under the open sky and leave it there: waiting for a fix that lasts',
      streams: ['fix'],
      enoughS: 1,
      until: { stream: 'fix', column: 'fixed', least: 1, lastsS },
      says: 'antenna',
    })
  },
  evaluate: (evidence) => {
    const fix = evidence.segments.find((s) => s.label === 'sky')?.streams.fix
    if (fix === undefined || fix.t.length === 0)
      return refusal('the position receiver says nothing', 'Make sure it is plugged in and its socket set, then run it again.')
    const within = limitFor(evidence.sheet, 'position.wait').max
    const fixed = Array.from(fix.fixed, (value) => value >= 0.5)
    const first = fixed.indexOf(true)
    const at = (i: number) => (fix.t[i] as number) - (fix.t[0] as number)
    const last = fixed.length - 1
    if (first === 0)
      return refusal(
        'it had a fix when the take began, so how long it waits for one cannot be told',
        'Carry it under cover, or take its power off for a moment, until its fix is gone; then run it again.',
      )
    if (first < 0 && at(last) < within)
      return refusal(
        `there was no fix yet after ${at(last).toFixed(0)} s`,
        `What needs a fix cannot pass before one: leave it under the open sky for ${within} s.`,
      )
    const cover = byHand('Make sure nothing covers its antenna, away from walls and video; if it fails again, replace it.', [
      'replace position receiver',
    ])
    const wait: Finding =
      first < 0
        ? {
            key: 'wait',
            value: `none in ${at(last).toFixed(0)} s`,
            unit: '',
            limit: { max: within },
            verdict: 'fail',
            remedy: cover,
          }
        : judged('wait', at(first), 's', { max: within }, cover)
    if (first < 0) return [wait, ...antenna(evidence)]
    if (at(last) - at(first) < lastsS * 0.95)
      return refusal(
        `the fix was watched for only ${(at(last) - at(first)).toFixed(0)} s`,
        'Run it again and leave it under the open sky until it ends.',
      )
    const since = (column: ArrayLike<number>) => median(Array.from(column).slice(first))
    const there = fixed.slice(first)
    return [
      wait,
      judged(
        'lasts',
        there.filter(Boolean).length / there.length,
        'of the time',
        { min: limitFor(evidence.sheet, 'position.lasts').min },
        cover,
      ),
      judged(
        'satellites',
        since(fix.satellites),
        'satellites',
        { min: limitFor(evidence.sheet, 'position.satellites').min },
        cover,
      ),
      judged('dilution', since(fix.dilution), '', { max: limitFor(evidence.sheet, 'position.dilution').max }, cover),
      ...antenna(evidence),
    ]
  },
})

const names = ['position.antennaX', 'position.antennaY', 'position.antennaZ'] as const
type Place = readonly [number, number, number]

/** Where the antenna sits, as it was measured on the airframe, against the sheet; and what the board is told, against both. */
const antenna = ({ board: { settings }, sheet, observations }: Evidence): Finding[] => {
  const placeIn = (from: Readonly<Record<string, number>> | undefined): Place | null =>
    from === undefined || !names.some((name) => name in from) ? null : (names.map((name) => from[name] ?? 0) as unknown as Place)
  const entered = observations?.find((o) => o.antenna !== undefined)?.antenna
  const sits = entered === undefined ? null : ([entered.forwardM, entered.rightM, entered.downM] as const)
  const [wanted, told] = [placeIn(sheet.settings), placeIn(settings)]
  const max = limitFor(sheet, 'position.antenna').max
  const right = wanted ?? sits
  return [
    ...(sits === null || wanted === null
      ? []
      : [
          judged(
            'placed',
            apart(sits, wanted),
            'm',
            { max },
            byHand(
              `The antenna sits ${words(entered)}; the sheet has it ${words({ forwardM: wanted[0], rightM: wanted[1], downM: wanted[2] })}. Move it there.`,
            ),
          ),
        ]),
    ...(told === null || right === null
      ? []
      : [
          judged(
            'antenna',
            apart(told, right),
            'm',
            { max },
            {
              by: 'settings',
              act: `The board is set to another place of the antenna than ${wanted === null ? 'the one that it sits at' : 'the sheet has'}. Write it.`,
              settings: Object.fromEntries(names.map((name, i) => [name, right[i] as number])),
            },
          ),
        ]),
  ]
}

const apart = (a: Place, b: Place): number => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2])

/** An offset as a person says it, in millimetres. */
const words = ({ forwardM, rightM, downM }: Offset = { forwardM: 0, rightM: 0, downM: 0 }): string => {
  const part = (value: number, positive: string, negative: string) =>
    `${Math.abs(Math.round(value * 1000))} mm ${value < 0 ? negative : positive}`
  return `${part(forwardM, 'ahead', 'behind')}, ${part(rightM, 'right', 'left')} and ${part(downM, 'below', 'above')} the middle`
}
