import { EventEmitter } from 'node:events'
import { senseColumns, type AskBody, type Entry, type JobView, type Person, type SenseTell } from '@taraf/contract'
import { defineCheck, isPropsOff, want } from '@taraf/core'
import { BoardRefused, asker, demoShop, rigOf, sheetOf } from '@taraf/demo'
import { actOn, randomFrom, stepS, type Rig } from '@taraf/rig'
import { JumpClock, MotorHeat, TakeRun, type BoardLink } from '@taraf/takes'
import { wantPropsOff } from '../benches/propsOff'
import { ProblemError } from '@taraf/contract'
import type { BenchLink } from '../links/benchLink'

// Every order of acts at a bench, up to where nothing new can come of it: the server's own take and the rig together, in one clock. The person is
// honest and careful: confirms props off only where they are, and mounts none on an airframe that has its battery in. Whatever else
// they do, and in whatever order, no motor turns with a prop on.
jest.setTimeout(Math.max(900_000, Number(process.env.TARAF_ACTS ?? 0) * 50))

const sheet = sheetOf('N4')
const state = { battery: true, props: 'off' } as const
const madeUp = {
  id: 'made.up',
  version: 1,
  station: 'sensors',
  title: 'Motors turn',
  proves: 'Nothing turns that must not.',
  needs: [],
  reads: { settings: [], parts: [], acts: [], image: false },
  appliesTo: () => true,
  stages: null,
  evaluate: () => [],
} as const
/** Turned by a hand that holds the button. */
const held = defineCheck({
  ...madeUp,
  *take() {
    yield* want.capture({ label: 'still', ask: 'Leave it.', seconds: 0.08, streams: ['imu'], state })
    const outputs = [1, 2, 3, 4].map((output) => ({ output, share: 0.3 }))
    for (const [label, seconds] of [
      ['first', 0.08],
      ['second', 60],
    ] as const)
      yield* want.turn({ label, ask: 'Hold.', seconds, runUpS: 0.05, outputs, streams: ['imu'], state })
  },
})
/** Turned by the board, armed by its transmitter. */
const armed = defineCheck({
  ...madeUp,
  *take() {
    const permit = 'armed-bench' as const
    const { short } = yield* want.watch({
      label: 'arm',
      ask: 'Arm it.',
      permit,
      streams: [],
      seconds: 5,
      until: ['armed'],
      state,
    })
    if (short === true) return
    const first = { ask: 'Hold it.', permit, streams: ['imu'], atOnce: true, state: { ...state, armed: true } } as const
    yield* want.capture({ ...first, label: 'short', seconds: 0.08 })
    yield* want.capture({ ...first, label: 'long', seconds: 60 })
  },
})
/** ESCs are taught, and turned under what was confirmed for the battery that came. */
const taught = defineCheck({
  ...madeUp,
  *take() {
    yield* want.state({ label: 'out', ask: 'Battery out.', state: { battery: false } })
    yield* want.watch({ label: 'teach', ask: 'Hold.', permit: 'teach', streams: ['outputs'], seconds: 40, until: ['taught'] })
    yield* want.state({ label: 'props', ask: 'Hold.', state })
    const outputs = [1, 2, 3, 4].map((output) => ({ output, share: 0.3 }))
    yield* want.turn({ label: 'turn', ask: 'Hold.', seconds: 60, runUpS: 0.05, outputs, streams: ['imu'], state })
  },
})
/** Flown with its props on, once somebody said so of the battery that is in; the cable goes out for it. */
const flown = defineCheck({
  ...madeUp,
  *take() {
    const battery = { battery: true } as const
    yield* want.state({ label: 'ready', ask: 'Battery in.', state: battery })
    const { observations = [] } = yield* want.answers({
      label: 'place',
      ask: 'Look.',
      questions: [{ id: 'props', words: 'Props are on.', why: 'It flies.', answer: 'so' }],
      confirms: 'props on',
      state: battery,
    })
    if (observations.some(({ answer }) => answer === false)) return
    yield* want.watch({
      label: 'flight',
      ask: 'Fly.',
      permit: 'flight',
      streams: [],
      seconds: 60,
      until: ['link:up'],
      afterS: 0.05,
      mayLoseLink: true,
      state: { ...battery, props: 'on' },
    })
    yield* want.capture({ label: 'after', ask: 'Leave it.', seconds: 0.08, streams: ['imu'] })
  },
})
const by: Person = { id: 'p', login: 'p', name: 'P', role: 'technician' }

