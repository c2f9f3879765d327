import { expect, test, type Page } from '@playwright/test'
import { act, answerList, hand, holdDown, letUp, link, showHands, signIn } from './bench'

// The phone takes an airframe that has every sensor and several faults, the wide screen one that only the gyro spoils.
const airframes = {
  phone: { tag: 'L4-014', bench: 'South bench', loose: true, everySensor: true, levelFails: true, leftOver: false },
  wide: { tag: 'N4-032', bench: 'Window bench', loose: false, everySensor: false, levelFails: false, leftOver: true },
}

const verdictOf = (page: Page) => page.getByRole('region', { name: 'Verdict' }).last()
const passes = (page: Page, timeout: number) =>
  expect(verdictOf(page).getByText('pass', { exact: true }).first()).toBeVisible({ timeout })

test('one airframe, from the list to a signed handover', async ({ page }, info) => {
  test.setTimeout(480_000)
  const { tag, bench, loose, everySensor, levelFails, leftOver } = airframes[info.project.name as keyof typeof airframes]
  await signIn(page, 'ines')
  await page.getByLabel('Search by tag, type or board').fill(tag)
  await expect(page.getByText('1 found')).toBeVisible()
  await page.getByText(tag, { exact: true }).click()
  await page.getByRole('button', { name: 'Open a job card' }).click()
  await link(page, bench)

  await intake(page, tag, everySensor)
  await takeTheBoard(page, leftOver, everySensor)
  await page.getByRole('link', { name: /Gyro at rest/ }).click()
  await expect(page.getByRole('region', { name: 'Reading' }).getByText('deg/s, largest turn')).toBeVisible()
  await expect(page.locator('[data-reading=bias]')).toHaveText(/^\d+\.\d\d$/)
  await act(page, 'Take it').click()
  await expect(page.getByText('Capturing: keep your hands off')).toBeVisible()
  const verdict = page.getByRole('region', { name: 'Verdict' })
  if (loose) {
    // Two remedies: nothing is written by itself.
    await expect(verdict.getByText('fail', { exact: true })).toBeVisible({ timeout: 15_000 })
    await expect(verdict.getByText('allowed -0.20 to 0.20').first()).toBeVisible()
    await act(page, 'Let the board measure it').click()
    await expect(page.getByText(/spoiled by entry \d+/).first()).toBeVisible({ timeout: 20_000 })
    await hand(page, 'Tighten the board screws')
    await expect(page.locator('[data-watch=link]').last()).toHaveText('up')
    await act(page, 'Take it again').click()
    await expect(verdict.getByText('pass', { exact: true })).toBeVisible({ timeout: 15_000 })
  } else {
    await expect(page.getByText('Writing what was found, restarting, reading back …')).toBeVisible({ timeout: 15_000 })
    await expect(verdict.getByText('pass', { exact: true })).toBeVisible({ timeout: 20_000 })
    await expect(verdict.getByText(/, before the write/).first()).toBeVisible()
  }

  if (everySensor) await takeEverySensor(page)
  await mountAndFollow(page)
  await page.getByRole('link', { name: /Level/ }).click()
  const level = async (button: string) => {
    await act(page, button).last().click()
    await expect(act(page, 'It lies as asked')).toBeVisible({ timeout: 10_000 })
    await hand(page, 'Lay it, nose to you')
    await expect(page.getByText('on the plate, nose to you', { exact: true }).last()).toBeVisible({ timeout: 6_000 })
    await act(page, 'It lies as asked').click()
  }
  await level('Take it')
  const verdictNow = verdictOf(page)
  await expect(verdictNow.getByText('pass', { exact: true })).toBeVisible({ timeout: 20_000 })
  if (levelFails) await expect(verdictNow.getByText('Roll offset of the airframe, before the write')).toBeVisible()

  await page.getByRole('link', { name: /Handover/ }).click()
  await expect(page.getByText('Handover, not yet signed')).toBeVisible()
  // What the stations left to be put back is in the way of the signature until it is closed.
  const signAsTechnician = async () => {
    await page.getByLabel('Password').last().fill('saltmarsh')
    await act(page, 'Sign as technician').click()
  }
  await signAsTechnician()
  await expect(page.getByText(/^Still open: Take the flags of tape off the motors/)).toBeVisible()
  const close = page.getByRole('button', { name: /^Close entry \d+$/ })
  for (let left = await close.count(); left > 0; left--) {
    await close.first().click()
    await page.getByLabel(/What was (done|found)/).fill('Done, looked at twice.')
    await act(page, 'It is done').click()
    await expect(close).toHaveCount(left - 1)
  }
  await signAsTechnician()
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

/** Station 1: lists by eye, then the first battery through the limiter. */
const intake = async (page: Page, tag: string, video: boolean) => {
  await act(page, 'Next: Which airframe').click()
  await expect(act(page, 'Take it')).toHaveAttribute('aria-disabled', 'true')
  await answerList(page, { tag })
  await act(page, 'Take it').click()
  await passes(page, 10_000)
  await page.getByRole('link', { name: /For whom/ }).click()
  await answerList(page)
  await act(page, 'Take it').click()
  await passes(page, 10_000)
  await page.getByRole('link', { name: /Before it was closed/ }).click()
  await answerList(page)
  await act(page, 'Take it').click()
  await passes(page, 10_000)
  await page.getByRole('link', { name: /By eye/ }).click()
  if (video) {
    await answerList(page, {}, ['videoAntenna'])
    await page.getByLabel('What you see instead').fill('only its stub')
    // What was answered is still there when the page comes back.
    await page.reload()
    await expect(page.getByLabel('What you see instead')).toHaveValue('only its stub')
    await act(page, 'Take it').click()
    await expect(verdictOf(page).getByText('not so: only its stub')).toBeVisible()
    await expect(verdictOf(page).getByText('Fit the video antenna before any power.')).toBeVisible()
  }
  await answerList(page)
  await act(page, video ? 'Take it again' : 'Take it').click()
  await passes(page, 10_000)
  await page.getByRole('link', { name: /Past the board/ }).click()
  await answerList(page)
  await act(page, 'Take it').click()
  await passes(page, 10_000)

  await page.getByRole('link', { name: /First power/ }).click()
  await showHands(page, 'Power')
  await hand(page, 'Take props off', true)
  await hand(page, 'Take nuts off', true)
  await hand(page, 'Put the limiter in line', true)
  await act(page, 'Take it').last().click()
  await expect(page.getByText(/Plug the battery in through the limiter/).last()).toBeVisible()
  await hand(page, 'Pack')
  await passes(page, 20_000)
  await expect(page.locator('[data-watch=heat]').last()).toHaveText(/^\d:\d\d$/)
  await expect(page.getByRole('img', { name: /^Trace over/ })).toBeVisible()
  await page.getByRole('link', { name: /Rail, cold to warm/ }).click()
  await expect(act(page, 'Take it')).toHaveAttribute('aria-disabled', 'true')
  await holdDown(page, 'Hold: props off, nuts off')
  await expect(page.locator('[data-watch=props]').last()).toHaveText('off')
  await letUp(page)
  await act(page, 'Take it').click()
  await passes(page, 60_000)
  await hand(page, 'No battery')
  await hand(page, 'Take the limiter out', true)
  await showHands(page, 'Hold')
  await page.getByRole('link', { name: /Job card/ }).click()
}

/** What the board is asked: who it is, how it is set, what is on its sockets and answers, how its loop runs. */
const takeTheBoard = async (page: Page, leftOver: boolean, position: boolean) => {
  await act(page, 'Next: As received').click()
  await act(page, 'Take it').click()
  await passes(page, 10_000)
  await page.getByRole('link', { name: /Identity/ }).click()
  await expect(page.getByText('TIDEBOARD-4').first()).toBeVisible()
  await act(page, 'Take it').click()
  await passes(page, 10_000)
  await page.getByRole('link', { name: /Firmware/ }).click()
  await act(page, 'Take it').click()
  await passes(page, 10_000)
  await expect(verdictOf(page).getByText('shoreline 3.2.0, approved')).toBeVisible()
  await page.getByRole('link', { name: /Versions of the other parts/ }).click()
  await answerList(page, {
    'version of receiver': '2.4',
    'version of video transmitter': '1.7',
    ...(position ? { 'version of position receiver': '5.1' } : {}),
  })
  await act(page, 'Take it').click()
  await passes(page, 10_000)
  await page.getByRole('link', { name: /Settings of the sheet/ }).click()
  await act(page, 'Take it').click()
  if (leftOver) {
    await expect(verdictOf(page).getByText('fail', { exact: true })).toBeVisible({ timeout: 10_000 })
    await expect(verdictOf(page).getByText('curve.roll.rate', { exact: true })).toBeVisible()
    await expect(verdictOf(page).getByText('the sheet says 400').first()).toBeVisible()
    await act(page, 'Write it to the board').click()
    await expect(page.getByText(/spoiled by entry \d+/).first()).toBeVisible({ timeout: 20_000 })
    await act(page, 'Take it again').click()
  }
  await passes(page, 10_000)
  await page.getByRole('link', { name: /Settings among themselves/ }).click()
  await act(page, 'Take it').click()
  await passes(page, 10_000)
  await page.getByRole('link', { name: /Sockets/ }).click()
  // With the transmitter off nothing arrives: it says what to look at.
  await act(page, 'Take it').click()
  await expect(verdictOf(page).getByText(/Nothing comes from the receiver: see that it hears the transmitter/)).toBeVisible()
  await showHands(page, 'Radio')
  await hand(page, 'Switch the transmitter on')
  await expect(page.locator('[data-watch=radio]').last()).toHaveText('heard')
  await act(page, 'Take it again').click()
  await passes(page, 10_000)
  await hand(page, 'Switch the transmitter off')
  await showHands(page, 'Hold')
  for (const name of [/Sensors answer/, /Loop/]) {
    await page.getByRole('link', { name }).click()
    await act(page, 'Take it').click()
    await passes(page, 10_000)
  }
}

/** Six poses, compass, barometer and position of an airframe whose sensors are sound. */
const takeEverySensor = async (page: Page) => {
  await page.getByRole('link', { name: /six poses/ }).click()
  await act(page, 'Take it').click()
  const done = (label: string) => expect(page.getByText(`✓ ${label}`, { exact: true }).last()).toBeVisible({ timeout: 15_000 })
  await done('top')
  for (const [label, what] of [
    ['nose-up', 'Nose up'],
    ['nose-down', 'Nose down'],
    ['left-down', 'Left side down'],
    ['right-down', 'Right side down'],
    ['bottom', 'Hold it upside down'],
  ] as const) {
    await hand(page, what)
    await done(label)
  }
  await hand(page, 'Hold it askew')
  await passes(page, 15_000)
  await expect(page.getByText('Left in the oblique pose').last()).toBeVisible()

  await page.getByRole('link', { name: /^(3 )?Compass$/ }).click()
  await act(page, 'Take it').click()
  await hand(page, 'Turn it all ways')
  await expect(page.locator('[data-reading=coverage]').last()).toHaveText(/^([3-9]\d|100)$/, { timeout: 40_000 })
  await passes(page, 60_000)

  await expect(page.getByRole('img', { name: /the field strays by at most/ })).toHaveCount(2)
  await turnTheMotors(page)

  await page.getByRole('link', { name: /Barometer/ }).click()
  await hand(page, 'Lay it, nose away')
  await act(page, 'Take it').click()
  await passes(page, 60_000)

  await page.getByRole('link', { name: /Position/ }).click()
  await hand(page, 'Carry it under the open sky')
  await act(page, 'Take it').click()
  // While it looks for its fix, its antenna is measured.
  await page.getByRole('img', { name: /^plan, nose up/ }).click({ position: { x: 75, y: 60 } })
  for (const [field, mm] of [
    ['mm ahead', '20'],
    ['mm right', '0'],
    ['mm up', '60'],
  ] as const)
    await page.getByLabel(field).fill(mm)
  await act(page, 'The antenna sits there').click()
  await expect(page.getByText('Entered. Enter it again to change it.')).toBeVisible()
  await passes(page, 130_000)
}

/** Props confirmed off for the battery that was plugged in, and motors that turn for as long as the control is held. */
const turnTheMotors = async (page: Page) => {
  await page.getByRole('link', { name: /beside the motors/ }).click()
  await hand(page, 'Lay it, nose away')
  await expect(act(page, 'Take it').last()).toHaveAttribute('aria-disabled', 'true')
  await showHands(page, 'Power')
  await hand(page, 'Take props off', true)
  await hand(page, 'Take nuts off', true)
  await hand(page, 'Pack')
  await expect(page.locator('[data-watch=props]').last()).toHaveText('not confirmed')
  await holdDown(page, 'Hold: props off, nuts off')
  await expect(page.locator('[data-watch=props]').last()).toHaveText('off')
  await letUp(page)
  await act(page, 'Take it').last().click()
  const control = page.getByRole('button', { name: 'Hold to turn the motors' }).last()
  await expect(control).toBeVisible({ timeout: 10_000 })

  // Let go too soon, and stopped by the space bar: they stand, and the take waits for another press.
  await holdDown(page, 'Hold to turn the motors')
  await expect(page.locator('[data-watch=motors]').last()).toHaveText('turning')
  await page.keyboard.press(' ')
  await expect(page.locator('[data-watch=motors]').last()).toHaveText('still', { timeout: 8_000 })
  await letUp(page)
  await expect(async () => {
    await holdDown(page, 'Hold to turn the motors')
    await passes(page, 8_000)
  }).toPass({ timeout: 60_000 })
  await letUp(page)
  await expect(page.locator('[data-watch=motors]').last()).toHaveText('still', { timeout: 8_000 })
  await hand(page, 'No battery')
  await expect(page.locator('[data-watch=props]').last()).toHaveText('not confirmed')
  await showHands(page, 'Hold')
}

/** The mounting solved with its marks, then proved by what the board reports. */
const mountAndFollow = async (page: Page) => {
  const ticked = (label: string) => expect(page.getByText(`✓ ${label}`, { exact: true }).last()).toBeVisible({ timeout: 15_000 })
  await page.getByRole('link', { name: /Board mounting/ }).click()
  await hand(page, 'Lay it, nose away')
  await expect(page.getByText('on the plate, nose away', { exact: true }).last()).toBeVisible({ timeout: 6_000 })
  await act(page, 'Take it').click()
  await ticked('level')
  await hand(page, 'Nose up')
  await act(page, 'Nose points up').last().click()
  await ticked('nose-up')
  await hand(page, 'Right side down')
  await act(page, 'Left points up').last().click()
  await passes(page, 15_000)
  await expect(verdictOf(page).getByText('roll 0, pitch 0, yaw 0', { exact: false }).first()).toBeVisible()
  await expect(verdictOf(page).getByText('The board lies upright, its arrow to the front.')).toBeVisible()
  await expect(page.getByRole('img', { name: /Lean in its seat: takes \d+ at/ })).toBeVisible()

  await page.getByRole('link', { name: /Follow/ }).click()
  await hand(page, 'Lay it, nose away')
  await expect(page.getByText('on the plate, nose away', { exact: true }).last()).toBeVisible({ timeout: 6_000 })
  await act(page, 'Take it').click()
  await ticked('level')
  await hand(page, 'Nose up')
  await ticked('nose-up')
  await hand(page, 'Right side down')
  await ticked('right-down')
  await hand(page, 'Lay it, nose away')
  await expect(page.getByText('on the plate, nose away', { exact: true }).last()).toBeVisible({ timeout: 6_000 })
  await act(page, 'It lies as asked').click()
  await hand(page, 'Turn it nose right')
  await passes(page, 15_000)
  await hand(page, 'Lay it, nose away')
  await expect(page.getByText('on the plate, nose away', { exact: true }).last()).toBeVisible({ timeout: 6_000 })
}
