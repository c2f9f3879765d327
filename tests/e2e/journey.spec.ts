import { expect, test } from '@playwright/test'
import { act, hand, link, signIn } from './bench'

// The phone takes the airframe with every fault of the slice, the wide screen one that only the gyro spoils.
const airframes = {
  phone: { tag: 'L4-014', bench: 'South bench', loose: true, levelFails: true },
  wide: { tag: 'N4-032', bench: 'Window bench', loose: false, levelFails: false },
}

test('one airframe, from the list to a signed handover', async ({ page }, info) => {
  const { tag, bench, loose, levelFails } = airframes[info.project.name as keyof typeof airframes]
  await signIn(page, 'ines')
  await page.getByLabel('Search by tag, type or board').fill(tag)
  await page.getByText(tag, { exact: true }).click()
  await page.getByRole('button', { name: 'Open a job card' }).click()
  await link(page, bench)

  await act(page, 'Next: Gyro at rest').click()
  await expect(page.getByRole('region', { name: 'Reading' }).getByText('deg/s, largest turn')).toBeVisible()
  await expect(page.locator('[data-reading=bias]')).toHaveText(/^\d+\.\d\d$/)
  await act(page, 'Take it').click()
  await expect(page.getByText('Capturing: keep your hands off')).toBeVisible()
  const verdict = page.getByRole('region', { name: 'Verdict' })
  await expect(verdict.getByText('fail', { exact: true })).toBeVisible({ timeout: 15_000 })
  await expect(verdict.getByText('allowed -0.20 to 0.20').first()).toBeVisible()

  await act(page, 'Let the board measure it').click()
  await expect(page.getByText(/spoiled by entry 2/).first()).toBeVisible({ timeout: 20_000 })
  if (loose) await hand(page, 'Tighten the board screws')
  await expect(page.locator('[data-watch=link]').last()).toHaveText('up')
  await act(page, 'Take it again').click()
  await expect(verdict.getByText('pass', { exact: true })).toBeVisible({ timeout: 15_000 })

  await page.getByRole('link', { name: /Level/ }).click()
  const level = async (button: string) => {
    await act(page, button).last().click()
    await expect(act(page, 'It lies as asked')).toBeVisible({ timeout: 10_000 })
    await hand(page, 'Lay it, nose to you')
    await expect(page.getByText('on the plate, nose to you', { exact: true }).last()).toBeVisible({ timeout: 6_000 })
    await act(page, 'It lies as asked').click()
  }
  await level('Take it')
  const verdictNow = page.getByRole('region', { name: 'Verdict' }).last()
  if (levelFails) {
    await expect(verdictNow.getByText(/The board sits .* right side down/)).toBeVisible({ timeout: 10_000 })
    await act(page, 'Write it to the board').click()
    await expect(page.getByText(/spoiled by entry/).first()).toBeVisible({ timeout: 20_000 })
    await hand(page, 'Lay it, nose away')
    await expect(page.getByText('on the plate, nose away', { exact: true }).last()).toBeVisible({ timeout: 6_000 })
    await level('Take it again')
  }
  await expect(verdictNow.getByText('pass', { exact: true })).toBeVisible({ timeout: 10_000 })

  await page.getByRole('link', { name: /Handover/ }).click()
  await expect(page.getByText('Handover, not yet signed')).toBeVisible()
  await page.getByLabel('Password').last().fill('saltmarsh')
  await act(page, 'Sign as technician').click()
  await expect(page.getByText('Signed as technician by Ines Aldermoor.')).toBeVisible()
  await page.getByLabel('Name of the lead').fill('maud')
  await page.getByLabel('Password').last().fill('springtide')
  await act(page, 'Sign as lead').click()
  await expect(page.getByText('Handover record', { exact: true }).last()).toBeVisible()
  await expect(page.getByText('to hand over')).toBeVisible()
  await expect(page.getByText('lead: Maud Terrell', { exact: false })).toBeVisible()
  await expect(page.getByRole('img', { name: 'Code that leads to this record' })).toBeVisible()
  await expect(act(page, 'Print the record')).toBeVisible()

  // On paper there is the record and nothing of the screen around it.
  await page.emulateMedia({ media: 'print' })
  await expect(page.getByRole('banner').last()).toBeHidden()
  await expect(page.getByText('Gyro at rest', { exact: true }).last()).toBeVisible()
  await page.emulateMedia({ media: 'screen' })

  // What the code on the paper says is compared with the record.
  const path = new URL(page.url()).pathname
  await page.goto(`${path}?length=3&head=${'0'.repeat(64)}`)
  await expect(page.getByText('The code does not match this record')).toBeVisible()
})
