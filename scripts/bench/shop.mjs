// What stations 1 and 2 bring in bulk: two thousand settings compared, an image of a megabyte, a file of five thousand airframes.
import { chromium } from '@playwright/test'
import { WebSocket } from 'ws'
import { launchOptions } from '../lib/chromium.mjs'
import { median, pause } from './median.mjs'
import { caller } from './world.mjs'

const runs = 5
const settings = 2_000
const imageBytes = 1024 * 1024
const airframes = 5_000
/** Names of groups have no figures in them. */
const letters = Array.from({ length: 40 }, (_, i) => `${'abcd'[Math.floor(i / 10)]}${'abcdefghij'[i % 10]}`)

export const shopFigures = async (up) => {
  const call = caller(up.url)
  const { cookie } = await call('POST', '/session', { login: 'ines', password: 'saltmarsh' })
  const { body: job } = await call('POST', '/airframes/N4-031/jobs')
  const { body: benches } = await call('GET', '/benches')
  const bench = benches.find((b) => b.name === 'North bench').id
  await call('POST', `/benches/${bench}/hold`, { job: job.id })
  await pause(1_500)
  return [...(await settingsFigure(up, job.id)), await imageFigure(up, call, cookie, job.id, bench), await csvFigure(call)]
}

/** How fast this machine is just now, as the page sees it. */
const plainLoop = () => {
  const from = performance.now()
  let sum = 0
  for (let i = 0; i < 20_000_000; i++) sum += i % 7
  return sum > 0 ? performance.now() - from : NaN
}

/** Script until the first lines of the difference are drawn, on a phone-size page four times as slow. */
const settingsFigure = async (up, job) => {
  const browser = await chromium.launch(launchOptions)
  try {
    const page = await (await browser.newContext({ viewport: { width: 390, height: 844 } })).newPage()
    const one = (i) => ({
      name: `group${letters[Math.floor(i / 50)]}.setting${i}`,
      unit: 'us',
      min: 0,
      max: 9,
      factory: 1,
      value: i % 9,
      saved: i % 9,
    })
    const list = Array.from({ length: settings }, (_, i) => one(i))
    const answer = { live: true, target: 'TIDEBOARD-4', firmware: 'shoreline 3.2.0', settings: list, changed: {} }
    // A sheet that says something of each: every one is compared, every ninth is as it says.
    const sheet = Object.fromEntries(list.map(({ name }) => [name, 4]))
    // The screen is there and waits: what is measured is what its answer costs.
    let answerIt = () => {}
    await page.route(`**/api/jobs/${job}/settings`, async (route) => {
      await new Promise((resolve) => (answerIt = resolve))
      await route.fulfill({ json: answer })
    })
    await page.route(`**/api/jobs/${job}`, async (route) => {
      const view = await (await route.fetch({ maxRetries: 2 })).json()
      await route.fulfill({ json: { ...view, sheet: { ...view.sheet, settings: sheet } } })
    })
    await page.goto(up.url)
    await page.getByLabel('Name').fill('ines')
    await page.getByLabel('Password').fill('saltmarsh')
    await page.getByRole('button', { name: 'Sign in' }).click()
    await page.getByRole('region', { name: 'On the benches' }).waitFor()
    const devtools = await page.context().newCDPSession(page)
    await devtools.send('Performance.enable')
    await devtools.send('Emulation.setCPUThrottlingRate', { rate: 4 })
    const spent = async () =>
      (await devtools.send('Performance.getMetrics')).metrics.find((m) => m.name === 'ScriptDuration').value * 1000
    const found = []
    const yardstick = []
    for (let i = 0; i < runs; i++) {
      await page.goto(`${up.url}/jobs/${job}/settings`)
      await page.getByText('Reading the settings', { exact: false }).waitFor()
      await pause(2_500)
      // The page says itself when the first line is there: nobody looks for it meanwhile.
      await page.evaluate(() => {
        globalThis.firstDrawn = new Promise((resolve) => {
          const look = new MutationObserver(() => {
            if (document.querySelector('[aria-label=Settings] [role=listitem]') === null) return
            look.disconnect()
            requestAnimationFrame(resolve)
          })
          look.observe(document.body, { subtree: true, childList: true })
        })
      })
      const idleFrom = await spent()
      await pause(1_000)
      const idle = (await spent()) - idleFrom
      const before = await spent()
      const at = performance.now()
      answerIt()
      await page.evaluate(() => globalThis.firstDrawn)
      // What the watched bench costs meanwhile is not the table's.
      found.push((await spent()) - before - (idle * (performance.now() - at)) / 1_000)
      yardstick.push(await page.evaluate(plainLoop))
    }
    return [
      {
        figure: `${settings} settings compared, first screen drawn, page slowed 4 x: script, ms`,
        found: median(found).toFixed(0),
        wanted: '<= 100',
      },
      {
        figure: 'a plain loop of 20 million steps on the same page, ms',
        found: median(yardstick).toFixed(0),
        wanted: 'baseline',
      },
      {
        figure: 'the settings, ratio to that loop',
        found: median(found.map((ms, i) => ms / yardstick[i])).toFixed(2),
        wanted: '<= 0.5',
      },
    ]
  } finally {
    await browser.close()
  }
}

