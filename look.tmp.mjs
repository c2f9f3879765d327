import { chromium } from '@playwright/test'
import { launchOptions } from './scripts/lib/chromium.mjs'
const [what = 'all', login = 'ines'] = process.argv.slice(2)
const pw = { ines: 'saltmarsh', maud: 'springtide', piet: 'oystercatcher' }
const browser = await chromium.launch(launchOptions)
const shot = async (name, viewport, path, colorScheme = 'light', before = async () => {}) => {
  const page = await (await browser.newContext({ viewport, colorScheme })).newPage()
  page.on('pageerror', (e) => console.log(name, 'ERR', e.message.slice(0, 300)))
  await page.goto('http://127.0.0.1:4711/sign-in')
  await page.getByLabel('Name').fill(login)
  await page.getByLabel('Password').fill(pw[login])
  await page.getByRole('button', { name: 'Sign in' }).click()
  await page.waitForTimeout(2500)
  await page.goto('http://127.0.0.1:4711' + path)
  await page.waitForTimeout(2500)
  await before(page)
  await page.screenshot({ path: `/tmp/look/${name}.png` })
  await page.close()
}
const phone = { width: 390, height: 844 }, wide = { width: 1280, height: 800 }
const call = async () => {
  const r = await fetch('http://127.0.0.1:4711/api/session', { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify({ login: 'ines', password: 'saltmarsh' }) })
  const cookie = r.headers.get('set-cookie').split(';')[0]
  const get = async (p) => (await fetch('http://127.0.0.1:4711/api' + p, { headers: { cookie } })).json()
  const page = await get('/airframes?standing=stale&limit=5')
  const tag = page.rows[0].tag
  const a = await get('/airframes/' + tag)
  return { tag, job: a.jobs[0].id }
}
const { tag, job } = await call()
if (what === 'today' || what === 'all') { await shot('today-phone', phone, '/'); await shot('today-wide', wide, '/') }
if (what === 'card' || what === 'all') { await shot('card-phone', phone, `/jobs/${job}`); await shot('card-wide', wide, `/jobs/${job}`) }
if (what === 'check' || what === 'all') { await shot('check-phone', phone, `/jobs/${job}/sensors.gyroRest`); await shot('check-wide', wide, `/jobs/${job}/sensors.gyroRest`) }
if (what === 'list' || what === 'all') { await shot('list-phone', phone, '/airframes'); await shot('list-wide', wide, '/airframes') }
await browser.close()
