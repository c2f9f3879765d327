import { act, enter, expect, goWithin, test } from '../bench'
import { beyondEdge } from '../beyondEdge'

test('each check of a finished card is drawn with its verdict, and nothing of it lies beyond the edge', async ({
  page,
}, info) => {
  test.setTimeout(300_000)
  const wrong: string[] = []
  page.on('pageerror', (error) => wrong.push(`${page.url()}: ${error.message}`))
  await enter(page, 'ines')
  await page.goto(`/airframes/${info.project.name === 'phone' ? 'L4-001' : 'H6-001'}`)
  await act(page, 'Look at it').first().click()
  await expect(page.getByText(/^Job card \d/).last()).toBeVisible()
  const links = page.getByRole('list', { name: 'Stations' }).getByRole('link', { name: /: / })
  await expect(links.first()).toBeVisible()
  const checks = await links.evaluateAll((all) =>
    all.map((one) => ({
      check: one.getAttribute('href') ?? '',
      title: one.getAttribute('aria-label')?.replace(/: [^:]*$/, '') ?? '',
    })),
  )
  expect(checks.length).toBeGreaterThan(45)
  let judged = 0
  for (const { check, title } of checks) {
    await goWithin(page, check)
    await expect(page.getByRole('heading', { level: 1 }).last()).toHaveText(title)
    await expect(page.getByText(/^Reading .* …$/)).toHaveCount(0)
    judged += Number((await page.getByRole('region', { name: 'Verdict' }).count()) > 0)
    wrong.push(...(await beyondEdge(page)).map((words) => `${check}: ${words}`))
  }
  expect(wrong).toEqual([])
  // All but the handover itself, and the few that nobody takes there.
  expect(judged).toBeGreaterThan(0.9 * checks.length)
})
