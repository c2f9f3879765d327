// What lies between a finger and a motor: from the first sign of life of a press to the first turn, and from the last one to zero command, as the
// screen itself is told of both.
import { pause, quantile } from './median.mjs'
import { caller, screenOn } from './world.mjs'

const everyMs = 50
const [turns, letGos] = [60, 1_000]
const before = ['intake.firstPower', 'escs.signal']

/** @param up the demo, whose sound small quad is used */
export const pressFigures = async (up) => {
  const call = caller(up.url)
  const { cookie } = await call('POST', '/session', { login: 'maud', password: 'springtide' })
  const { body: job } = await call('POST', '/airframes/N4-031/jobs')
  const { body: benches } = await call('GET', '/benches')
  const bench = benches.find((b) => b.name === 'North bench').id
  for (const check of before) await call('POST', `/jobs/${job.id}/asides`, { check, reason: 'only the press is looked at' })
  await call('POST', `/benches/${bench}/hold`, { job: job.id })
  const hands = (act) => call('POST', `/hands/${bench}`, act)
  const screen = await screenOn(up.url, cookie, { job: job.id, bench })
  const waiting = []
  let [link, take] = [null, null]
  screen.socket.on('message', (data, binary) => {
    if (binary) return
    const told = JSON.parse(data)
    if (told.tell === 'link') link = told
    if (told.tell === 'take') take = told
    for (const one of [...waiting]) if (one.isSo()) one.go(performance.now())
  })
  /** When it came to be so, ms. */
  const when = (what, isSo, withinMs = 20_000) =>
    new Promise((resolve, reject) => {
      const end = () => {
        clearTimeout(timer)
        waiting.splice(waiting.indexOf(one), 1)
      }
      const one = {
        isSo,
        go: (at) => {
          end()
          resolve(at)
        },
      }
      const timer = setTimeout(() => {
        end()
        reject(new Error(`never so: ${what}`))
      }, withinMs)
      waiting.push(one)
      if (isSo()) one.go(performance.now())
    })
  await when('the link is up', () => link?.phase === 'up')
  await hands({ act: 'battery', source: 'pack' })
  await when('the battery is in', () => link.state.power !== 'cable')
  await call('POST', `/jobs/${job.id}/confirmations`, { what: 'props off' })
  const start = () => call('POST', `/jobs/${job.id}/takes`, { check: 'motors.order' })
  await start()
  let presses = 0
  /** A press from now on; what it returns lets go, and says when its last sign of life was sent. */
  const press = () => {
    const name = `press ${presses++}`
    let last = 0
    const beat = () => {
      last = performance.now()
      screen.socket.send(JSON.stringify({ keep: { job: job.id, press: name } }))
    }
    beat()
    const timer = setInterval(beat, everyMs)
    return () => {
      clearInterval(timer)
      return last
    }
  }
  const isWaiting = () => take?.want?.label === 'output-1' && take.phase === 'waiting'
  const isOver = () => take?.phase === 'stored' || take?.phase === 'aborted'
  // A take whose motors have turned for too long is refused; the next one waits until they have cooled.
  const waits = async () => {
    await when('the take waits for a press, or is over', () => isWaiting() || isOver(), 300_000)
    if (isWaiting()) return
    await start()
    await when('the next take waits for a press', isWaiting, 300_000)
  }
  const gone = () => when('the permit is gone', () => link.state.permit === null)
  const [toTurn, toZero] = [[], []]
  for (let i = 0; i < turns; i++) {
    await waits()
    await when('all stand', () => link.state.motors === 'still')
    const from = performance.now()
    const letGo = press()
    toTurn.push((await when('a motor turns', () => link.state.motors === 'turning')) - from)
    letGo()
    await gone()
  }
  for (let i = 0; i < letGos; i++) {
    await waits()
    const letGo = press()
    await when('the permit is there', () => link.state.permit === 'spin')
    await pause(40 + ((37 * i) % 60))
    const last = letGo()
    toZero.push((await gone()) - last)
  }
  await call('DELETE', `/jobs/${job.id}/takes/running`)
  await hands({ act: 'battery', source: 'none' })
  await call('DELETE', `/benches/${bench}/hold`)
  screen.socket.terminate()
  return [
    { figure: 'hold to first turn, as the screen is told, p95, ms', found: quantile(toTurn, 0.95).toFixed(0), wanted: '<= 120' },
    {
      figure: `let go to zero command, as the screen is told, the longest of ${letGos}, ms`,
      found: Math.max(...toZero).toFixed(0),
      wanted: '<= 250',
    },
  ]
}