/** The server's end of a link to a rig in the same clock: what it asks is answered at once, what the rig shows is told. */
class LinkToRig extends EventEmitter {
  phase = 'up'
  detail = 'cut'
  isOver = false
  identity = { loader: false }
  state: ReturnType<Rig['state']>
  private stage = 'body'
  /** Whether a take runs on it. */
  isTaken: () => boolean = () => false
  private readonly answer: (body: AskBody) => unknown
  expectArming(): void {}

  constructor(readonly rig: Rig) {
    super()
    this.setMaxListeners(0)
    this.state = rig.state()
    this.answer = asker(rig)
  }
  async ask(body: AskBody): Promise<unknown> {
    if (this.phase !== 'up') throw new ProblemError('link-lost', this.detail)
    try {
      return this.answer(body)
    } catch (error) {
      if (error instanceof BoardRefused) throw new ProblemError('board-refused', error.message)
      throw error
    }
  }
  async wantStage(stage: string): Promise<void> {
    this.stage = stage
  }
  set(up: boolean): void {
    if (up === (this.phase === 'up')) return
    this.phase = up ? 'up' : 'lost'
    if (up) {
      // As the link does: a permit that outlived a take is ended.
      if (this.rig.board.permits.current !== null && !this.isTaken()) this.rig.board.stop('stop all')
      this.state = this.rig.state()
    } else this.rig.board.linkClosed()
    this.emit('phase')
  }
  step(): void {
    const { t, force, rate } = this.rig.step('body')
    if (this.phase !== 'up') return
    const now = this.rig.state()
    if (JSON.stringify(now) !== JSON.stringify(this.state)) {
      this.state = now
      this.emit('phase')
    }
    for (const event of this.rig.board.events.splice(0)) this.emit('told', event)
    const values = new Float32Array(senseColumns.length)
    values.set([...force, ...rate])
    const block = { tell: 'sense', seq: 0, stage: this.stage, t: Float64Array.of(t), values }
    this.emit('block', block as SenseTell)
    const { commands, collective } = this.rig.board
    this.emit('stream', { tell: 'stream', stream: 'outputs', t: block.t, values: Float32Array.from([...commands, collective]) })
  }
}

const acts = ['cable', 'battery', 'props', 'link', 'restart', 'confirm', 'start', 'press', 'release', 'wait'] as const
/** What a long walk has besides: the same press kept by a second screen, Stop all, a take that is stopped. */
const walked = [...acts, 'second screen', 'stop all', 'stop the take'] as const
/** Where a transmitter arms the board, nobody presses anything. */
const armedActs = [...acts.filter((act) => act !== 'press' && act !== 'release'), 'transmitter', 'arm'] as const
const walkedArmed = [...armedActs, 'stop all', 'stop the take'] as const
/** Where ESCs are taught, `say` is the hold that sends high: it says that props are off, and is only done where they are. */
const taughtActs = [...acts.filter((act) => act !== 'restart'), 'say', 'wait long'] as const
/** Where it flies, `answer` says of the props what is so, and `confirm` that they are off. */
const flownActs = [...armedActs, 'answer'] as const
type Act = (typeof walked)[number] | (typeof armedActs)[number] | (typeof taughtActs)[number] | (typeof flownActs)[number]

const begins = new Date('2026-11-02T09:00:00Z')

class World {
  readonly rig: Rig
  readonly link: LinkToRig
  private readonly entries: Pick<Entry, 'body'>[] = []
  /** What is answered at once has come after a few turns of what waits for it. */
  private readonly clock = new JumpClock(begins, async () => {
    for (let turns = 0; turns < 4; turns++) await Promise.resolve()
  })
  private readonly heat: MotorHeat
  private run: TakeRun | null = null
  private powerId: string | null = null
  private pressed: string | null = null
  private presses = 0
  private lastPress: string | null = null
  /** The same press, kept by another screen of the same person. */
  private twin: string | null = null
  private readonly secondScreen = {}
  private cut = false
  private readonly screen = {}
  private steps = 0
  private onCable = 0
  readonly wrong: string[] = []
  private last: Act | null = null

  /** @param share of the time that each act is given */
  constructor(
    private readonly share = 1,
    private readonly check = held,
  ) {
    const type = check === taught ? 'K4' : 'N4'
    this.rig = rigOf({ type, board: 'FB-1', seed: 1 }, demoShop(begins))
    this.link = new LinkToRig(this.rig)
    this.link.isTaken = () => this.run !== null
    const inMemory = { read: () => Promise.resolve(0), keep: () => Promise.resolve() }
    this.heat = new MotorHeat(this.link as unknown as BoardLink, this.clock, inMemory)
    actOn(this.rig, { act: 'stick', stick: 'throttle', to: -1 })
  }

