// npm run shots: one current picture of each main view, from the demo, into docs/screenshots/.
import { launchOptions } from './lib/chromium.mjs'
import { mkdirSync } from 'node:fs'
import { join } from 'node:path'
import { erase } from './lib/cluster.mjs'
import { wantDebian, wantNode, wantPackages } from './lib/install.mjs'
import { root, run } from './lib/say.mjs'
import { bringUp } from './lib/supervise.mjs'
import { wantWeb } from './lib/web.mjs'

const folder = join(root, 'docs/screenshots')
const sizes = { phone: { width: 390, height: 844 }, wide: { width: 1280, height: 800 } }

await run(async () => {
  wantNode()
  wantPackages()
  wantDebian(['postgresql', 'chromium'])
  wantWeb()
  const { chromium } = await import('@playwright/test')
  mkdirSync(folder, { recursive: true })
  erase('shots')
  const up = await bringUp({ name: 'shots', quiet: true })
  const browser = await chromium.launch(launchOptions)
  const open = async (size, colorScheme = 'light') =>
    (await browser.newContext({ viewport: sizes[size], colorScheme, baseURL: up.url, deviceScaleFactor: 1 })).newPage()
  const shot = (page, name) => page.screenshot({ path: join(folder, `${name}.png`) })
  const button = (page, name) => page.getByRole('button', { name, exact: true }).last()
  const signIn = async (page, login, password) => {
    await page.goto('/')
    await page.getByLabel('Name').fill(login)
    await page.getByLabel('Password').fill(password)
    await button(page, 'Sign in').click()
    await page.getByText(/\d+ found/).waitFor()
  }
  const settle = (page) => page.waitForTimeout(900)
  try {
    const phone = await open('phone')
    await phone.goto('/')
    await phone.getByLabel('Name').waitFor()
    await settle(phone)
    await shot(phone, 'sign-in')
    await signIn(phone, 'ines', 'saltmarsh')
    await settle(phone)
    await shot(phone, 'airframes')
    await phone.goto('/airframes/L4-014')
    await button(phone, 'Open a job card').click()
    await button(phone, 'Link South bench').click()
    await phone.getByText('board FB-2047').first().waitFor()
    await settle(phone)
    await shot(phone, 'job-card')
    await button(phone, 'Next: Gyro at rest').click()
    await phone.locator('[data-reading=bias]').waitFor()
    await phone.waitForTimeout(1500)
    await shot(phone, 'gyro-reading')
    await button(phone, 'Take it').click()
    await phone.getByText('What to do').first().waitFor({ timeout: 15_000 })
    await phone.getByRole('region', { name: 'Verdict' }).scrollIntoViewIfNeeded()
    await settle(phone)
    await shot(phone, 'gyro-verdict')

    const wide = await open('wide')
    await signIn(wide, 'ines', 'saltmarsh')
    await wide.goto(phone.url())
    await button(wide, 'Let the board measure it').click()
    await wide
      .getByText(/spoiled by entry/)
      .first()
      .waitFor({ timeout: 20_000 })
    await button(wide, 'Simulated hands').click()
    await button(wide, 'Tighten the board screws').click()
    await wide.waitForTimeout(1500)
    await button(wide, 'Take it again').click()
    await wide.getByText('a later take decides').waitFor({ timeout: 15_000 })
    await wide.getByRole('link', { name: /Level/ }).click()
    await wide.locator('[data-reading=tilt]').waitFor()
    await button(wide, 'Take it').click()
    await button(wide, 'It lies as asked').waitFor({ timeout: 10_000 })
    await button(wide, 'Lay it, nose to you').click()
    await wide.waitForTimeout(1800)
    await shot(wide, 'level-wide')
    await button(wide, 'It lies as asked').click()
    await wide.getByText('Write it to the board').waitFor({ timeout: 10_000 })
    await settle(wide)
    await shot(wide, 'level-verdict-wide')

    const dark = await open('phone', 'dark')
    await signIn(dark, 'joren', 'dunegrass')
    await dark.getByLabel('Search by tag, type or board').fill('Y6-001')
    await dark.getByText('Y6-001', { exact: true }).click()
    await settle(dark)
    await shot(dark, 'airframe-dark')
    await button(dark, 'Handover record').click()
    await dark.getByText('Handover record', { exact: true }).last().waitFor()
    await settle(dark)
    await shot(dark, 'handover-dark')
    const record = await open('wide')
    await signIn(record, 'piet', 'oystercatcher')
    await record.goto(dark.url())
    await record.getByText('to hand over').waitFor()
    await settle(record)
    await shot(record, 'handover-wide')
  } finally {
    await browser.close()
    await up.stop()
  }
})
