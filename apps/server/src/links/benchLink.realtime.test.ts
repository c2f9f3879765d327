import type { AddressInfo } from 'node:net'
import { WebSocketServer, type WebSocket } from 'ws'
import { senseColumns, streams, type Ask, type BoardState } from '@taraf/contract'
import { decode, encode } from '@taraf/contract/wire'
import { eventually } from '../../tests/world'
import { defineCheck, want, type Check } from '@taraf/core'
import { sheetOf } from '@taraf/demo'
import { MotorHeat, TakeRun, changeSettings } from '@taraf/takes'
import { machineClock } from '../clock'
import { machinePorts } from '../ports'
import { BenchLink } from './benchLink'

jest.setTimeout(30_000)

const stillState: BoardState = {
  power: 'cable',
  powerId: 'p',
  motors: 'still',
  radio: 'none',
  mode: 'rate',
  refusing: [],
  lossPhase: 'none',
  permit: null,
}

/** A board whose every answer a test can bend. */
class FakeBoard {
  readonly server = new WebSocketServer({ port: 0, host: '127.0.0.1' })
  readonly asked: string[] = []
  peer: WebSocket | null = null
  values: Record<string, number> = { 'level.roll': 0, 'level.pitch': 0 }
  /** Changes a value that is read back, as a board does that cannot keep it. */
  keep = (_name: string, value: number) => value
  cutAt: string | null = null
  /** An ask that it never answers. */
  mute: string | null = null
  private timer: NodeJS.Timeout | null = null
  private seq = 0
  private t = 0

  constructor() {
    this.server.on('connection', (peer) => {
      this.peer = peer
      peer.on('message', (bytes: Buffer) => this.answer(peer, decode(bytes) as Ask))
      peer.on('error', () => {})
    })
  }
  get url() {
    return `ws://127.0.0.1:${(this.server.address() as AddressInfo).port}`
  }
  private answer(peer: WebSocket, ask: Ask) {
    this.asked.push(ask.ask)
    if (this.cutAt === ask.ask) {
      this.cutAt = null
      return peer.terminate()
    }
    if (this.mute === ask.ask) return
    const answer = this.answerTo(ask)
    peer.send(encode({ id: ask.id, answer }))
    if (ask.ask === 'restart') setTimeout(() => peer.close(1012), 10)
  }
  private answerTo(ask: Ask): unknown {
    switch (ask.ask) {
      case 'hello':
        return {
          version: 1,
          speaker: 'fake',
          bootedAtMs: 0,
          state: stillState,
        }
      case 'identity':
        return { board: 'F-1', target: 'FAKE', firmware: { name: 'f', version: '1', features: [] }, loader: false }
      case 'settings.list':
        return {
          settings: Object.entries(this.values).map(([name, value]) => ({
            name,
            unit: 'deg',
            min: -15,
            max: 15,
            factory: 0,
            value,
            saved: value,
          })),
        }
      case 'settings.write':
        for (const [name, value] of Object.entries(ask.values)) this.values[name] = this.keep(name, value)
        return {}
      case 'sense':
        this.stream(ask.rows)
        return {}
      default:
        return ask.ask === 'restart' ? { backInMs: 10 } : {}
    }
  }
  stream(rows: number) {
    if (this.timer !== null) clearInterval(this.timer)
    this.seq = 0
    this.timer = setInterval(() => this.block(rows, {}), 10)
  }
  power(t: Float64Array) {
    const values = new Float32Array(t.length * streams.power.columns.length)
    this.peer?.send(encode({ tell: 'stream', stream: 'power', seq: 0, t, values }))
  }
  block(rows: number, bend: Record<string, unknown>, skip = 0) {
    this.seq += skip
    const t = Float64Array.from({ length: rows }, () => (this.t += 0.005))
    const values = new Float32Array(rows * senseColumns.length)
    this.peer?.send(encode({ tell: 'sense', seq: this.seq++, stage: 'body', t, values, ...bend }))
  }
  silence() {
    if (this.timer !== null) clearInterval(this.timer)
  }
  stop() {
    this.silence()
    for (const peer of this.server.clients) peer.terminate()
    this.server.close()
  }
}