  private get view() {
    return { entries: this.entries as JobView['entries'], board: 'FB-1', tag: 'T' }
  }

  async do(act: Act): Promise<void> {
    const { rig } = this
    this.last = act
    switch (act) {
      case 'cable':
        rig.plugCable(!rig.power.cable)
        break
      case 'battery':
        rig.connect(rig.power.battery ? 'none' : 'pack')
        break
      case 'props':
        // Nobody mounts a prop while ESCs wait to be taught.
        if (!rig.power.battery && rig.board.permits.current === null)
          actOn(rig, { act: 'props', on: rig.airframe.frame.props[0] === 'none' })
        break
      case 'link':
        this.cut = !this.cut
        break
      case 'restart':
        if (!rig.turning && !rig.board.arming.armed) rig.restart()
        break
      case 'confirm':
        if (this.link.phase === 'up' && rig.power.battery && rig.airframe.frame.props.every((p) => p === 'none'))
          this.entries.push({
            body: { kind: 'confirmed', what: 'props off', powerId: this.link.state.powerId, board: 'FB-1' },
          })
        break
      case 'start':
        this.start()
        break
      case 'press':
        this.pressed ??= `press ${this.presses++}`
        this.lastPress = this.pressed
        break
      case 'release':
        this.pressed = null
        break
      case 'second screen':
        this.twin = this.twin === null ? (this.pressed ?? this.lastPress) : null
        break
      case 'stop all':
        await this.link.ask({ ask: 'stop' }).catch(() => {})
        break
      case 'stop the take':
        this.run?.stop()
        break
      case 'transmitter':
        actOn(rig, { act: 'transmitter', on: !rig.transmitter.on })
        break
      case 'arm':
        actOn(rig, { act: 'switch', name: 'A', to: rig.transmitter.build.switches[0]?.at === 0 ? 1 : 0 })
        break
      case 'answer':
        if (this.run?.list != null)
          this.run.answer([{ segment: 'place', item: 'props', answer: rig.airframe.frame.props[0] !== 'none' }])
        break
      case 'say':
        if (rig.airframe.frame.props.every((prop) => prop === 'none') && this.run?.tell.phase === 'waiting')
          try {
            this.run.next()
          } catch (error) {
            if (!(error instanceof ProblemError)) throw error
          }
        break
      case 'wait':
      case 'wait long':
        break
    }
    await this.pass(this.share * (act === 'wait long' ? 3.2 : act === 'wait' ? 0.4 : act === 'press' ? 0.2 : 0.04))
  }

  private start(): void {
    if (this.run !== null || this.link.phase !== 'up') return
    const link = this.link as unknown as BoardLink
    try {
      this.powerId = this.check === taught || this.check === flown ? null : wantPropsOff(this.view, link as unknown as BenchLink)
    } catch (error) {
      if (error instanceof ProblemError) return
      throw error
    }
    const nothing = () => {}
    const airframe = { tag: 'T', board: 'FB-1', parts: [] }
    const run = new TakeRun({
      job: 'j',
      check: this.check,
      by,
      link,
      clock: this.clock,
      heat: this.heat,
      sheet,
      airframe,
      place: { lat: 54 },
      hovers: [],
      powerId: this.powerId,
      propsOff: () => {
        const { power, powerId } = this.link.state
        this.powerId = power !== 'cable' && isPropsOff(this.entries, 'FB-1', powerId) ? powerId : null
        return Promise.resolve(this.powerId)
      },
      saidProps: (what, powerId) => {
        this.entries.push({ body: { kind: 'confirmed', what, powerId, board: 'FB-1' } })
        return Promise.resolve()
      },
      told: nothing,
      wrote: async () => {},
      changed: async () => {},
      found: async () => {},
    })
    this.run = run
    void run
      .capture()
      .catch(nothing)
      .finally(() => (this.run = null))
  }

  private async pass(seconds: number): Promise<void> {
    this.link.set(this.rig.power.cable && !this.cut)
    for (let i = 0; i < seconds / stepS; i++) {
      if (this.pressed !== null && this.steps % 10 === 0) this.run?.keep({ press: this.pressed, screen: this.screen })
      if (this.twin !== null && this.steps % 10 === 5) this.run?.keep({ press: this.twin, screen: this.secondScreen })
      this.steps += 1
      this.link.step()
      this.watchProps()
      await this.clock.pass(stepS * 1000)
    }
  }

