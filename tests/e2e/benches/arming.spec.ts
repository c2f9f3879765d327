import { armingAt } from '../armingWalk'
import { expect, act, link, openCard, setAside, enter, test, verdictIs, verdictOf } from '../bench'

const before = ['arming.arms']

// ESCs that say nothing of how fast they turn: only somebody who looks on has seen it.
test('armed, the motors of ESCs that never learned their range stand: that is seen, said, and fails @phone', async ({ page }) => {
  test.setTimeout(120_000)
  await enter(page, 'ines')
  await openCard(page, 'K4-003')
  await setAside(page, before)
  await link(page, 'Slipway bench')
  const { idles, done } = await armingAt(page, 'Slipway bench')
  await idles()
  const stood = act(page, 'stood')
  await expect(stood.first()).toBeVisible({ timeout: 20_000 })
  for (const one of await stood.all()) await one.click()
  await act(page, 'Go on with these answers').last().click()
  await verdictIs(page, 'fail', 40_000)
  await expect(
    verdictOf(page)
      .getByText(/Battery out/)
      .first(),
  ).toBeVisible()
  await done()
})
