import { fork } from 'node:child_process'
import { readFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { Decoder } from 'cbor-x'
import { WebSocket } from 'ws'
import { median, pause } from './median.mjs'

const runs = 5
const stretchMs = 4_000
const decoder = new Decoder({ mapsAsObjects: true, useRecords: false })

/** Processor time that a process has used, ms: user and system ticks of a hundredth of a second. */
const processorMs = (pid) => {
  const stat = readFileSync(`/proc/${pid}/stat`, 'utf8')
  const fields = stat.slice(stat.lastIndexOf(')') + 2).split(' ')
  return (Number(fields[11]) + Number(fields[12])) * 10
}

const spent = async (pid) => {
  const stretches = []
  for (let i = 0; i < runs; i++) {
    const before = processorMs(pid)
    await pause(stretchMs)
    stretches.push(processorMs(pid) - before)
  }
  return median(stretches) / stretchMs
}

/** Blocks that a watcher missed, by their sequence numbers. */
const missed = (frames) => {
  let [next, lost] = [null, 0]
  for (const frame of frames)
    for (const { seq } of decoder.decodeMultiple(frame)) {
      if (next !== null) lost += seq - next
      next = seq + 1
    }
  return lost
}

/** The server's processor time for many watched benches against a bare relay of the same bytes, and what was lost. */
export const serverLoad = async (up, world) => {
  const relay = fork(fileURLToPath(new URL('relay.mjs', import.meta.url)), [
    `ws://127.0.0.1:${up.rigPort}`,
    String(world.linked.length),
  ])
  const { port } = await new Promise((resolve) => relay.once('message', resolve))
  let bytes = 0
  const plain = world.linked.map((_, i) =>
    new WebSocket(`ws://127.0.0.1:${port}/row-${i + 1}`, { perMessageDeflate: false }).on('message', (m) => (bytes += m.length)),
  )
  await pause(1_500)
  const base = await spent(relay.pid)
  if (bytes === 0) throw new Error('the relay passed nothing on')
  for (const socket of plain) socket.terminate()
  relay.kill()

  for (const one of world.linked) await world.hold(one)
  const screens = await Promise.all(world.linked.map(world.watch))
  await pause(2_500)
  const ours = await spent(up.pids().server)
  const rigs = await spent(up.pids().rig)
  const lost = screens.reduce((sum, { frames }) => sum + missed(frames), 0)
  const onServer = await lostOnServer(world)
  for (const { socket } of screens) socket.terminate()
  for (const one of world.linked) await world.release(one)
  return [
    { figure: `bare relay, ${world.linked.length} benches, share of one core`, found: base.toFixed(3), wanted: 'baseline' },
    {
      figure: `server, ${world.linked.length} benches watched, ratio to the bare relay`,
      found: (ours / base).toFixed(2),
      wanted: '<= 2',
    },
    {
      figure: `rig process, ${world.linked.length} airframes at 200 Hz, share of one core`,
      found: rigs.toFixed(2),
      wanted: '< 1',
    },
    { figure: `blocks lost on the server, ${world.linked.length} benches at once`, found: String(onServer), wanted: '0' },
    { figure: `blocks that a watching screen missed, ${world.linked.length} benches at once`, found: String(lost), wanted: '0' },
  ]
}

const lostOnServer = async (world) => {
  const fresh = await Promise.all(world.linked.map(world.watch))
  await pause(300)
  const lost = fresh.map(({ told }) => told.findLast((t) => t.tell === 'link')?.lostBlocks ?? NaN)
  for (const { socket } of fresh) socket.terminate()
  return lost.reduce((sum, n) => sum + n, 0)
}

/** One bench watched for minutes: what the server lost of it. */
export const soak = async (up, world, minutes) => {
  const [one] = world.linked
  await world.hold(one)
  await pause(1_500)
  const screen = await world.watch(one)
  await pause(minutes * 60_000)
  const blocks = 2 * screen.frames.length
  const again = await world.watch(one)
  await pause(300)
  const lost = again.told.findLast((t) => t.tell === 'link')?.lostBlocks ?? NaN
  for (const { socket } of [screen, again]) socket.terminate()
  await world.release(one)
  return { figure: `blocks lost on the server in ${minutes} min, of ${blocks}`, found: String(lost), wanted: '0' }
}
