import type { Evidence, Finding, Offset } from '@taraf/contract'
import { defineCheck, judged, refusal } from '../check'
import { limitFor } from '../limits'
import { median } from '../statistics'

const seconds = 120

/** The position receiver under the open sky: a fix in time, enough satellites, good geometry, the antenna where it is told. */
export const position = defineCheck({
  id: 'sensors.position',
  version: 2,
  station: 'sensors',
  title: 'Position',
  proves: 'It finds where it is, soon and well.',
  needs: [],
  reads: { settings: ['position.*'], parts: ['position receiver'], acts: [], firmware: true },
  appliesTo: (sheet) => sheet.fitted?.includes('position') === true && !sheet.setAside?.includes('sensors.position'),
  capture: {
    stage: 'body',
    segments: [
      {
        label: 'sky',
        seconds,
        ask: 'Carry it under the open sky with its battery or cable in.',
        during: 'Waiting for a fix: leave it under the open sky',
        streams: ['fix'],
        until: 'fix',
        place: true,
      },
    ],
  },
  evaluate: (evidence) => {
    const fix = evidence.segments.find((s) => s.label === 'sky')?.streams.fix
    if (fix === undefined || fix.t.length === 0)
      return refusal('the position receiver says nothing', 'See that it is plugged in and its socket set, then take it again.')
    const first = Array.from(fix.fixed).findIndex((fixed) => fixed >= 0.5)
    const within = limitFor(evidence.sheet, 'position.wait').max
    const at = (i: number) => (fix.t[i] as number) - (fix.t[0] as number)
    if (first < 0 && at(fix.t.length - 1) < within - 2)
      return refusal(
        'there was no fix yet when the take ended',
        'What needs a fix cannot pass before one: leave it under the open sky for longer.',
      )
    const wait = first < 0 ? at(fix.t.length - 1) : at(first)
    const since = (column: ArrayLike<number>) => median(Array.from(column).slice(Math.max(0, first)))
    const cover = {
      act: 'See that nothing covers its antenna, away from walls and video; if it stays, replace it.',
      work: ['replace position receiver' as const],
    }
    return [
      judged('wait', first < 0 ? within + 1 : wait, 's', { max: within }, cover),
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
            {
              act: `The antenna sits ${words(entered)}; the sheet has it ${words({ forwardM: wanted[0], rightM: wanted[1], downM: wanted[2] })}. Move it there.`,
            },
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
              act: `The board is told another place of the antenna than ${wanted === null ? 'the one that it sits at' : 'the sheet has'}. Write it.`,
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
