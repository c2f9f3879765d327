import type { HandAct, HandsState, Observation, Question, TakeBody, TakeTell, TransmitterCard } from '@taraf/contract'
import { lookAt } from '@taraf/demo'
import { eventually, makeWorld, pause, type Client, type World } from '../../tests/world'

jest.setTimeout(240_000)
// Sticks, switches and the link, on a linked bench in real time: the hands do what each step asks.
let world: World
let ines: Client
let job: string
let feed: Awaited<ReturnType<Client['live']>>
const bench = () => world.benches.sound
beforeAll(async () => {
  world = await makeWorld({ leavesOut: [], onAir: true })
  ines = await world.signIn('ines')
  job = await ines.begin('T-001', bench())
  feed = await ines.live({ job, bench: bench() })
})
afterAll(async () => {
  feed.socket.terminate()
  await world.end()
})

const hands = async (...acts: HandAct[]) => {
  for (const act of acts) expect((await ines.post(`/hands/${bench()}`, act)).status).toBe(200)
}
const look = async () => (await ines.get<HandsState>(`/hands/${bench()}`)).body
const told = () => feed.told.filter((t): t is TakeTell => t.tell === 'take')
const now = () => told().at(-1)
const answers = async (questions: readonly Question[]): Promise<Observation[]> =>
  lookAt(questions, await look(), { tag: 'T-001', board: 'TB-1', parts: [] })

/** Does what a step asks for, once it is there; `null` is a step that needs nobody. */
type Hand = (label: string) => Promise<void>
const out =
  (stick: 'roll' | 'pitch' | 'throttle' | 'yaw', ...to: number[]) =>
  async () => {
    const rest = stick === 'throttle' ? -1 : 0
    for (const end of to) {
      await hands({ act: 'stick', stick, to: end })
      // However slow the machine is: held until it is seen, and then let go.
      await eventually(() => now()?.guide?.words !== 'Move it.' && now()?.guide?.words !== 'Further, to its end.')
      await hands({ act: 'stick', stick, to: rest })
    }
  }

/**
 * Takes a check to its end; what is to be done at each step is named by its label. A control that is asked for again, because the signal was
 * lost for a moment on a busy machine, is moved again.
 */
const taken = async (check: string, by: Readonly<Record<string, Hand>>) => {
  feed.told.length = 0
  expect((await ines.post(`/jobs/${job}/takes`, { check })).status).toBe(202)
  const done = new Set<string>()
  const isAsked = () => now()?.want?.kind === 'control' && now()?.guide?.words === 'Move it.'
  for (;;) {
    await eventually(() => {
      const { phase, want } = now() ?? {}
      return phase === 'stored' || phase === 'aborted' || (want != null && (!done.has(want.label) || isAsked()))
    }, 60_000).catch(() => {
      throw new Error(`nothing more is asked: ${JSON.stringify(told().slice(-4))}`)
    })
    const { phase, want } = now() ?? {}
    if (want == null || phase === 'stored' || phase === 'aborted') break
    done.add(want.label)
    if (want.kind === 'answers') {
      await eventually(() => now()?.phase === 'waiting')
      const given = await ines.post(`/jobs/${job}/takes/next`, { observations: await answers(want.questions) })
      expect(given.status).toBe(202)
      continue
    }
    if (want.kind === 'control') await eventually(isAsked)
    await by[want.label]?.(want.label)
  }
  return (await ines.job(job)).entries.at(-1)?.body as TakeBody
}

const wrong = ({ findings }: TakeBody) =>
  findings.filter((f) => f.verdict === 'fail' || f.verdict === 'refused').map(({ key, value }) => [key, value])

const toLink: Readonly<Record<string, Hand>> = {
  heard: () => hands({ act: 'transmitter', on: true }),
  'transmitter-off': () => hands({ act: 'transmitter', on: false }),
  'transmitter-on': () => hands({ act: 'transmitter', on: true }),
  'power-off': async () => {
    await pause(500)
    await hands({ act: 'cable', in: false })
    await pause(1500)
    await hands({ act: 'cable', in: true })
  },
}

