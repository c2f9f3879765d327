import { expect, act, hand, letGo, link, openCard, processOf, enter, signIn, take, test, toCard, toCheck } from '../bench'

test('a wrong sign-in says so and keeps the name', async ({ page }) => {
  await page.goto('/')
  await page.getByLabel('Name').fill('joren')
  await page.getByLabel('Password').fill('seagrass')
  await page.getByRole('button', { name: 'Sign in' }).click()
  await expect(page.getByText('Name or password is wrong')).toBeVisible()
  await expect(page.getByLabel('Name')).toHaveValue('joren')
})

test('a sign-in that has expired leads back to signing in', async ({ page, context }) => {
  await signIn(page, 'piet')
  // Nothing more is under way, whose answer would bring the session's cookie back.
  await page.waitForLoadState('networkidle')
  await context.clearCookies()
  await page.reload()
  await expect(page.getByRole('button', { name: 'Sign in' })).toBeVisible()
})

test('a reader can look at everything and take nothing', async ({ page }) => {
  await enter(page, 'piet')
  await page.goto('/airframes/N4-006')
  await page.getByRole('button', { name: /Go on with job card/ }).click()
  await toCheck(page, /Gyro at rest/)
  await expect(page.getByText('A reader looks on; a technician takes.')).toBeVisible()
  await page.reload()
  await expect(page.getByText('A reader looks on; a technician takes.')).toBeVisible()
  await expect(act(page, 'Start')).toHaveAttribute('aria-disabled', 'true')
})

test('another board on the bench is said, and nothing can be taken from it', async ({ page }) => {
  await enter(page, 'joren')
  await openCard(page, 'N4-031')
  await link(page, 'Corner bench')
  await expect(page.getByText('Board FB-2058 answers; N4-031 has board FB-2041.')).toBeVisible()
  await toCheck(page, /Gyro at rest/)
  await expect(page.getByText('Another board is on this bench.', { exact: true }).last()).toBeVisible()
  await toCard(page)
  await letGo(page)
  await expect(act(page, 'Link Corner bench')).toBeVisible()
})

test('the second technician is told who holds the bench', async ({ page, browser }, info) => {
  await enter(page, 'ines')
  await openCard(page, 'H6-009')
  await link(page, 'Corner bench')
  const other = await browser.newPage({ baseURL: info.project.use.baseURL, viewport: info.project.use.viewport })
  await enter(other, 'joren')
  await openCard(other, 'N4-031')
  await expect(other.getByText(/held by Ines Aldermoor for H6-009/)).toBeVisible()
  await expect(act(other, 'Link Corner bench')).toHaveAttribute('aria-disabled', 'true')
  await letGo(page)
  await expect(act(other, 'Link Corner bench')).not.toHaveAttribute('aria-disabled', 'true')
  await other.close()
})

test('a knock during a take makes it refused; one after it makes the result stale', async ({ page }, info) => {
  const [tag, bench] = info.project.name === 'phone' ? ['N4-031', 'North bench'] : ['Y6-006', 'Lathe bench']
  await enter(page, 'joren')
  await openCard(page, tag)
  await link(page, bench)
  await toCheck(page, /Gyro at rest/)
  await act(page, 'Simulated hands').last().click()
  await take(page)
  await expect(page.getByText('Capturing')).toBeVisible()
  await page.waitForTimeout(500)
  await hand(page, 'Knock the bench')
  await expect(page.getByText(/Not usable: it was .* by a knock/)).toBeVisible({ timeout: 12_000 })
  if (info.retry === 0) await expect(page.getByText(/^proved nothing yet: take \d+ was refused$/).last()).toBeVisible()
  await take(page)
  await expect(page.getByText('by take', { exact: false }).last()).toBeVisible({ timeout: 15_000 })
  await hand(page, 'Knock the bench')
  await expect(page.getByText(/spoiled by entry \d+: knocked/).first()).toBeVisible({ timeout: 6_000 })
  await toCard(page)
  await letGo(page)
})

test('a rig that ends is said within a second, the running take is refused, and the link comes back', async ({ page }, info) => {
  const [tag, bench] = info.project.name === 'phone' ? ['L4-015', 'Tide door bench'] : ['H6-009', 'Corner bench']
  await enter(page, 'ines')
  await openCard(page, tag)
  await link(page, bench)
  await toCheck(page, /Gyro at rest/)
  await take(page)
  await expect(page.getByText('Capturing')).toBeVisible()
  await page.waitForTimeout(1_000)
  process.kill(processOf('rig'), 'SIGKILL')
  await expect(page.locator('[data-watch=link]').last()).toHaveText('LOST', { timeout: 1_000 })
  await expect(page.getByText(/Not usable: the link was lost/)).toBeVisible()
  await expect(page.locator('[data-watch=link]').last()).toHaveText('up', { timeout: 15_000 })
  await toCard(page)
  await letGo(page)
})

test('without the server it says so, loses nothing and goes on by itself', async ({ page }) => {
  await enter(page, 'ines')
  await openCard(page, 'N4-006')
  const title = page.getByText(/^Job card \d/).last()
  process.kill(processOf('server'), 'SIGKILL')
  await expect(page.getByText('No connection to the server').last()).toBeVisible({ timeout: 3_000 })
  await expect(title).toBeVisible()
  await expect(page.getByText('No connection to the server').last()).toBeHidden({ timeout: 15_000 })
})

test('an unknown page, airframe and check say where to go', async ({ page }) => {
  await enter(page, 'piet')
  await page.goto('/nowhere')
  await expect(page.getByText('There is no such page')).toBeVisible()
  await page.goto('/airframes/Z9-999')
  await expect(page.getByText('No airframe has the tag Z9-999.')).toBeVisible()
})

test('a device that loses its network says so on every page, and goes on by itself', async ({ page }) => {
  await signIn(page, 'ines')
  await page.context().setOffline(true)
  await expect(page.getByText('No connection to the server')).toBeVisible()
  await page.context().setOffline(false)
  await expect(page.getByText('No connection to the server')).toBeHidden()
})
