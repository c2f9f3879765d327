import { rigFor } from '../../tests/bench'
import { actOn } from '../hands'
import type { Rig } from '../rig'
import type { PermitKind } from './permits'

// Every order of acts at one board, to depth 8, for every kind of permit. Whoever asks for one names the battery connection that was confirmed, never
// the one that happens to be there, and is honest: says props off or on only where they are. Nobody mounts a prop on an airframe that has
// its battery in, or while its ESCs wait to be taught. Teaching is asked for before the battery is in, when a confirmation could still be outlived by a prop: it
// is confirmed by the very control that asks. Then nothing turns with a prop on but under a flight permit.
jest.setTimeout(300_000)

const kinds = ['spin', 'armed-bench', 'armed-alone', 'teach', 'flight'] as const
const acts = ['cable', 'battery', 'props', 'restart', 'confirm', ...kinds, 'turn', 'arm', 'stop', 'wait'] as const
type Act = (typeof acts)[number]
const most = 8

class World {
  readonly rig: Rig = rigFor({
    spoil: ({ drives }, settings) => {
      // An analogue signal, whose whole range the ESCs go by: one that counts is never taught.
      Object.assign(settings, { 'arm.wantsCalibration': 0, 'esc.signal': 0 })
      for (const drive of drives) if (drive !== null) drive.esc.range = { low: 0, high: 1 }
    },
  })
  private confirmed: { readonly powerId: string; readonly props: 'off' | 'on' } | null = null
  private token = ''
  private turning = false

  constructor() {
    this.rig.transmitter.on = true
    actOn(this.rig, { act: 'stick', stick: 'throttle', to: -1 })
  }

  private get props(): 'off' | 'on' {
    return this.rig.airframe.frame.props.every((p) => p === 'none') ? 'off' : 'on'
  }

  do(act: Act): void {
    const { rig } = this
    switch (act) {
      case 'cable':
        rig.plugCable(!rig.power.cable)
        break
      case 'battery':
        rig.connect(rig.power.battery ? 'none' : 'pack')
        break
      case 'props':
        if (!rig.power.battery && rig.board.permits.current?.kind !== 'teach')
          actOn(rig, { act: 'props', on: this.props === 'off' })
        break
      case 'restart':
        if (!rig.turning && !rig.board.arming.armed) rig.restart()
        break
      case 'confirm':
        this.confirmed = { powerId: rig.state().powerId, props: this.props }
        break
      case 'turn':
        this.turning = !this.turning
        break
      case 'arm': {
        const arm = rig.transmitter.build.switches[0]
        if (arm !== undefined) actOn(rig, { act: 'switch', name: arm.name, to: arm.at === 0 ? arm.positions - 1 : 0 })
        break
      }
      case 'stop':
        rig.board.stop('stop all')
        break
      case 'wait':
        break
      default:
        this.ask(act)
    }
    for (let step = 0; step < (act === 'wait' ? 100 : 12); step++) {
      if (this.turning && step % 10 === 0) rig.board.turn(this.token, { 1: 0.3, 2: 0.3, 3: 0.3, 4: 0.3 })
      rig.step('body')
    }
  }

  private ask(kind: PermitKind): void {
    if (kind === 'teach') this.do('confirm')
    if (this.confirmed === null) return
    const found = this.rig.board.grant(kind, this.confirmed.props, this.confirmed.powerId, this.rig.power)
    if ('token' in found) this.token = found.token
  }

  get signature(): string {
    const { rig } = this
    const permit = rig.board.permits.current
    const { powerId, motors, radio, lossPhase } = rig.state()
    return JSON.stringify([
      rig.power.cable,
      rig.power.battery,
      this.props,
      permit?.kind,
      permit?.token === this.token,
      motors,
      radio,
      lossPhase,
      rig.board.drives,
      rig.transmitter.build.switches[0]?.at,
      this.confirmed?.props,
      this.confirmed?.powerId === powerId,
      this.turning,
    ])
  }
}

test('no order of acts turns a motor with a prop on but under a flight permit', () => {
  const seen = new Set<string>()
  const held = new Set<string>()
  let frontier: (readonly Act[])[] = [[]]
  for (let depth = 1; depth <= most; depth++) {
    const next: (readonly Act[])[] = []
    for (const path of frontier)
      for (const act of acts) {
        const world = new World()
        for (const one of [...path, act]) world.do(one)
        const { rig } = world
        expect({ path: [...path, act], incidents: rig.incidents.slice(0, 1) }).toEqual({ path: [...path, act], incidents: [] })
        if (rig.turning) held.add(rig.board.permits.current?.kind ?? 'none')
        if (seen.has(world.signature)) continue
        seen.add(world.signature)
        next.push([...path, act])
      }
    frontier = next
  }
  // It has gone where motors turn under every kind.
  expect([...held]).toEqual(expect.arrayContaining([...kinds]))
  expect(seen.size).toBeGreaterThan(300)
})
