// Sends signs of life for a while and tells how long each waited for its answer, ms.
import { parentPort, workerData } from 'node:worker_threads'
import { WebSocket } from 'ws'

const everyMs = 25
const { url, cookie, job, bench, seconds } = workerData

const socket = new WebSocket(`${url.replace('http', 'ws')}/live`, { headers: { cookie } })
await new Promise((resolve, reject) => socket.on('open', resolve).on('error', reject))
socket.send(JSON.stringify({ watch: { job, bench } }))
const sentAt = new Map()
const waits = []
socket.on('message', (message, binary) => {
  const told = binary ? {} : JSON.parse(message)
  if (told.tell === 'pong' && sentAt.has(told.ping)) waits.push(performance.now() - sentAt.get(told.ping))
})
let ping = 0
const timer = setInterval(() => {
  sentAt.set(++ping, performance.now())
  socket.send(JSON.stringify({ ping }))
}, everyMs)
setTimeout(() => {
  clearInterval(timer)
  setTimeout(() => {
    socket.terminate()
    if (waits.length < ping) throw new Error(`only ${waits.length} of ${ping} signs of life were answered`)
    parentPort.postMessage(waits)
  }, 3_000)
}, seconds * 1_000)