  /** With a prop on, motors turn only where props were said to be on for this battery, and on a cable no longer than it takes to stop them. */
  private watchProps(): void {
    const { rig, link } = this
    const isLoose = rig.board.drives && rig.airframe.frame.props[0] !== 'none'
    this.onCable = isLoose && link.phase === 'up' ? this.onCable + stepS : 0
    if (!isLoose) return
    if (this.saidOf(rig.state().powerId) !== 'props on') this.wrong.push('props on that nobody spoke of')
    if (this.onCable > 0.6) this.wrong.push('flown on a cable')
  }

  /** What was last said of the props for a battery connection. */
  private saidOf(powerId: string | null): string | null {
    const said = this.entries.findLast(({ body }) => body.kind === 'confirmed' && body.powerId === powerId)?.body
    return said?.kind === 'confirmed' ? said.what : null
  }

  /** What can still matter: two worlds that agree in this, and in what was done last, are the same from here on. */
  get signature(): string {
    const { rig, link, run } = this
    const { powerId } = rig.state()
    return JSON.stringify([
      this.last,
      rig.power.cable,
      rig.power.battery,
      rig.airframe.frame.props[0],
      this.cut,
      link.phase,
      rig.board.permits.current?.powerId === powerId,
      rig.board.permits.current?.kind,
      rig.turning,
      rig.board.drives,
      run === null ? null : [run.tell.phase, run.tell.done.length],
      run === null ? null : this.powerId === powerId,
      this.pressed !== null,
      rig.transmitter.on,
      rig.transmitter.build.switches[0]?.at,
      rig.board.arming.armed,
      rig.state().radio,
      this.saidOf(powerId),
    ])
  }

  /** What somebody does who wants motors to turn. */
  get sensible(): Act {
    const { rig, run } = this
    const { powerId } = rig.state()
    if (this.cut) return 'link'
    if (this.check === flown) return this.sensibleInFlight
    if (!rig.power.cable) return 'cable'
    if (rig.airframe.frame.props[0] !== 'none') return rig.power.battery ? 'battery' : 'props'
    if (this.check === taught) {
      const label = run?.tell.want?.label
      if (run === null) return 'start'
      if (label === 'out') return rig.power.battery ? 'battery' : 'wait'
      if (label === 'teach' && run.tell.phase === 'waiting') return rig.power.battery ? 'battery' : 'say'
      if (label === 'teach') return rig.power.battery ? 'wait long' : 'battery'
    }
    if (!rig.power.battery) return 'battery'
    if (!this.entries.some(({ body }) => body.kind === 'confirmed' && body.powerId === powerId)) return 'confirm'
    if (this.check === armed && !rig.transmitter.on) return 'transmitter'
    const isOn = rig.transmitter.build.switches[0]?.at !== 0
    // A switch that is on before the permit is there must be put on again.
    if (run === null) return this.check === armed && isOn ? 'arm' : 'start'
    if (this.check === armed) return isOn ? 'wait' : 'arm'
    return this.pressed === null ? 'press' : 'wait'
  }

  private get sensibleInFlight(): Act {
    const { rig, run } = this
    const isOn = rig.transmitter.build.switches[0]?.at !== 0
    if (run === null) return !rig.power.cable ? 'cable' : isOn ? 'arm' : 'start'
    if (rig.airframe.frame.props[0] === 'none') return rig.power.battery ? 'battery' : 'props'
    if (!rig.power.battery) return 'battery'
    if (run.list !== null) return 'answer'
    if (!rig.transmitter.on) return 'transmitter'
    if (run.tell.want?.label !== 'flight') return 'wait'
    return rig.power.cable ? 'cable' : isOn ? 'wait' : 'arm'
  }

  get turned(): boolean {
    return this.rig.turning
  }
}

/** A state of the bench: the shortest way to it that is known, what was not done from it yet, and where what was done led. */
interface Place {
  path: readonly Act[]
  readonly untried: Act[]
  readonly leads: Map<Act, Place>
}

/**
 * Goes everywhere: from each state each act once, and on from where that leads. Where nothing is left to do it goes to the nearest state where
 * something is, from the start only where that is nearer: most ways begin alike.
 */
class Search {
  readonly places = new Map<string, Place>()
  turned = 0

  constructor(
    private readonly check: typeof held,
    private readonly mine: readonly Act[],
    private readonly most: number,
  ) {}

  async from(begun: readonly Act[]): Promise<void> {
    let world = await this.walked(begun)
    const start = this.place(world, [])
    let done: Act[] = [...begun]
    for (let at = start; ;) {
      const onward = this.nearest(at)
      const anew = this.nearest(start)
      const isAnew = onward === null || (anew !== null && begun.length + anew.acts.length < onward.acts.length)
      const way = isAnew ? anew : onward
      if (way === null) return
      if (isAnew) {
        world = await this.walked(begun)
        done = [...begun]
      }
      if (isAnew) at = start
      for (const act of [...way.acts, way.to.untried.pop() as Act]) {
        const from = at
        done.push(act)
        await world.do(act)
        expect({ done, incidents: world.rig.incidents, wrong: world.wrong }).toEqual({ done, incidents: [], wrong: [] })
        this.turned += Number(world.turned)
        at = this.place(world, [...from.path, act])
        from.leads.set(act, at)
      }
    }
  }

