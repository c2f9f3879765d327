import { type Page } from '@playwright/test'
import { expect, act, place, signIn, test } from '../bench'

/** Rows of a list on a phone, of a table on a wide screen. */
const rowsOf = (page: Page, project: string) =>
  project === 'phone' ? page.getByRole('listitem') : page.getByRole('rowgroup', { name: 'Airframes' }).getByRole('row')

test('airframes are searched, left by standing and sorted', async ({ page }, info) => {
  const rows = rowsOf(page, info.project.name)
  await signIn(page, 'piet')
  await place(page, 'Airframes')
  // Other tests register more than the demo has.
  const found = page.getByText(/^\d+ found$/)
  await expect(found).toBeVisible()
  const all = (await found.textContent()) ?? ''
  expect(Number.parseInt(all, 10)).toBeGreaterThanOrEqual(39)
  await page.keyboard.press('/')
  await expect(page.getByLabel('Search by tag, type or board')).toBeFocused()
  await page.keyboard.type('seeder')
  await expect(page.getByText('6 found')).toBeVisible()
  await page.getByLabel('Search by tag, type or board').fill('')
  await act(page, 'held back').click()
  await expect(page.getByText('2 found')).toBeVisible()
  await expect(rows).toHaveCount(2)
  await act(page, 'all').click()
  await act(page, info.project.name === 'phone' ? 'tag ↑' : 'Sort by tag').click()
  await expect(rows.first()).toContainText('Y6-006')
  await page.getByLabel('Search by tag, type or board').fill('walrus')
  await expect(page.getByText('No airframe matches')).toBeVisible()
  await act(page, 'Show all').click()
  await expect(page.getByText(all)).toBeVisible()
})

test('everything is reached by keyboard', async ({ page }, info) => {
  await signIn(page, 'piet')
  await page.keyboard.press('?')
  await expect(page.getByText('Start, or run again')).toBeVisible()
  await page.keyboard.press('g')
  await expect(page.getByText(/^\d+ found$/)).toBeVisible()
  await rowsOf(page, info.project.name).first().focus()
  await page.keyboard.press('Enter')
  await expect(page).toHaveURL(/airframes\/H6-001/)
})

test('light and dark can be chosen, and the choice is kept', async ({ page }) => {
  await signIn(page, 'piet')
  const ground = () => page.evaluate(() => getComputedStyle(document.querySelector('[role=banner]') as Element).backgroundColor)
  await act(page, 'Light: device').click()
  await act(page, 'Light: light').click()
  await expect(act(page, 'Light: dark')).toBeVisible()
  expect(await ground()).toBe('rgb(23, 34, 38)')
  // Paper is light, whatever the screen is.
  await page.evaluate(() => window.dispatchEvent(new Event('beforeprint')))
  expect(await ground()).toBe('rgb(255, 255, 255)')
  await page.evaluate(() => window.dispatchEvent(new Event('afterprint')))
  expect(await ground()).toBe('rgb(23, 34, 38)')
  await page.reload()
  await expect(act(page, 'Light: dark')).toBeVisible()
  expect(await ground()).toBe('rgb(23, 34, 38)')
})
