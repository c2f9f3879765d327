import { makeProblem } from '@taraf/contract'
import { airframesApi } from './airframes'
import { problemOf } from './api'
import { benchesApi } from './benches'
import { jobsApi } from './jobs'
import { peopleApi } from './people'
import { makeStore, viewChanged } from './store'

interface Sent {
  url: string
  key: string | undefined
  method: string
}
let sent: Sent[]
const answer = (...replies: (() => Promise<unknown> | never)[]) => {
  sent = []
  Object.assign(globalThis, {
    fetch: (url: string, init: RequestInit) => {
      sent.push({ url, method: init.method ?? '', key: (init.headers as Record<string, string>)['idempotency-key'] })
      return (replies[Math.min(sent.length, replies.length) - 1] as () => Promise<unknown>)()
    },
  })
}
const ok = (body: unknown) => () => Promise.resolve({ ok: true, json: () => Promise.resolve(body) })
const refused = (body: unknown) => () => Promise.resolve({ ok: false, json: () => Promise.resolve(body) })
const down = () => Promise.reject(new TypeError('Failed to fetch'))

describe('calling the server', () => {
  test('a write whose answer is lost is sent again with the same key', async () => {
    answer(down, ok({ id: 'j' }))
    const result = await makeStore().dispatch(airframesApi.endpoints.openJob.initiate('N4 1'))
    expect(result.data).toEqual({ id: 'j' })
    expect(sent.map((s) => s.url)).toEqual(['/api/airframes/N4%201/jobs', '/api/airframes/N4%201/jobs'])
    expect(sent[0]?.key).toBe(sent[1]?.key)
    expect(sent[0]?.key?.length).toBeGreaterThan(8)
  })

  test('two acts have two keys; a read has none', async () => {
    answer(ok(null))
    const { dispatch } = makeStore()
    await dispatch(jobsApi.endpoints.startTake.initiate({ job: 'j', check: 'c' }))
    await dispatch(jobsApi.endpoints.startTake.initiate({ job: 'j', check: 'c' }))
    expect(sent[0]?.key).not.toBe(sent[1]?.key)
    await dispatch(benchesApi.endpoints.benches.initiate())
    expect(sent[2]?.key).toBeUndefined()
  })

  test('a refusal is its problem, at once', async () => {
    answer(refused(makeProblem('bench-held', 'Ines holds it.')))
    const { error } = await makeStore().dispatch(benchesApi.endpoints.hold.initiate({ bench: 'b', job: 'j' }))
    expect(problemOf(error)).toMatchObject({
      type: '/problems/bench-held',
      detail: 'Ines holds it.',
      todo: expect.any(String) as string,
    })
    expect(sent).toHaveLength(1)
  })

  test('a server that is away is said, after three tries', async () => {
    answer(down)
    const { error } = await makeStore().dispatch(peopleApi.endpoints.me.initiate())
    expect(problemOf(error)).toMatchObject({
      type: '/problems/no-server',
      todo: expect.stringContaining('Nothing is lost') as string,
    })
    expect(sent).toHaveLength(3)
  })

  test('an answer that is not as the contract says is never shown as data', async () => {
    answer(ok({ total: 'many', rows: [] }))
    const result = await makeStore().dispatch(airframesApi.endpoints.airframes.initiate({}))
    expect(result.data).toBeUndefined()
    expect(problemOf(result.error)?.detail).toContain('malformed')
  })
})

test('how this device shows things is kept on it', () => {
  makeStore().dispatch(viewChanged({ theme: 'dark' }))
  expect(makeStore().getState().view.theme).toBe('dark')
  localStorage.setItem('taraf.view', '{broken')
  expect(makeStore().getState().view.theme).toBe('device')
})