const hexOf = (data, start) => {
  const record = (address, type, bytes) => {
    const all = [bytes.length, address >> 8, address & 255, type, ...bytes]
    const sum = (256 - (all.reduce((a, b) => a + b, 0) & 255)) & 255
    return `:${Buffer.from([...all, sum])
      .toString('hex')
      .toUpperCase()}\n`
  }
  let text = ''
  let high = -1
  for (let at = 0; at < data.length; at += 32) {
    const address = start + at
    if (address >>> 16 !== high) {
      high = address >>> 16
      text += record(0, 4, [high >> 8, high & 255])
    }
    text += record(address & 0xffff, 0, [...data.subarray(at, at + 32)])
  }
  return text + record(0, 1, [])
}

/** The longest time between two signs of progress while an image of a megabyte is written. */
const imageFigure = async (up, call, cookie, job, bench) => {
  const data = Buffer.from(Uint8Array.from({ length: imageBytes }, (_, i) => (i * 2654435761) >>> 24))
  const identity = Buffer.alloc(256)
  identity.write('image\nTIDEBOARD-4\nshoreline\n3.2.0\nposition,compass,video,gimbal\n')
  identity.copy(data, 0x200)
  const { body: image } = await call('POST', '/images?file=bench.hex', Buffer.from(hexOf(data, 0x0800_8000)))
  const socket = new WebSocket(`${up.url.replace('http', 'ws')}/live`, { headers: { cookie } })
  await new Promise((resolve, reject) => socket.on('open', resolve).on('error', reject))
  socket.send(JSON.stringify({ watch: { job, bench } }))
  const gaps = []
  let last = 0
  const ended = new Promise((resolve, reject) =>
    socket.on('message', (message, binary) => {
      if (binary) return
      const told = JSON.parse(message)
      if (told.tell !== 'image') return
      const now = performance.now()
      // Restarting is the board's own time, and told as such.
      if (last > 0 && told.phase !== 'done') gaps.push(now - last)
      last = now
      if (told.phase === 'failed') reject(new Error(told.detail))
      if (told.phase === 'done') resolve()
    }),
  )
  await call('POST', `/jobs/${job}/image`, { sha256: image.sha256, reason: 'a figure' })
  await ended
  socket.terminate()
  return {
    figure: 'an image of 1 MB: longest time without a sign of progress, ms',
    found: Math.max(...gaps).toFixed(0),
    wanted: '<= 500',
  }
}

/** A file of five thousand airframes, read, held against what is registered and answered. */
const csvFigure = async (call) => {
  const rows = Array.from({ length: airframes }, (_, i) => `Q-${i},N4,QB-${i},S-${i},R${i % 40}`)
  const file = Buffer.from(['tag,type,board,regulator serial,regulator lot', ...rows].join('\r\n'))
  const found = []
  for (let i = 0; i < runs; i++) {
    const at = performance.now()
    const { body } = await call('POST', '/airframes/preview', file)
    found.push(performance.now() - at)
    if (body.rows.length !== airframes || body.wrong !== 0)
      throw new Error(`the preview shows ${body.rows.length} rows, ${body.wrong} wrong`)
  }
  return { figure: `${airframes} airframes of a CSV file previewed, ms`, found: median(found).toFixed(0), wanted: '<= 2000' }
}
