// npm run shots: one current picture of each main view, from the demo, into docs/screenshots/.
import { launchOptions } from './lib/chromium.mjs'
import { randomUUID } from 'node:crypto'
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
  const { chromium, request } = await import('@playwright/test')
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
    await page.getByRole('region', { name: 'On the benches' }).waitFor()
  }
  const toCheck = async (page, name) => {
    await page.getByRole('link', { name: 'Job card', exact: true }).click()
    await page.getByRole('list', { name: 'Stations' }).getByRole('link', { name }).click()
  }
  const settle = (page) => page.waitForTimeout(900)
  try {
    const phone = await open('phone')
    await phone.goto('/')
    await phone.getByLabel('Name').waitFor()
    await settle(phone)
    await signIn(phone, 'ines', 'saltmarsh')
    await phone.goto('/airframes')
    await phone.getByText(/\d+ found/).waitFor()
    await settle(phone)
    await phone.goto('/airframes/L4-014')
    await button(phone, 'Open a job card').click()
    await button(phone, 'Link South bench').click()
    await phone.getByText('board FB-2047').first().waitFor()
    await settle(phone)
    await phone.reload()
    await phone.getByRole('list', { name: 'Stations' }).waitFor()
    await settle(phone)
    await shot(phone, 'job-card')
    await toCheck(phone, /Gyro at rest/)
    await phone.locator('[data-reading=bias]').waitFor()
    await phone.waitForTimeout(1500)
    await button(phone, 'Start').click()
    await phone.getByRole('region', { name: 'Verdict' }).waitFor({ timeout: 15_000 })

    const wide = await open('wide')
    await signIn(wide, 'ines', 'saltmarsh')
    await wide.goto('/')
    await wide.getByRole('region', { name: 'On the benches' }).waitFor()
    await settle(wide)
    await shot(wide, 'today-wide')
    await wide.goto('/airframes')
    await wide.getByText(/\d+ found/).waitFor()
    await settle(wide)
    await shot(wide, 'airframes-wide')
    await wide.goto(phone.url().replace(/\/[^/]+$/, ''))
    await wide.getByRole('list', { name: 'Stations' }).waitFor()
    await settle(wide)
    await shot(wide, 'job-card-wide')
    await wide.goto(phone.url())
    await button(wide, 'Let the board measure it').click()
    await wide
      .getByText(/spoiled by entry/)
      .first()
      .waitFor({ timeout: 20_000 })
    await button(wide, 'Simulated hands').click()
    await button(wide, 'Tighten the board screws').click()
    await wide.waitForTimeout(1500)
    await button(wide, 'Run again').click()
    await wide.getByText('a later take decides').waitFor({ timeout: 15_000 })
    await toCheck(wide, /Level/)
    await wide.locator('[data-reading=tilt]').waitFor()
    await button(wide, 'Start').click()
    await button(wide, 'In position').waitFor({ timeout: 10_000 })
    await button(wide, 'Lay it, nose to you').click()
    await wide.waitForTimeout(1800)
    await button(wide, 'In position').click()
    await wide
      .getByText(/before the write/)
      .first()
      .waitFor({ timeout: 25_000 })
    await button(wide, 'Hands: Radio').click()
    await settle(wide)
    await shot(wide, 'hands-wide')

    await button(wide, 'Hide the hands').click()
    await phone.bringToFront()
    await toCheck(phone, /Board mounting/)
    await button(phone, 'Simulated hands').click()
    await button(phone, 'Lay it, nose away').click()
    await phone.waitForTimeout(2_500)
    await button(phone, 'Start').click()
    await phone.getByText('✓ level').last().waitFor({ timeout: 10_000 })
    await button(phone, 'Nose up').click()
    await phone.waitForTimeout(900)
    await button(phone, 'Hide the hands').click()
    await phone.getByRole('region', { name: 'Reading' }).scrollIntoViewIfNeeded()
    await phone.waitForTimeout(700)
    await shot(phone, 'mounting-pose')
    await button(phone, 'Stop').click()
    await toCheck(phone, /^Compass:/)
    await button(phone, 'Start').click()
    await button(phone, 'Simulated hands').click()
    await button(phone, 'Turn it all ways').click()
    await button(phone, 'Hide the hands').click()
    await phone.waitForTimeout(16_000)
    await phone.getByRole('region', { name: 'Reading' }).scrollIntoViewIfNeeded()
    await shot(phone, 'compass-map')
    await phone.getByText('As the board had it').waitFor({ timeout: 60_000 })

    await toCheck(phone, /By eye/)
    const items = phone.getByRole('region', { name: 'List' }).last().locator('[data-item]')
    await items.first().waitFor()
    for (const item of await items.all()) {
      const so = item.getByRole('button', { name: 'Yes', exact: true })
      if ((await so.count()) > 0) await so.click()
      else await item.getByRole('group', { name: 'Which' }).getByRole('button').first().click()
    }
    await items.nth(2).scrollIntoViewIfNeeded()
    await settle(phone)
    await shot(phone, 'by-eye')
    await button(phone, 'Finish').click()
    await phone.getByRole('region', { name: 'Verdict' }).waitFor()
    await toCheck(phone, /First power/)
    await button(phone, 'Simulated hands').click()
    await button(phone, 'Lay it, nose away').click()
    await button(phone, 'Hands: Power').click()
    if ((await button(phone, 'Take props off').count()) > 0) await button(phone, 'Take props off').click()
    if ((await button(phone, 'Take nuts off').count()) > 0) await button(phone, 'Take nuts off').click()
    await button(phone, 'Put the limiter in line').click()
    await button(phone, 'Start').click()
    await phone.waitForTimeout(1_200)
    await button(phone, 'Pack').click()
    await phone.getByRole('img', { name: /^Trace over/ }).waitFor({ timeout: 20_000 })
    await button(phone, 'No battery').click()
    await button(phone, 'Take the limiter out').click()
    await button(phone, 'Hide the hands').click()
    await phone.getByRole('region', { name: 'Verdict' }).scrollIntoViewIfNeeded()
    await settle(phone)
    await shot(phone, 'first-power')
    await wide.goto(phone.url().replace(/[^/]+$/, 'settings'))
    await wide
      .getByText(/other than the sheet$/)
      .first()
      .waitFor()
    await wide.getByLabel('Search').fill('level')
    await wide.getByLabel('Value of level.most').fill('40')
    await settle(wide)
    await shot(wide, 'settings-wide')

    const held = async (name) => {
      await button(phone, name).hover()
      await phone.mouse.down()
    }
    await toCheck(phone, /Board identity/)
    await button(phone, 'Start').click()
    await phone.getByRole('region', { name: 'Verdict' }).waitFor()
    await toCheck(phone, /Serial sockets/)
    await button(phone, 'Start').click()
    await phone.getByRole('region', { name: 'Verdict' }).waitFor({ timeout: 10_000 })

    // Sticks and switches: the hands do through the door that the drawer uses what each step asks.
    const benches = await (await phone.request.get('/api/benches')).json()
    const bench = benches.find((b) => b.name === 'South bench').id
    const hands = async (...acts) => {
      for (const act of acts) await phone.request.post(`/api/hands/${bench}`, { data: act })
    }
    const guide = (words) => phone.locator('[data-guide=words]', { hasText: words }).last().waitFor({ timeout: 20_000 })
    const stick = async (name, ...ends) => {
      await guide('Move it.')
      for (const to of ends) {
        await hands({ act: 'stick', stick: name, to })
        await phone.waitForTimeout(1_000)
        await hands({ act: 'stick', stick: name, to: name === 'throttle' ? -1 : 0 })
        await phone.waitForTimeout(900)
      }
    }
    const asked = (words) => phone.locator('[data-guide=ask]', { hasText: words }).last().waitFor({ timeout: 20_000 })
    const answered = async (values) => {
      for (const [item, value] of Object.entries(values))
        await phone.locator(`[data-item="${item}"]`).getByRole('textbox').fill(value)
      const seen = phone.locator('[data-item=telemetry]').getByRole('button', { name: 'Yes', exact: true })
      if ((await seen.count()) > 0) await seen.click()
      await button(phone, 'Go on with these answers').click()
      await phone.getByRole('region', { name: 'Verdict' }).waitFor({ timeout: 10_000 })
    }
    await hands({ act: 'battery', source: 'none' }, { act: 'transmitter', on: true })
    await phone.waitForTimeout(2_000)
    await button(phone, 'Run again').click()
    await phone.waitForTimeout(4_000)
    await toCheck(phone, /Radio link/)
    await button(phone, 'Start').click()
    await asked('Switch the transmitter off.')
    await hands({ act: 'transmitter', on: false })
    await asked('Switch the transmitter on again.')
    await hands({ act: 'transmitter', on: true })
    await asked(/^Leave the transmitter on\. Take all power off/)
    await phone.waitForTimeout(500)
    await hands({ act: 'cable', in: false })
    await phone.waitForTimeout(1_500)
    await hands({ act: 'cable', in: true })
    await phone.locator('[data-item=model]').waitFor({ timeout: 20_000 })
    await answered({ flownWith: 'Trust hand-held 1', model: '7' })
    await toCheck(phone, /Controls/)
    await button(phone, 'Start').click()
    await stick('throttle', 1)
    await guide('Move it.')
    await hands({ act: 'stick', stick: 'roll', to: 0.8 })
    await phone.getByRole('region', { name: 'Reading' }).scrollIntoViewIfNeeded()
    await phone.waitForTimeout(400)
    await shot(phone, 'controls')
    await hands({ act: 'stick', stick: 'roll', to: 1 })
    await phone.waitForTimeout(900)
    await hands({ act: 'stick', stick: 'roll', to: 0 })
    await phone.waitForTimeout(900)
    await stick('pitch', 1)
    await stick('yaw', 1)
    await phone.getByRole('region', { name: 'Verdict' }).waitFor({ timeout: 10_000 })
    await toCheck(phone, /Stick ends/)
    await button(phone, 'Start').click()
    await stick('throttle', 1)
    for (const name of ['roll', 'pitch', 'yaw']) await stick(name, 1, -1)
    await phone.locator('[data-item=yawLowTravel]').waitFor({ timeout: 20_000 })
    await answered({ yawLowTravel: '78' })
    await wide.bringToFront()
    await wide.goto(phone.url())
    await wide.getByLabel('was').waitFor()
    await settle(wide)
    await shot(wide, 'stick-ends-wide')
    await phone.bringToFront()
    await toCheck(phone, /^Switches:/)
    await button(phone, 'Start').click()
    for (const [name, ...places] of [
      ['A', 1, 0],
      ['B', 1, 2, 0],
      ['C', 1, 0],
      ['D', 1, 0],
    ]) {
      await guide('Move it.')
      for (const to of places) {
        await hands({ act: 'switch', name, to })
        await phone.waitForTimeout(1_000)
      }
    }
    await phone.getByRole('table', { name: 'Switch B' }).waitFor({ timeout: 10_000 })
    await phone.getByRole('region', { name: 'Verdict' }).scrollIntoViewIfNeeded()
    await settle(phone)
    await shot(phone, 'switches')

    // ESCs and motors: the battery in, props confirmed off, and a finger on the button.
    const batteryIn = async () => {
      await hands({ act: 'props', on: false }, { act: 'nuts', on: false }, { act: 'battery', source: 'pack' })
      const confirm = button(phone, 'Hold: props off, nuts off')
      await confirm.waitFor({ timeout: 10_000 })
      await held('Hold: props off, nuts off')
      await phone.locator('[data-watch=props]', { hasText: 'off' }).last().waitFor()
      await phone.waitForTimeout(2_000)
      await phone.mouse.up()
    }
    const verdict = () => phone.getByRole('region', { name: 'Verdict' }).last().waitFor({ timeout: 20_000 })
    await toCheck(phone, /All ESCs found/)
    await batteryIn()
    await button(phone, 'Start').click()
    await verdict()
    await toCheck(phone, /Motor signal/)
    await button(phone, 'Start').click()
    await verdict()
    await settle(phone)
    await shot(phone, 'motor-signal')
    await toCheck(phone, /Motor order/)
    await button(phone, 'Start').click()
    await held('Hold to turn the motors')
    await phone.locator('[data-watch=motors]', { hasText: 'turning' }).last().waitFor()
    await phone.getByText('Tap the motor that turned, and which way').last().waitFor({ timeout: 20_000 })
    await phone.mouse.up()
    const pad = phone.getByRole('group', { name: 'Which motor turned, and which way' }).last()
    await pad.getByRole('button', { name: 'front right', exact: true }).click()
    await pad.scrollIntoViewIfNeeded()
    await settle(phone)
    await shot(phone, 'motor-order')
    await button(phone, 'Stop').click()

    // Later checks, with those before them set aside by the lead.
    const lead = await request.newContext({ baseURL: up.url })
    const post = (path, data) =>
      lead.post(`/api${path}`, { data, headers: { 'idempotency-key': randomUUID(), origin: up.url }, failOnStatusCode: true })
    await post('/session', { login: 'maud', password: 'springtide' })
    const later = async (tag, bench, check, before) => {
      const page = await open('phone')
      await signIn(page, 'ines', 'saltmarsh')
      await page.goto(`/airframes/${tag}`)
      await page.getByRole('button', { name: /^(Open a job card|Go on with job card)/ }).click()
      await page
        .getByText(/^Job card \d/)
        .last()
        .waitFor()
      const job = new URL(page.url()).pathname.split('/')[2]
      for (const one of before) await post(`/jobs/${job}/asides`, { check: one, reason: 'looked at on another day' })
      await button(page, `Link ${bench}`).click()
      await page.locator('[data-watch=link]', { hasText: 'up' }).last().waitFor()
      const { id } = (await (await lead.get('/api/benches')).json()).find(({ name }) => name === bench)
      const act = (...acts) => Promise.all(acts.map((data) => lead.post(`/api/hands/${id}`, { data, failOnStatusCode: true })))
      await act({ act: 'props', on: false }, { act: 'nuts', on: false })
      await page.goto(`/jobs/${job}/${check}`)
      const hold = async (name) => {
        const control = button(page, name)
        await control.waitFor()
        await control.scrollIntoViewIfNeeded()
        await control.hover()
        await page.mouse.down()
      }
      return { page, act, hold }
    }
    const asked = await later('L4-015', 'Tide door bench', 'arming.refuses', ['switches.table', 'motors.response'])
    await asked.act(
      { act: 'transmitter', on: true },
      { act: 'stick', stick: 'throttle', to: -1 },
      { act: 'battery', source: 'pack' },
    )
    await asked.hold('Hold: props off, nuts off')
    await asked.page.locator('[data-watch=props]', { hasText: /^off$/ }).last().waitFor()
    await asked.page.mouse.up()
    await button(asked.page, 'Start').click()
    await asked.page
      .getByText(/throttle up in small steps/)
      .last()
      .waitFor()
    for (let to = -1; to < -0.8; to += 0.01) {
      await asked.act({ act: 'stick', stick: 'throttle', to })
      await asked.page.waitForTimeout(150)
    }
    await asked.page
      .getByText(/There it would refuse/)
      .last()
      .waitFor()
    await shot(asked.page, 'arming')
    await button(asked.page, 'Stop').click()
    const smooth = await later('N4-031', 'North bench', 'motors.smooth', [
      'intake.firstPower',
      'escs.signal',
      'escs.data',
      'motors.order',
    ])
    await smooth.act({ act: 'battery', source: 'pack' })
    await smooth.hold('Hold: props off, nuts off')
    await button(smooth.page, 'Start').waitFor()
    await smooth.page.locator('[data-watch=props]', { hasText: 'off' }).last().waitFor()
    await smooth.page.waitForTimeout(2_000)
    await smooth.page.mouse.up()
    await button(smooth.page, 'Start').click()
    await smooth.hold('Hold to turn the motors')
    await smooth.page.getByRole('region', { name: 'Verdict' }).last().waitFor({ timeout: 90_000 })
    await smooth.page.mouse.up()
    const drawn = smooth.page.getByRole('img', { name: /^Output 1: strongest/ })
    await drawn.waitFor({ timeout: 20_000 })
    await drawn.scrollIntoViewIfNeeded()
    await settle(smooth.page)
    await shot(smooth.page, 'spectra')
    await lead.dispose()

    const dark = await open('phone', 'dark')
    await signIn(dark, 'joren', 'dunegrass')
    await dark.goto('/airframes')
    await dark.getByLabel('Search by tag, type or board').fill('Y6-001')
    await dark.getByText('Y6-001', { exact: true }).click()
    await settle(dark)
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
