import AxeBuilder from '@axe-core/playwright'
import { type Page } from '@playwright/test'
import { expect, openCard, signIn, test } from '../bench'
import { beyondEdge } from '../beyondEdge'

/** Every view, by where it is: `job` stands for a card. */
const views = [
  '/',
  '/airframes',
  '/airframes/L4-014',
  '/airframes/L4-014/label',
  '/register',
  '/sheets',
  '/sheets/Y6/1',
  '/sheets/Y6/1/edit',
  '/batch-notes',
  '/faults',
  '/transmitters',
  '/shortcuts',
  '/nowhere',
  'job',
  'job/sensors.gyroRest',
  'job/intake.byEye',
  'job/orientation.level',
  'job/radio.link',
  'job/radio.order',
  'job/switches.table',
  'job/settings',
  'job/handover',
] as const

const ready = async (page: Page) => {
  await page.waitForLoadState('networkidle')
  // A busy machine is idle on the network before the page has drawn anything.
  await expect(page.getByRole('heading', { level: 1 }).last()).toBeVisible()
  await expect(page.getByText(/^Reading .* …$/)).toHaveCount(0)
}

const open = async (page: Page, view: string, card: string) => {
  await page.goto(view.startsWith('job') ? view.replace('job', card) : view)
  await ready(page)
}

/** Where the card of an airframe is that has passed and failed; each project has its own. */
const cardWithResults = async (page: Page, project: string): Promise<string> => {
  await openCard(page, project === 'phone' ? 'L4-007' : 'N4-008')
  return new URL(page.url()).pathname
}

test('no view has a finding of axe, in light and dark', async ({ page }, info) => {
  test.setTimeout(600_000)
  const found: string[] = []
  const look = async (view: string) => {
    for (const colorScheme of ['light', 'dark'] as const) {
      await page.emulateMedia({ colorScheme, reducedMotion: 'reduce' })
      const axe = new AxeBuilder({ page })
      // In the dark nothing but colours is another.
      const { violations } = await (colorScheme === 'dark' ? axe.withRules(['color-contrast']) : axe).analyze()
      for (const { id, help, nodes } of violations)
        found.push(...nodes.slice(0, 3).map((node) => `${view}, ${colorScheme}: ${id}, ${help}: ${node.html.slice(0, 200)}`))
    }
  }
  await page.goto('/sign-in')
  await ready(page)
  await look('/sign-in')
  await signIn(page, 'maud')
  const card = await cardWithResults(page, info.project.name)
  for (const view of views) {
    await open(page, view, card)
    await look(view)
  }
  expect(found).toEqual([])
})

for (const [name, size] of [
  ['a screen of 320 px', { width: 320, height: 700 }],
  ['text at 200 % on a screen of 1280 px', { width: 640, height: 400 }],
] as const)
  test(`nothing of any view is lost on ${name}`, { tag: '@phone' }, async ({ page }, info) => {
    test.setTimeout(400_000)
    await page.setViewportSize(size)
    await signIn(page, 'maud')
    const card = await cardWithResults(page, info.project.name)
    const lost: string[] = []
    for (const view of views) {
      await open(page, view, card)
      lost.push(...(await beyondEdge(page)).map((words) => `${view}: ${words}`))
    }
    expect(lost).toEqual([])
  })

test('a card that is left is found again where it was left', async ({ page }, info) => {
  await signIn(page, 'ines')
  await page.setViewportSize({ width: info.project.name === 'phone' ? 390 : 1280, height: 500 })
  await cardWithResults(page, info.project.name)
  const scrolled = () =>
    page
      .getByRole('main')
      .last()
      .evaluate((main) => main.firstElementChild?.scrollTop ?? 0)
  await page.mouse.move(200, 400)
  await expect(async () => {
    await page.mouse.wheel(0, 150)
    expect(await scrolled()).toBeGreaterThan(100)
  }).toPass()
  await page.waitForTimeout(300)
  const before = await scrolled()
  await page.getByRole('link', { name: 'Today', exact: true }).last().click()
  await expect(page.getByRole('region', { name: 'On the benches' }).last()).toBeVisible()
  await page.goBack()
  await expect.poll(scrolled).toBeCloseTo(before, -1)
})