test('the link: both ends off and on again, each seen by the board; the transmitter named, and its card begun', async () => {
  const body = await taken('radio.link', toLink)
  expect(wrong(body)).toEqual([])
  expect(body.findings.find((f) => f.key === 'strengthChannel')?.value).toBe('channel 12, the 8th after the sticks')
  expect(body.findings.find((f) => f.key === 'model')?.value).toBe(7)
  const { body: cards } = await ines.get<TransmitterCard[]>('/transmitters')
  expect(cards).toMatchObject([
    { transmitter: 'Trust hand-held 1', model: 7, flies: 1, types: ['N4'], airframes: [{ tag: 'T-001', type: 'N4', job }] },
  ])
})

test('a transmitter that is switched off in the middle: the step is begun again where it was', async () => {
  const body = await taken('radio.order', {
    'throttle-up': out('throttle', 1),
    'roll-right': async () => {
      await hands({ act: 'stick', stick: 'roll', to: 1 })
      await hands({ act: 'transmitter', on: false })
      await eventually(() => now()?.guide?.words.startsWith('The transmitter is not heard') === true)
      await hands({ act: 'stick', stick: 'roll', to: 0 }, { act: 'transmitter', on: true })
      await eventually(() => now()?.guide?.words === 'Move it.')
      await out('roll', 1)()
    },
    'pitch-forward': out('pitch', 1),
    'yaw-right': out('yaw', 1),
  })
  expect(wrong(body)).toEqual([])
  expect(body.findings.find((f) => f.key === 'rollChannel')?.value).toBe(1)
})

test('what is set on a transmitter is on the record, spoils what depends on it and nothing else, and is on its card', async () => {
  const change = {
    what: 'transmitter',
    words: 'Travel of channel 4 set.',
    transmitter: 'Trust hand-held 1',
    model: 7,
    set: [{ channel: 4, name: 'travelLow', from: 80, to: 90.5 }],
  }
  expect((await ines.post(`/jobs/${job}/changes`, { change, cause: 'Remedy of a take.' })).status).toBe(201)
  const { standings } = await ines.job(job)
  expect([standings['radio.order']?.state, standings['radio.link']?.state]).toEqual(['pass', 'pass'])
  const inverted = { ...change, set: [{ channel: 4, name: 'inverted', from: 0, to: 1 }] }
  expect((await ines.post(`/jobs/${job}/changes`, { change: inverted, cause: 'Tried the other way.' })).status).toBe(201)
  expect((await ines.job(job)).standings['radio.order']?.state).toBe('stale')
  const { body: cards } = await ines.get<TransmitterCard[]>('/transmitters')
  expect(cards[0]?.set).toMatchObject([
    { channel: 4, name: 'inverted', to: 1 },
    { channel: 4, name: 'travelLow', to: 90.5, by: 'Ines', tag: 'T-001' },
  ])
  const bad = { ...change, set: [{ channel: 17, name: 'travelLow', from: null, to: 1 }] }
  expect((await ines.post(`/jobs/${job}/changes`, { change: bad, cause: 'Remedy of a take.' })).status).toBe(400)
})

test('switches: each moved by itself, with the mode that the board reports at each position', async () => {
  const order = await taken('radio.order', {
    'throttle-up': out('throttle', 1),
    'roll-right': out('roll', 1),
    'pitch-forward': out('pitch', 1),
    'yaw-right': out('yaw', 1),
  })
  expect(wrong(order)).toEqual([])
  const through = (name: string, positions: number) => async () => {
    for (const to of [...Array.from({ length: positions - 1 }, (_, p) => p + 1), 0]) {
      await hands({ act: 'switch', name, to })
      await pause(1500)
    }
  }
  const body = await taken('switches.table', {
    'switch-5': through('A', 2),
    'switch-6': through('B', 3),
    'switch-7': through('C', 2),
    'switch-8': through('D', 2),
  })
  expect(wrong(body)).toEqual([])
  expect(body.findings.find((f) => f.key === 'B 3 mode')).toMatchObject({ value: 'rate', verdict: 'pass' })
  expect(body.findings.find((f) => f.key === 'combinations')?.value).toBe(24)
})
