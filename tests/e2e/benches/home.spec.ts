import { expect, act, link, openCard, setAside, enter, test, toCard, verdictIs, verdictOf } from '../bench'
import { failsafeAt } from '../failsafeWalk'

const bench = 'Corner bench'

test('return home: it does not try without a fix, it does with one, and a way home that is too low is written higher @phone', async ({
  page,
}) => {
  test.setTimeout(240_000)
  await enter(page, 'ines')
  await openCard(page, 'H6-009')
  await setAside(page, { allBut: ['failsafe.returnHome'] })
  await link(page, bench)

  await act(page, 'All settings').click()
  await page.getByLabel('Search').fill('home.height')
  const height = page.getByLabel('Value of home.height')
  // A try before this one may have left it so.
  if ((await height.inputValue()) !== '11') {
    await height.fill('11')
    await page.getByRole('region', { name: 'To be written' }).getByLabel('Why: kept on the card').fill('nothing stood there')
    await act(page, 'Write them as one act').click()
    await expect(page.getByText(/nothing stood there/).last()).toBeVisible({ timeout: 20_000 })
  }
  await toCard(page)

  const { comesHome } = await failsafeAt(page, bench)
  await comesHome()
  await verdictIs(page, 'fail', 40_000)
  await expect(
    verdictOf(page)
      .getByText(/Have it come home over what stands in the way/)
      .first(),
  ).toBeVisible()
  await act(page, 'Write it to the board').click()
  await expect(page.getByText(/spoiled by entry \d+/).first()).toBeVisible({ timeout: 40_000 })

  await comesHome()
  await verdictIs(page, 'pass', 40_000)
})
