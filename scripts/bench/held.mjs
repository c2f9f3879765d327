// A page while motors are held on it: a task that keeps its signs of life waiting for longer than a board does lets them stand.
import { launchOptions } from '../lib/chromium.mjs'
import { chromium } from '@playwright/test'
import { median, pause } from './median.mjs'
import { caller } from './world.mjs'

const runs = 5
const heldMs = 8_000
/** Half of what a board waits for a sign of life. */
const mostMs = 150
const [tag, benchName, check] = ['H6-009', 'Corner bench', 'motors.smooth']

/** @param up the demo, whose hexa is used: nothing is wrong with its motors */
export const heldFigure = async (up) => {
  const call = caller(up.url)
  const credentials = { login: 'maud', password: 'springtide' }
  await call('POST', '/session', credentials)
  const { body: opened } = await call('POST', `/airframes/${tag}/jobs`)
  const { body: job } = await call('GET', `/jobs/${opened.id}`)
  const { body: benches } = await call('GET', '/benches')
  const bench = benches.find(({ name }) => name === benchName).id
  for (const [other, { state }] of Object.entries(job.standings))
    if (other !== check && state === 'open')
      await call('POST', `/jobs/${job.id}/asides`, { check: other, reason: 'only the page is looked at' })
  await call('POST', `/benches/${bench}/hold`, { job: job.id })
  const hands = (act) => call('POST', `/hands/${bench}`, act)
  await pause(3_000)
  await hands({ act: 'battery', source: 'pack' })
  await pause(3_000)
  await call('POST', `/jobs/${job.id}/confirmations`, { what: 'props off' })
  const browser = await chromium.launch(launchOptions)
  try {
    const page = await browser.newPage({ viewport: { width: 390, height: 844 } })
    await page.request.post(`${up.url}/api/session`, { data: credentials })
    await page.goto(`${up.url}/jobs/${job.id}/${check}`)
    await page.getByRole('heading', { level: 1 }).waitFor()
    const devtools = await page.context().newCDPSession(page)
    await devtools.send('Emulation.setCPUThrottlingRate', { rate: 4 })
    await page.evaluate(() => {
      globalThis.longest = 0
      new PerformanceObserver((list) => {
        for (const { duration } of list.getEntries()) globalThis.longest = Math.max(globalThis.longest, duration)
      }).observe({ entryTypes: ['longtask'] })
    })
    const longest = []
    for (let i = 0; i < runs; i++) {
      await call('POST', `/jobs/${job.id}/takes`, { check })
      const control = page.getByRole('button', { name: 'Hold to turn the motors' })
      await control.waitFor()
      await pause(1_000)
      await control.hover()
      await page.evaluate(() => void (globalThis.longest = 0))
      await page.mouse.down()
      await pause(heldMs)
      longest.push(await page.evaluate(() => globalThis.longest))
      await page.mouse.up()
      await call('DELETE', `/jobs/${job.id}/takes/running`)
      await control.waitFor({ state: 'hidden' })
    }
    return {
      figure: 'motors held on a phone, slowed 4 x: longest task, ms',
      found: median(longest).toFixed(0),
      wanted: `<= ${mostMs}`,
    }
  } finally {
    await browser.close()
    await hands({ act: 'battery', source: 'none' })
    await call('DELETE', `/benches/${bench}/hold`)
  }
}