let board: FakeBoard
let link: BenchLink
beforeEach(async () => {
  board = new FakeBoard()
  await new Promise((resolve) => board.server.once('listening', resolve))
  link = new BenchLink(board.url, machinePorts.dial, machineClock)
  await eventually(() => link.phase === 'up')
})
afterEach(() => {
  link.close()
  board.stop()
})

const restOf = (seconds: number): Check =>
  defineCheck({
    id: 'made.up',
    version: 1,
    station: 'sensors',
    title: 'Made up',
    proves: 'What a link loses is told.',
    needs: [],
    reads: { settings: [], parts: [], acts: [], image: false },
    appliesTo: () => true,
    stages: null,
    *take() {
      yield* want.capture({ label: 'rest', ask: 'Leave it.', seconds, streams: ['imu'] })
    },
    evaluate: () => [],
  })
/** A take of nothing but rest: its segment. Rejects with why it was refused. */
const captureRest = async (link: BenchLink, seconds: number) => {
  const none = async () => {}
  const heat = new MotorHeat(link, machineClock, { read: async () => 0, keep: none })
  const { evidence, findings } = await new TakeRun({
    job: 'j',
    check: restOf(seconds),
    by: { id: 'p', login: 'p', name: 'P', role: 'technician' },
    link,
    clock: machineClock,
    heat,
    sheet: sheetOf('N4'),
    airframe: { tag: 'T', board: 'F-1', parts: [] },
    place: { lat: 54 },
    hovers: [],
    powerId: null,
    propsOff: async () => null,
    saidProps: none,
    told: () => {},
    wrote: none,
    changed: none,
    found: none,
  }).capture()
  if (evidence === null) throw new Error(String(findings[0]?.value))
  return evidence.segments.find((s) => s.label === 'rest')
}
const write = (link: BenchLink, settings: Record<string, number>) => changeSettings(link, { do: 'write', settings })

describe('the link', () => {
  test('says within a second that a board fell silent or was cut off, and comes back by itself', async () => {
    for (const cut of [() => board.silence(), () => board.peer?.terminate()]) {
      const at = Date.now()
      cut()
      await eventually(() => link.phase === 'lost', 1_000)
      expect(Date.now() - at).toBeLessThan(1_000)
      await eventually(() => link.phase === 'up')
    }
  })

  test('an ask whose answer never comes fails with what happened', async () => {
    board.cutAt = 'settings.list'
    await expect(link.ask({ ask: 'settings.list' })).rejects.toMatchObject({ type: 'link-lost' })
  })

  test('an ask that is never answered is given up in its time', async () => {
    board.mute = 'state'
    const at = Date.now()
    await expect(link.ask({ ask: 'state' }, 700)).rejects.toThrow('did not answer "state" within 0.7 s')
    expect(Date.now() - at).toBeGreaterThan(600)
  })

  test('a server that was held up reads first what came meanwhile, and loses nothing', async () => {
    const phases: string[] = []
    link.on('phase', () => phases.push(link.phase))
    const answer = link.ask({ ask: 'settings.list' }, 700)
    const until = Date.now() + 1_500
    while (Date.now() < until);
    await expect(answer).resolves.toBeDefined()
    await new Promise((resolve) => setTimeout(resolve, 500))
    expect(phases).toEqual([])
    expect(link.phase).toBe('up')
  })

  test('closed by its owner it ends what waits for it, and stays closed', async () => {
    const capture = captureRest(link, 2)
    setTimeout(() => link.close(), 100)
    await expect(capture).rejects.toThrow('the link was lost. The link was closed')
    await new Promise((resolve) => setTimeout(resolve, 600))
    expect(link.phase).toBe('none')
  })

  test('counts blocks that are missing', async () => {
    const before = link.lostBlocks
    board.block(2, {}, 3)
    await eventually(() => link.lostBlocks === before + 3)
  })

  test.each([
    ['no number', { values: new Float32Array(18).fill(NaN, 6, 7) }, 'a sample of gx that is no number'],
    ['a column missing', { values: new Float32Array(16) }, 'without all their columns'],
    ['no columns', { values: [1, 2, 3] }, 'without all their columns'],
    ['time running backwards', { t: new Float64Array([0.002, 0.001]) }, 'time runs backwards'],
    ['no times', { t: [] }, 'without times'],
  ])('%s ends a capture with its reason, and harms nothing else', async (_name, bend, why) => {
    const capture = captureRest(link, 2)
    setTimeout(() => board.block(2, bend), 100)
    await expect(capture).rejects.toThrow(why)
    await expect(captureRest(link, 0.2)).resolves.toMatchObject({ label: 'rest' })
  })
})

