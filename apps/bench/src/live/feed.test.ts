import type { LinkTell } from '@taraf/contract'
import { makeStore, type Store } from '../store/store'
import { Feed, ring } from './feed'

/** A socket that a test opens, closes and speaks through. */
class FakeSocket {
  static made: FakeSocket[] = []
  static OPEN = 1
  readyState = 0
  sent: string[] = []
  binaryType = ''
  onopen: () => void = () => {}
  onmessage: (event: { data: string | ArrayBuffer }) => void = () => {}
  onclose: (event: { code: number }) => void = () => {}
  constructor(readonly url: string) {
    FakeSocket.made.push(this)
  }
  send(text: string) {
    this.sent.push(text)
  }
  close() {}
  opens() {
    this.readyState = 1
    this.onopen()
  }
  tells(tell: object) {
    this.onmessage({ data: JSON.stringify(tell) })
  }
  drops(code = 1006) {
    this.readyState = 3
    this.onclose({ code })
  }
}
const newest = () => FakeSocket.made.at(-1) as FakeSocket
const [job, bench] = ['7c8a1c1e-0000-4000-8000-000000000001', '7c8a1c1e-0000-4000-8000-000000000002']
const linkUp = (change: Partial<LinkTell> = {}): LinkTell => ({
  tell: 'link',
  bench,
  phase: 'up',
  detail: '',
  board: 'B-1',
  bootedAtMs: 1000,
  loader: false,
  powerSince: null,
  state: {
    power: 'cable',
    powerId: 'p',
    motors: 'still',
    radio: 'none',
    mode: 'rate',
    refusing: [],
    lossPhase: 'none',
    permit: null,
  },
  lostBlocks: 0,
  ...change,
})

let store: Store
let feed: Feed
beforeEach(() => {
  jest.useFakeTimers()
  FakeSocket.made = []
  Object.assign(globalThis, { WebSocket: FakeSocket, fetch: () => new Promise(() => {}) })
  store = makeStore()
  feed = new Feed(store)
  feed.start()
})
afterEach(() => {
  feed.stop()
  jest.useRealTimers()
})

describe('the live feed of a screen', () => {
  test('asks for what is watched as soon as it is open, and anew when that changes', () => {
    feed.watch({ job, bench: null })
    expect(newest().sent).toEqual([])
    newest().opens()
    feed.watch({ job, bench })
    expect(newest().sent.map((s) => JSON.parse(s) as unknown)).toEqual([{ watch: { job } }, { watch: { job, bench } }])
    feed.watch({ job, bench })
    expect(newest().sent).toHaveLength(2)
  })

  test('says when it is cut off, comes back by itself, later and later, and asks again', () => {
    newest().opens()
    feed.watch({ job, bench })
    newest().tells(linkUp())
    newest().drops()
    expect(store.getState().live).toMatchObject({ connected: false, link: null })
    jest.advanceTimersByTime(300)
    expect(FakeSocket.made).toHaveLength(2)
    newest().drops()
    jest.advanceTimersByTime(300)
    expect(FakeSocket.made).toHaveLength(2)
    jest.advanceTimersByTime(300)
    expect(FakeSocket.made).toHaveLength(3)
    newest().opens()
    expect(store.getState().live.connected).toBe(true)
    expect(newest().sent).toHaveLength(1)
  })

  test('keeps what is told of the watched bench and job, and nothing else', () => {
    newest().opens()
    feed.watch({ job, bench })
    newest().tells(linkUp({ bench: 'another' }))
    expect(store.getState().live.link).toBeNull()
    newest().tells(linkUp())
    expect(store.getState().live.link?.board).toBe('B-1')
    newest().tells({ tell: 'take', job: 'another', check: 'c', phase: 'capturing', done: [], want: null, share: 0 })
    expect(store.getState().live.take).toBeNull()
    newest().tells({ tell: 'take', job, check: 'c', phase: 'capturing', done: [], want: null, share: 0.4 })
    expect(store.getState().live.take?.share).toBe(0.4)
    feed.watch({ job: null, bench: null })
    expect(store.getState().live).toMatchObject({ link: null, take: null })
  })

  test('samples from before a restart of the board are not mixed with those after', () => {
    newest().opens()
    feed.watch({ job, bench })
    newest().tells(linkUp())
    ring.push({ t: new Float64Array([1]), values: new Float32Array(9) })
    newest().tells(linkUp({ lostBlocks: 1 }))
    expect(ring.count).toBe(1)
    newest().tells(linkUp({ bootedAtMs: 9000 }))
    expect(ring.count).toBe(0)
    expect(feed.bootedAtMs).toBe(9000)
  })

  test('danger is said until it is heard that nothing turns: neither a lost feed nor a lost link takes it away', () => {
    newest().opens()
    feed.watch({ job, bench })
    const turning = linkUp()
    newest().tells({ ...turning, state: turning.state === null ? null : { ...turning.state, motors: 'turning' } })
    expect(store.getState().live.danger).toBe(true)
    newest().tells(linkUp({ phase: 'lost', state: null }))
    expect(store.getState().live.danger).toBe(true)
    newest().drops()
    expect(store.getState().live).toMatchObject({ link: null, danger: true })
    jest.advanceTimersByTime(300)
    newest().opens()
    newest().tells(linkUp())
    expect(store.getState().live.danger).toBe(false)
  })

  test('the way from the board is half of there and back, by one clock, and the newest ping alone counts', () => {
    newest().opens()
    feed.watch({ job, bench })
    jest.advanceTimersByTime(2_000)
    const pings = () =>
      newest()
        .sent.map((s) => JSON.parse(s) as { ping?: number })
        .flatMap((m) => m.ping ?? [])
    expect(pings()).toEqual([1])
    jest.advanceTimersByTime(30)
    newest().tells({ tell: 'pong', ping: 7, boardMs: 1 })
    expect(feed.wayMs).toBeNull()
    newest().tells({ tell: 'pong', ping: 1, boardMs: 10 })
    expect(feed.wayMs).toBe(20)
  })

  test('once stopped it stays closed', () => {
    newest().opens()
    feed.stop()
    newest().drops()
    jest.advanceTimersByTime(10_000)
    expect(FakeSocket.made).toHaveLength(1)
  })
})

describe('a connection that dies without a word', () => {
  test('is taken for lost once nothing has answered for some seconds: what it told is not shown as now', () => {
    newest().opens()
    feed.watch({ job, bench })
    newest().tells(linkUp())
    // Quiet, and answered: a bench where nothing happens.
    for (let ping = 1; ping <= 10; ping++) {
      jest.advanceTimersByTime(2_000)
      newest().tells({ tell: 'pong', ping, boardMs: null })
    }
    expect(store.getState().live).toMatchObject({ connected: true, link: { phase: 'up' } })
    const dead = newest()
    jest.advanceTimersByTime(8_000)
    expect(store.getState().live).toMatchObject({ connected: false, link: null })
    jest.advanceTimersByTime(300)
    expect(FakeSocket.made).toHaveLength(2)
    // What it says after all, and that it closed, is of then.
    newest().opens()
    dead.tells(linkUp())
    dead.drops()
    expect(store.getState().live).toMatchObject({ connected: true, link: null })
    expect(FakeSocket.made).toHaveLength(2)
  })

  test('is lost at once where the device says that it has no network', () => {
    newest().opens()
    expect(store.getState().live.connected).toBe(true)
    window.dispatchEvent(new Event('offline'))
    expect(store.getState().live.connected).toBe(false)
  })
})
