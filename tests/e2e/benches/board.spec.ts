import { expect, act, answerList, giveFile, hand, letGo, link, openCard, enter, take, test, toCard, toCheck } from '../bench'

test('settings: what a write spoils is said before, an image is written with its reason, and both are on the card @phone', async ({
  page,
}, info) => {
  test.setTimeout(180_000)
  const [tag, bench] = info.project.name === 'phone' ? ['L4-015', 'Tide door bench'] : ['H6-009', 'Corner bench']
  await enter(page, 'joren')
  await openCard(page, tag)
  await link(page, bench)
  await toCheck(page, /As received/)
  await take(page)
  const passes = () =>
    expect(page.getByRole('region', { name: 'Verdict' }).getByText('pass', { exact: true }).first()).toBeVisible({
      timeout: 40_000,
    })
  await passes()
  await toCheck(page, /Board identity/)
  await take(page)
  await passes()

  await toCheck(page, /^Firmware:/)
  await take(page)
  await passes()
  await act(page, 'shoreline 3.1.2, approved').click()
  await expect(act(page, 'Write shoreline 3.1.2')).toHaveAttribute('aria-disabled', 'true')
  await page.getByLabel('Why: kept on the card').fill('the fleet is on it')
  await act(page, 'Write shoreline 3.1.2').click()
  await expect(page.getByText('Written, read back, and running: 3.1.2')).toBeVisible({ timeout: 30_000 })
  await expect(page.getByText(/spoiled by entry \d+: firmware shoreline 3\.2\.0 to shoreline 3\.1\.2/).first()).toBeVisible()
  await expect(page.locator('[data-watch=link]').last()).toHaveText('up')
  await take(page)
  await passes()

  await toCard(page)
  await expect(page.getByText(/Altered by the update of the firmware/)).toBeVisible()
  await act(page, 'All settings').click()
  await page.getByLabel('Search').fill('filter')
  await expect(page.getByText('1 shown, 1 other than the sheet')).toBeVisible()
  const field = page.getByLabel('Value of filter.gyro')
  await field.fill('9999999')
  await expect(page.getByText('Out of range')).toBeVisible()
  await field.fill('120')
  const staged = page.getByRole('region', { name: 'To be written' })
  await expect(staged.getByText('150 to 120')).toBeVisible()
  await expect(staged.getByText('It spoils no result.')).toBeVisible()
  await staged.getByLabel('Why: kept on the card').fill('back to the sheet')
  await act(page, 'Write them as one act').click()
  await expect(page.getByText('1 shown, 0 other than the sheet')).toBeVisible({ timeout: 20_000 })
  await expect(page.getByText(/by Joren Wadslag: back to the sheet/)).toBeVisible()
  const saved = page.waitForEvent('download')
  await act(page, 'Save as CSV').click()
  expect((await saved).suggestedFilename()).toBe(`${tag}-settings.csv`)
  // Back to what was received: shown before anything is written, and left as it is.
  await page
    .getByRole('button', { name: /^Restore take/ })
    .last()
    .click()
  await expect(page.getByText(/^To be written: \d+|^Change a value/).first()).toBeVisible()
  await toCard(page)
  await letGo(page)
})

test('an open item is kept on the card; first power that never came keeps nothing @phone', async ({ page }, info) => {
  const [tag, bench] = info.project.name === 'phone' ? ['N4-031', 'North bench'] : ['Y6-006', 'Lathe bench']
  const stickers = `stickers for ${info.project.name}, try ${info.retry + 1}`
  await enter(page, 'joren')
  await openCard(page, tag)
  await act(page, 'Leave something open').click()
  await page.getByLabel('What is left').fill(stickers)
  await act(page, 'Put it on the card').click()
  await expect(page.getByRole('region', { name: 'Open items' }).getByText(stickers)).toBeVisible()
  await link(page, bench)
  const why = page.getByText('A nut left on a shaft is thrown by the first motor that turns.')
  await toCheck(page, /By eye/)
  await expect(why).toBeVisible()
  await toCard(page)
  await act(page, 'Guidance: full').click()
  await toCheck(page, /By eye/)
  await answerList(page)
  await expect(why).toBeHidden()
  // A photo that is none is refused, and what was answered stays.
  const leads = page.locator('[data-item=leads]').last()
  // The item in hand offers its photo.
  await leads.click({ position: { x: 30, y: 16 } })
  const photo = () =>
    leads
      .getByRole('button', { name: /photo$/ })
      .first()
      .click()
  await giveFile(page, 'note.jpg', 'this says that it is a picture', photo)
  await expect(leads.getByText(/This is no picture that can be read/)).toBeVisible()
  const dot = 'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg=='
  await giveFile(page, 'leads.png', Buffer.from(dot, 'base64'), photo)
  await expect(leads.getByRole('img', { name: 'As it was seen' })).toBeVisible()
  await take(page)
  await expect(page.getByRole('region', { name: 'Verdict' }).getByText('pass', { exact: true }).first()).toBeVisible()
  // Nobody plugs the battery in: it says so in the end, and stopped it keeps nothing.
  await toCheck(page, /First power/)
  await take(page)
  await expect(page.getByText(/Plug the battery in through the limiter/).last()).toBeVisible()
  await act(page, 'Stop').click()
  await expect(page.getByText('not run yet').last()).toBeVisible()
  await hand(page, 'Knock the bench')
  await toCard(page)
  await letGo(page)
})
