import { type Page } from '@playwright/test'
import { expect, openCard, enter, test } from '../bench'

const names = 'Battery,Navigation,Payload'.split(',')

/**
 * Gives the page that runs the stations and checks that are still to come: fifteen stations, some eighty checks. They are put into the
 * lists of the core where the bundler keeps them, and stand on no card yet.
 */
const addStations = (page: Page) =>
  page.evaluate((titles) => {
    interface Core {
      stations: { id: string; number: number; title: string }[]
      checks: object[]
    }
    const require = (globalThis as unknown as { __r: (id: number) => unknown }).__r
    const cores = new Set<Core>()
    for (let id = 0; id < 6000; id++)
      try {
        const found = require(id) as Partial<Core> | undefined
        if (Array.isArray(found?.stations) && Array.isArray(found.checks)) cores.add(found as Core)
      } catch {
        // No module of this number, or one that does not run here.
      }
    for (const { stations, checks } of cores) {
      const like = checks.at(-1) as object
      titles.forEach((title, i) => {
        const id = title.toLowerCase()
        stations.splice(10 + i, 0, { id, number: 11 + i, title })
        for (let n = 1; n <= 10; n++)
          checks.push({ ...like, id: `${id}.${n}`, station: id, title: `${title}, part ${n}`, needs: [] })
      })
      return { stations: stations.length, checks: checks.length }
    }
    return null
  }, names)

const boxesOf = (page: Page, name: string) =>
  page
    .getByRole(name === 'Route' ? 'navigation' : 'list', { name })
    .getByRole('link')
    .evaluateAll((links) => links.map((link) => link.getBoundingClientRect().toJSON() as DOMRect))

test('the route and the card are ready for fifteen stations and eighty checks', async ({ page }, info) => {
  const phone = info.project.name === 'phone'
  await enter(page, 'ines')
  await openCard(page, phone ? 'L4-007' : 'N4-008')
  const grown = await addStations(page)
  expect(grown?.stations).toBe(15)
  expect(grown?.checks).toBeGreaterThanOrEqual(80)
  // To another page and back within the application, which draws both again.
  await page
    .getByRole('list', { name: 'Stations' })
    .getByRole('link', { name: /^Gyro at rest/ })
    .click()
  await expect(page.getByRole('heading', { name: 'Gyro at rest' }).or(page.getByText('Gyro at rest').last())).toBeVisible()
  const { width, height } = page.viewportSize() ?? { width: 0, height: 0 }
  const track = (await boxesOf(page, 'Route')).slice(0, 16)
  expect(track).toHaveLength(16)
  for (const box of track) {
    expect(box.right).toBeLessThanOrEqual(width + 1)
    expect(box.width).toBeGreaterThanOrEqual(23.5)
    expect(box.height).toBeGreaterThanOrEqual(48)
  }
  await page.getByRole('link', { name: 'Job card', exact: true }).click()
  const card = page.getByRole('list', { name: 'Stations' })
  await expect(card.getByRole('link', { name: /^Payload, part 10/ })).toBeVisible()
  const marks = await boxesOf(page, 'Stations')
  for (const box of marks) expect(box.right).toBeLessThanOrEqual(width + 1)
  const rows = await card.evaluate((list) => list.getBoundingClientRect().height)
  expect(rows).toBeLessThanOrEqual(phone ? 2 * height - 300 : height - 180)
})
