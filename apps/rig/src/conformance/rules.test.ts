import type { AddressInfo } from 'node:net'
import { demoShop, rigOf } from '@taraf/demo'
import { decode, encode } from '@taraf/contract/wire'
import { WebSocketServer } from 'ws'
import { rigServer } from '../rigServer'
import { checkSpeaker, rules } from './rules'

jest.setTimeout(90_000)

test('the simulated board holds every rule', async () => {
  const { server, stop } = rigServer(new Map([['north', rigOf({ type: 'L4', board: 'FB-7', seed: 1 }, demoShop(new Date()))]]))
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  const results = await checkSpeaker(`ws://127.0.0.1:${(server.address() as AddressInfo).port}/bench/north`)
  stop()
  expect(results.filter((r) => r.broken !== null)).toEqual([])
  expect(results.length).toBeGreaterThanOrEqual(16)
})

test('a speaker that answers everything with nothing breaks them, each with what was wrong', async () => {
  const server = new WebSocketServer({ port: 0, host: '127.0.0.1' })
  server.on('connection', (peer) => {
    peer.on('message', (bytes: Buffer) => {
      try {
        peer.send(encode({ id: (decode(bytes) as { id: number }).id, answer: {} }))
      } catch {
        // It cannot even say what it did not understand.
      }
    })
  })
  await new Promise((resolve) => server.once('listening', resolve))
  const results = await checkSpeaker(`ws://127.0.0.1:${(server.address() as AddressInfo).port}`, undefined, rules.slice(0, 5))
  for (const socket of server.clients) socket.terminate()
  server.close()
  expect(results.filter((r) => r.broken === null)).toEqual([])
  expect(results.find((r) => r.rule.startsWith('hello'))?.broken).toContain('not as specified')
})

test('nobody there is said', async () => {
  const [first] = await checkSpeaker('ws://127.0.0.1:9/bench/none')
  expect(first?.broken).toContain('no link')
})
