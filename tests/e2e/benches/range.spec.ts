import {
  expect,
  act,
  asks,
  confirmPropsOff,
  hand,
  heldUntil,
  holdDown,
  letUp,
  link,
  openCard,
  setAside,
  showHands,
  enter,
  take,
  test,
  toCheck,
  verdictIs,
  verdictOf,
} from '../bench'

const before = ['intake.firstPower', 'escs.found', 'escs.signal']

// An airframe of an older make, whose ESCs pulses alone reach: on the phone, as the wide screen has the same station already.
test('the range of an analogue signal: taught by its script, measured; an ESC that does not learn is replaced @phone', async ({
  page,
}) => {
  test.setTimeout(300_000)
  await enter(page, 'ines')
  await openCard(page, 'K4-003')
  await setAside(page, before)
  await link(page, 'Slipway bench')
  await hand(page, 'Lay it, nose away')
  await toCheck(page, /Range of the signal/)
  await showHands(page, 'Power')
  await hand(page, 'Take props off', 'Put props on')
  await hand(page, 'Take nuts off', 'Put nuts on')

  const script = page.getByRole('list', { name: 'How the range is taught' }).last()
  const high = 'Hold: props off, nuts off, send high'
  const teach = async () => {
    await expect(asks(page)).toContainText('Look at every motor: props and nuts are off', { timeout: 15_000 })
    await expect(async () => {
      await holdDown(page, high)
      await expect(script.getByText('1 High on every output. The battery goes in.')).toHaveAttribute('aria-current', 'step', {
        timeout: 4_000,
      })
    }).toPass({ timeout: 30_000 })
    await letUp(page)
  }

  // The battery goes in and out again: it ends at once, and proves nothing.
  await take(page)
  await teach()
  await hand(page, 'Pack')
  await expect(script.locator('[aria-current=step]')).toContainText('Still high', { timeout: 4_000 })
  await hand(page, 'No battery')
  await verdictIs(page, 'refused', 40_000)
  await expect(verdictOf(page).getByText(/Nothing was taught whole/)).toBeVisible()

  const measured = async (word: string) => {
    await take(page)
    await teach()
    await hand(page, 'Pack')
    await expect(asks(page)).toContainText('The range is taught', { timeout: 20_000 })
    await confirmPropsOff(page)
    await heldUntil(page, () => verdictIs(page, word, 90_000))
  }
  await measured('fail')
  await expect(
    verdictOf(page)
      .getByText(/The ESC at output 2 was taught, and still uses another range/)
      .first(),
  ).toBeVisible()
  await hand(page, 'No battery')
  await hand(page, 'Replace ESC 2')
  await act(page, 'Done: replace ESC').first().click()
  await expect(
    verdictOf(page)
      .getByText(/^Entry \d+: ESC replaced\. Remedy of take \d+\.$/)
      .first(),
  ).toBeVisible()
  await measured('pass')
  await expect(page.getByText('Zero of output 2').first()).toBeVisible()
  await hand(page, 'No battery')
})
