import { launchOptions } from '../lib/chromium.mjs'
import { chromium } from '@playwright/test'
import { serveBare } from './bare.mjs'
import { median, pause, quantile } from './median.mjs'

const phone = { viewport: { width: 390, height: 844 } }
const runs = 5

const browse = async (work) => {
  const browser = await chromium.launch(launchOptions)
  try {
    return await work(browser)
  } finally {
    await browser.close()
  }
}

/** From the first request to a field that can be typed into, with an empty cache and the processor slowed four times, ms. */
const loadMs = async (browser, url) => {
  const context = await browser.newContext(phone)
  const page = await context.newPage()
  const devtools = await context.newCDPSession(page)
  await devtools.send('Emulation.setCPUThrottlingRate', { rate: 4 })
  const at = Date.now()
  await page.goto(url)
  await page.getByLabel('Name').fill('ines')
  const tookMs = Date.now() - at
  await context.close()
  return tookMs
}

/** The first load of the shop, in turns with that of a bare page of the same framework. */
export const firstLoad = async (up) => {
  const bare = await serveBare()
  try {
    const [ours, plain] = [[], []]
    await browse(async (browser) => {
      for (let i = 0; i < runs; i++) {
        plain.push(await loadMs(browser, bare.url))
        ours.push(await loadMs(browser, up.url))
      }
    })
    return [
      {
        figure: 'first load of a bare page of the same framework, slowed 4 x, ms',
        found: median(plain).toFixed(0),
        wanted: 'baseline',
      },
      { figure: 'first load to usable, phone size, slowed 4 x, ms', found: median(ours).toFixed(0), wanted: '<= 3000' },
      { figure: 'first load, ratio to the bare page', found: (median(ours) / median(plain)).toFixed(2), wanted: '<= 1.3' },
    ]
  } finally {
    bare.stop()
  }
}

/** Ten thousand airframes scrolled through for three seconds a run: the longest task of the page, and frames a second. */
export const scrolling = (up) =>
  browse(async (browser) => {
    const page = await (await browser.newContext(phone)).newPage()
    await page.goto(up.url)
    await page.getByLabel('Name').fill('ines')
    await page.getByLabel('Password').fill('saltmarsh')
    await page.getByRole('button', { name: 'Sign in' }).click()
    await page.getByRole('region', { name: 'On the benches' }).waitFor()
    await page.goto(`${up.url}/airframes`)
    await page.getByText(/\d+ found/).waitFor()
    await page.mouse.move(200, 600)
    const found = []
    for (let i = 0; i < runs; i++) {
      await page.evaluate(() => {
        globalThis.watched = { longest: 0, frames: 0 }
        new PerformanceObserver((list) => {
          for (const { duration } of list.getEntries())
            globalThis.watched.longest = Math.max(globalThis.watched.longest, duration)
        }).observe({ entryTypes: ['longtask'] })
        const mine = globalThis.watched
        const count = () => {
          if (mine !== globalThis.watched) return
          mine.frames += 1
          requestAnimationFrame(count)
        }
        requestAnimationFrame(count)
      })
      const end = Date.now() + 3_000
      while (Date.now() < end) {
        await page.mouse.wheel(0, 900)
        await pause(16)
      }
      found.push(await page.evaluate(() => globalThis.watched))
    }
    return [
      {
        figure: '10,000 airframes scrolled: longest task, ms',
        found: median(found.map((f) => f.longest)).toFixed(0),
        wanted: '<= 50',
      },
      {
        figure: '10,000 airframes scrolled: frames a second',
        found: (median(found.map((f) => f.frames)) / 3).toFixed(0),
        wanted: '',
      },
    ]
  })

/** From the rig's stamp to the frame after the one that drew a sample: what 95 of 100 samples stay under, in five stretches. */
export const drawnAges = (up, world) =>
  browse(async (browser) => {
    const [one] = world.linked
    await world.hold(one)
    const page = await (await browser.newContext(phone)).newPage()
    await page.goto(up.url)
    await page.getByLabel('Name').fill('ines')
    await page.getByLabel('Password').fill('saltmarsh')
    await page.getByRole('button', { name: 'Sign in' }).click()
    await page.getByRole('region', { name: 'On the benches' }).waitFor()
    await page.goto(`${up.url}/jobs/${one.job}/sensors.gyroRest`)
    await page.locator('[data-reading=bias]').waitFor()
    await pause(3_000)
    const stretches = []
    for (let i = 0; i < runs; i++) {
      await page.evaluate(() => void globalThis.tarafDrawnAges.splice(0))
      await pause(5_000)
      stretches.push(quantile(await page.evaluate(() => [...globalThis.tarafDrawnAges]), 0.95))
    }
    await world.release(one)
    return {
      figure: "rig's stamp to drawn frame, 95 of 100 samples within, ms",
      found: median(stretches).toFixed(0),
      wanted: '<= 60',
    }
  })
