import type { LinkTell, Sheet, TakeBody, TakeTell } from '@taraf/contract'
import { eventually, makeWorld, ofOrientation, type Client, type World } from './world'

export { pause } from './world'

export const throttle = (to: number) => ({ act: 'stick', stick: 'throttle', to })
export const arm = (to: number) => ({ act: 'switch', name: 'A', to })
export const battery = (source: string) => ({ act: 'battery', source })
export const level = { act: 'lay', way: 'forward' }
export const transmitter = (on: boolean) => ({ act: 'transmitter', on })

/** A technician at a sound airframe whose board is armed in takes, with hands on its bench and an ear on its feed. */
export class ArmedBench {
  private constructor(
    readonly world: World,
    readonly ines: Client,
    readonly job: string,
    private readonly feed: Awaited<ReturnType<Client['live']>>,
  ) {}

  static async make(keeps: readonly string[], limits: Sheet['limits'] = {}): Promise<ArmedBench> {
    const world = await makeWorld({ leavesOut: ofOrientation, keeps, limits })
    const ines = await world.signIn('ines')
    const job = await ines.begin('T-001', world.benches.sound)
    return new ArmedBench(world, ines, job, await ines.live({ job, bench: world.benches.sound }))
  }

  get rig() {
    return this.world.rigs.sound
  }

  hands = async (...acts: object[]): Promise<void> => {
    for (const act of acts) expect((await this.ines.post(`/hands/${this.world.benches.sound}`, act)).status).toBe(200)
  }

  now = () => this.feed.told.filter((t): t is TakeTell => t.tell === 'take').at(-1)
  linked = () => eventually(() => this.feed.told.filter((t): t is LinkTell => t.tell === 'link').at(-1)?.phase === 'up', 20_000)
  /** The newest that the feed told of the board. */
  state = () => this.feed.told.filter((t): t is LinkTell => t.tell === 'link').at(-1)?.state
  step = (label: string) => eventually(() => this.now()?.want?.label === label && this.now()?.phase === 'capturing', 20_000)
  led = (words: RegExp) => eventually(() => words.test(this.now()?.guide?.words ?? ''), 15_000)
  stored = () => eventually(() => this.now()?.phase === 'stored', 20_000)
  last = async () => (await this.ines.job(this.job)).entries.at(-1)?.body as TakeBody
  confirm = () => this.ines.post(`/jobs/${this.job}/confirmations`, { what: 'props off' })

  /** Everything as a take of these begins. */
  begin = async (check: string): Promise<void> => {
    await this.hands(transmitter(true), level, throttle(-1), arm(0), battery('none'), battery('pack'))
    await eventually(() => this.rig.state().radio === 'heard')
    await this.confirm()
    const { status, body } = await this.ines.post(`/jobs/${this.job}/takes`, { check })
    expect({ status, ...(status === 202 ? {} : { body }) }).toEqual({ status: 202 })
  }

  end = async (): Promise<void> => {
    this.feed.socket.terminate()
    await this.world.end()
  }
}
