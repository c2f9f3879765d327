import type { Want } from '@taraf/contract'
import type { Meddler } from '@taraf/demo'
import { actOn, type Rig } from '@taraf/rig'
import { type Disturbance, type Target, isIt, after, acting, passing } from './disturbance'
import { someEsc } from './escs'

const isTurn = (want: Want): boolean => want.kind === 'turn'
/** A hand turns them, or an armed board. */
const turnsMotors = (want: Want): boolean => isTurn(want) || (want.kind === 'capture' && want.permit === 'armed-bench')
/** For good, from the beginning of a turn on: what breaks in its last moment is the next take's to find. */
const early =
  (act: (rig: Rig, target: Target) => void) =>
  (target: Target): Meddler =>
    acting(0, act)({ ...target, row: Math.min(target.row, after(0.1)) })

/** What can go wrong while motors turn. */
export const atTheMotors: readonly Disturbance[] = [
  { id: 'the hand lets go', at: isTurn, meddle: acting(0, (rig) => void rig.board.stop('let go')) },
  {
    id: 'a motor falls out of step',
    at: isTurn,
    meddle: passing(
      0.4,
      (rig, target) => void Object.assign(someEsc(rig, target) ?? {}, { startAt: 2 }),
      (rig, target) => void Object.assign(someEsc(rig, target) ?? {}, { startAt: 0.045 }),
    ),
  },
  {
    id: 'the battery out while ESCs are taught',
    at: (want) => want.kind === 'watch' && want.permit === 'teach',
    meddle: (target) =>
      acting(0, (rig) => void actOn(rig, { act: 'battery', source: 'none' }))({ ...target, row: 400 + (target.row % 2000) }),
  },
  {
    id: 'a bell that something locks',
    at: turnsMotors,
    meddle: early((rig, target) => {
      const drives = rig.airframe.drives.flatMap((drive) => drive ?? [])
      Object.assign(drives[target.row % drives.length]?.motor ?? {}, { rub: 5 })
    }),
  },
  {
    id: 'an ESC that says nothing any more',
    at: turnsMotors,
    meddle: early((rig, target) => void Object.assign(someEsc(rig, target) ?? {}, { plug: 'silent' })),
  },
  {
    id: 'disarmed in the middle',
    at: (want) => want.kind === 'capture' && want.permit !== undefined,
    meddle: acting(0, (rig) => void actOn(rig, { act: 'switch', name: 'A', to: 0 })),
  },
  {
    id: 'two motors tapped in exchange',
    at: (want) => want.kind === 'turn' && want.says === 'motor',
    meddle: () => ({
      said: ({ airframe: { positions } }, _want, observations, happened) => {
        // Of two that turn alike, whose flags look the same.
        const first = positions[0]
        const other = positions.findLast((p) => p.turn === first?.turn && p.tier === first.tier)
        if (first === undefined || other === undefined) return observations
        const name = ({ boom, tier }: typeof first) => (tier === 'only' ? boom : `${boom} ${tier}`)
        const pair = [name(first), name(other)]
        return observations.map((one) => {
          const at = pair.indexOf(one.position ?? '')
          if (at < 0) return one
          happened?.()
          return { ...one, position: pair[1 - at] ?? '' }
        })
      },
    }),
  },
  {
    id: 'the frame struck again and again',
    at: isTurn,
    meddle: (target) => ({
      row: (rig, want, row, happened) => {
        if (!isIt(want, target) || row < target.row || (row - target.row) % after(0.3) !== 0) return 'keep'
        actOn(rig, { act: 'knock' })
        happened?.()
        return 'keep'
      },
    }),
  },
]