test('a block of another stream that comes twice is a fault, and so are times that do not rise', () => {
  const faults: string[] = []
  const fault = (why: string) => faults.push(why)
  link.on('fault', fault)
  const t = Float64Array.from([1e6, 1e6 + 0.1])
  const heard = new Promise<void>((resolve) => link.on('stream', () => setTimeout(resolve, 100)))
  for (let times = 0; times < 2; times++) board.power(t)
  return heard.then(() => {
    link.off('fault', fault)
    expect(faults).toEqual(['the board sent samples of power whose time runs backwards'])
  })
})

describe('a settings write', () => {
  test('stages, writes, saves, restarts, reads back', async () => {
    board.asked.length = 0
    await expect(write(link, { 'level.roll': 1.5 })).resolves.toMatchObject({
      before: { 'level.roll': 0 },
      after: { 'level.roll': 1.5 },
    })
    expect(board.asked).toEqual([
      'settings.list',
      'settings.write',
      'settings.save',
      'restart',
      'hello',
      'identity',
      'sense',
      'settings.list',
    ])
  })

  test('that the board does not keep ends with the names and values that differ', async () => {
    board.keep = (name, value) => (name === 'level.pitch' ? value / 2 : value)
    await expect(write(link, { 'level.roll': 1, 'level.pitch': 2 })).resolves.toMatchObject({
      differs: ['level.pitch: wrote 2, read back 1'],
      after: { 'level.pitch': 1 },
    })
  })

  test('with an unknown name or a value out of range is refused before anything is written', async () => {
    board.asked.length = 0
    await expect(write(link, { 'level.roll': 1, 'level.heel': 2 })).rejects.toMatchObject({
      detail: expect.stringContaining('Nothing was written') as string,
    })
    await expect(write(link, { 'level.roll': 16 })).rejects.toMatchObject({
      detail: expect.stringContaining('-15 to 15 deg') as string,
    })
    expect(board.asked).not.toContain('settings.write')
  })

  test.each(['settings.list', 'settings.write', 'settings.save', 'restart'])(
    'cut at "%s" ends as lost, never as done',
    async (ask) => {
      board.cutAt = ask
      await expect(write(link, { 'level.roll': 1.5 })).rejects.toMatchObject({ type: 'link-lost' })
      await eventually(() => link.phase === 'up')
      await expect(write(link, { 'level.roll': 1.5 })).resolves.toMatchObject({ after: { 'level.roll': 1.5 } })
    },
  )

  test('is refused while anything turns', async () => {
    board.peer?.send(encode({ tell: 'state', state: { ...stillState, power: 'battery', motors: 'turning', radio: 'heard' } }))
    await eventually(() => link.state?.motors === 'turning')
    await expect(write(link, { 'level.roll': 1 })).rejects.toMatchObject({ type: 'bench-busy' })
  })
})