  get deepest(): number {
    return Math.max(...[...this.places.values()].map(({ path }) => path.length))
  }

  private isOpen({ path, untried }: Place): boolean {
    return untried.length > 0 && path.length < this.most
  }

  /** What leads from a state to the nearest one where something was not done; null where there is none. */
  private nearest(from: Place): { readonly acts: readonly Act[]; readonly to: Place } | null {
    const seen = new Set([from])
    const wayTo = [{ acts: [] as readonly Act[], to: from }]
    for (const { acts, to } of wayTo) {
      if (this.isOpen(to)) return { acts, to }
      for (const [act, next] of to.leads)
        if (!seen.has(next)) {
          seen.add(next)
          wayTo.push({ acts: [...acts, act], to: next })
        }
    }
    return null
  }

  private place(world: World, path: readonly Act[]): Place {
    const { signature } = world
    const known = this.places.get(signature)
    if (known === undefined) {
      const place = { path, untried: [...this.mine], leads: new Map<Act, Place>() }
      this.places.set(signature, place)
      return place
    }
    if (path.length < known.path.length) known.path = path
    return known
  }

  private async walked(path: readonly Act[]): Promise<World> {
    const world = new World(1, this.check)
    for (const act of path) await world.do(act)
    return world
  }
}

const mayFly: readonly Act[] = ['props', 'battery', 'transmitter', 'wait', 'start', 'wait', 'answer', 'wait']

test.each([
  ['held', held, acts, Infinity, [[]]],
  ['armed', armed, armedActs, 8, [[]]],
  // From where it may fly, and from there with the cable out.
  ['flown', flown, flownActs, 3, [mayFly, [...mayFly, 'cable', 'wait']]],
  // From the first act on, and from where the ESCs are taught and props were said to be off once more.
  ['taught', taught, taughtActs, 2, [[], ['start', 'say', 'battery', 'wait long', 'wait long', 'confirm']]],
] as const)(
  '%s: whatever is done in whatever order, as deep as is named and mostly to where nothing new comes, no motor turns with a prop on',
  async (_name, check, mine, most, begun) => {
    const search = new Search(check, mine, most)
    for (const path of begun) await search.from(path)
    // The search has gone where motors turn, and deeper than was asked.
    expect(search.turned).toBeGreaterThan(most > 2 ? 20 : 0)
    expect(search.deepest).toBeGreaterThanOrEqual(Math.min(8, most))
    expect(search.places.size).toBeGreaterThan(most > 2 ? 100 : 20)
  },
)

/** TARAF_ACTS=1000000 npx jest --selectProjects=server --testPathPattern=motors.model walks as far as that. */
const wantedActs = Number(process.env.TARAF_ACTS ?? 1_500)

test.each([
  ['held', held, walked],
  ['armed', armed, walkedArmed],
  ['taught', taught, [...taughtActs, 'stop all', 'stop the take']],
  ['flown', flown, [...flownActs, 'stop all', 'stop the take']],
] as const)(
  '%s: a long walk, often towards motors that turn and often anywhere, at one bench that is never made anew, has no incident either',
  async (_name, check, mine) => {
    const random = randomFrom(Number(process.env.TARAF_SEED) || 7)
    let [turnedActs, done, runs] = [0, 0, 0]
    while (done < wantedActs) {
      const world = new World(0.4, check)
      runs += 1
      const path: Act[] = []
      // A bench lives for a day: what it remembers of its battery connections and presses is part of the walk.
      for (let i = 0; i < 1_000 && done < wantedActs; i++) {
        const isSensible = random.uniform() < 0.5
        const act = isSensible ? world.sensible : (mine[Math.floor(random.uniform() * mine.length)] ?? 'wait')
        path.push(act)
        await world.do(act)
        done += 1
        turnedActs += Number(world.turned)
        if (world.rig.incidents.length + world.wrong.length > 0)
          expect({ path, incidents: world.rig.incidents, wrong: world.wrong }).toEqual({ path, incidents: [], wrong: [] })
      }
    }
    expect({ done, runs: runs > 0 }).toEqual({ done: wantedActs, runs: true })
    expect(turnedActs).toBeGreaterThan(wantedActs / 50)
  },
)
