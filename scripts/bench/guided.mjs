// The guided takes of the demo's long-range quad, as its page draws them.
import { chromium } from '@playwright/test'
import { launchOptions } from '../lib/chromium.mjs'
import { median, pause } from './median.mjs'
import { caller } from './world.mjs'

const runs = 5

/** Script a drawn frame while a pose is held, and the longest task of the page while a compass turn is fitted beside it. */
export const guidedFigures = async (up) => {
  const call = caller(up.url)
  await call('POST', '/session', { login: 'maud', password: 'springtide' })
  const { body: job } = await call('POST', '/airframes/L4-015/jobs')
  const { body: benches } = await call('GET', '/benches')
  const bench = benches.find((b) => b.name === 'Tide door bench').id
  await call('POST', `/benches/${bench}/hold`, { job: job.id })
  const hands = (act) => call('POST', `/hands/${bench}`, act)
  const browser = await chromium.launch(launchOptions)
  try {
    const page = await (await browser.newContext({ viewport: { width: 390, height: 844 } })).newPage()
    await page.goto(up.url)
    await page.getByLabel('Name').fill('maud')
    await page.getByLabel('Password').fill('springtide')
    await page.getByRole('button', { name: 'Sign in' }).click()
    await page.getByRole('region', { name: 'On the benches' }).waitFor()
    const take = async (check) => {
      await hands({ act: 'lay', way: 'forward' })
      await page.goto(`${up.url}/jobs/${job.id}/${check}`)
      await page.getByRole('button', { name: 'Start', exact: true }).click()
    }

    await take('sensors.sixPoses')
    await page.getByText('✓ top', { exact: true }).waitFor()
    const devtools = await page.context().newCDPSession(page)
    await devtools.send('Performance.enable')
    const spent = async () => {
      const { metrics } = await devtools.send('Performance.getMetrics')
      return metrics.find((m) => m.name === 'ScriptDuration').value * 1000
    }
    await page.evaluate(() => {
      globalThis.framesDrawn = 0
      const count = () => {
        globalThis.framesDrawn += 1
        requestAnimationFrame(count)
      }
      requestAnimationFrame(count)
    })
    const perFrame = []
    for (let i = 0; i < runs; i++) {
      await hands({ act: 'tilt', rollDeg: 0, pitchDeg: i % 2 === 0 ? 30 : 40, yawDeg: 0 })
      const [before, drawn] = [await spent(), await page.evaluate(() => globalThis.framesDrawn)]
      await pause(3_000)
      perFrame.push(((await spent()) - before) / ((await page.evaluate(() => globalThis.framesDrawn)) - drawn))
    }
    await page.getByRole('button', { name: 'Stop', exact: true }).click()

    await take('sensors.compass')
    await page.evaluate(() => {
      globalThis.longest = 0
      new PerformanceObserver((list) => {
        for (const { duration } of list.getEntries()) globalThis.longest = Math.max(globalThis.longest, duration)
      }).observe({ entryTypes: ['longtask'] })
    })
    await hands({ act: 'turn all ways' })
    const tasks = []
    for (let i = 0; i < runs; i++) {
      await page.evaluate(() => void (globalThis.longest = 0))
      await pause(6_000)
      tasks.push(await page.evaluate(() => globalThis.longest))
    }
    const covered = Number(await page.locator('[data-reading=coverage]').textContent())
    if (!(covered > 30)) throw new Error(`the map shows ${covered} % after half a minute of turning: the worker does not fit`)
    return [
      { figure: 'live pose view: script a frame, ms', found: median(perFrame).toFixed(2), wanted: '<= 6' },
      // The browser counts a task as long from 50 ms on: 0 is that there was none.
      {
        figure: 'compass turn fitted beside the page: longest task over 50 ms, ms',
        found: Math.max(...tasks).toFixed(0),
        wanted: '0',
      },
    ]
  } finally {
    await browser.close()
  }
}
