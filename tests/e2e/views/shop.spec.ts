import { expect, act, giveFile, signIn, test, place } from '../bench'

test('a series is registered by its tags, a file only once every row is right', async ({ page }, info) => {
  const letter = info.project.name === 'phone' ? 'P' : 'W'
  await signIn(page, 'ines')
  await place(page, 'Airframes')
  await act(page, 'Register airframes').click()
  await act(page, 'N4, Nest counter, small quad').click()
  const tags = page.getByLabel('Tag, or a series as in N4-[041-052]')
  await tags.fill(`${letter}-[08-1]`)
  await page.getByLabel('Serial of the board, or a series alike').fill(`${letter}B-[108-111]`)
  await expect(page.getByText('write both numbers as wide: 08-01')).toBeVisible()
  await tags.fill(`${letter}-[08-11]`)
  await expect(page.getByText(`4: ${letter}-08 on board ${letter}B-108, to ${letter}-11 on board ${letter}B-111`)).toBeVisible()
  await act(page, 'Register 4').click()
  await expect(page.getByText(`4 airframes are registered: ${letter}-08 to ${letter}-11`)).toBeVisible()

  const choose = () => act(page, 'Choose a file').click()
  const rows = (second: string) => `tag,type,board,regulator lot\n${letter}-20,N4,${letter}B-20,R8\n${second}\n`
  await giveFile(page, 'bad.csv', rows(`${letter}-08,N4,"${letter}B-21,R8`), choose)
  await expect(page.getByText(/The quoting is wrong/)).toBeVisible()
  await giveFile(page, 'half.csv', rows(`${letter}-08,N4,${letter}B-21,R8`), choose)
  await expect(page.getByText('2 rows, 1 cannot be taken. Nothing is taken yet.')).toBeVisible()
  await expect(page.getByText(`tag ${letter}-08 is registered already`)).toBeVisible()
  await expect(act(page, 'Take in 2')).toHaveAttribute('aria-disabled', 'true')
  await giveFile(page, 'good.csv', rows(`${letter}-21,N4,${letter}B-21,R8`), choose)
  await expect(page.getByText('2 rows, all can be taken. Nothing is taken yet.')).toBeVisible()
  await act(page, 'Take in 2').click()
  await expect(page.getByText(`2 airframes are registered: ${letter}-20 to ${letter}-21`)).toBeVisible()

  // The lot has a batch note: its inspection is on the card as it is opened, and so is a part that is put in.
  await act(page, `Open ${letter}-20`).click()
  await expect(page.getByText('lot R8')).toBeVisible()
  await act(page, 'Label').click()
  await expect(page.getByRole('img', { name: `Code that leads to ${letter}-20` })).toBeVisible()
  await act(page, `Back to ${letter}-20`).click()
  await act(page, 'Open a job card').click()
  await expect(page.getByRole('region', { name: 'Open items' }).getByText(/sags once it is warm/)).toBeVisible()
  await act(page, 'Park this card').click()
  await page.getByLabel('Why it waits').fill('the regulator is on its way')
  await act(page, 'Park it').click()
  await expect(page.getByText('the regulator is on its way', { exact: true })).toBeVisible()
  await page.goto('/airframes')
  await page.getByLabel('Search by tag, type or board').fill(`${letter}-20`)
  await expect(page.getByText(/^parked: the regulator is on its way/)).toBeVisible()
  await page.goBack()
  await act(page, 'Take it up again').click()
  await expect(page.getByText('taken up again')).toBeVisible()
})

test('a lead makes a version of a sheet: drawn as it is entered, refused where it contradicts itself, compared', async ({
  page,
}, info) => {
  const [type, from] = info.project.name === 'phone' ? ['Y6', 1] : ['H6', 1]
  await signIn(page, 'maud')
  await place(page, 'Sheets')
  await act(page, `Open ${type}`).click()
  await expect(page.getByText('Used by a job card: it never changes.')).toBeVisible()
  await act(page, 'Edit as a new version').click()
  await page.getByLabel('Why this version is made').fill('longer booms')
  const booms = page.getByRole('group', { name: 'Booms', exact: true })
  const radius = booms.getByLabel('Radius, m').first()
  const before = await page.getByRole('img', { name: /Plan of the airframe/ }).innerHTML()
  await radius.fill('0.42')
  expect(await page.getByRole('img', { name: /Plan of the airframe/ }).innerHTML()).not.toBe(before)
  // The plan stays in sight at the last boom too.
  await booms.getByLabel('Radius, m').last().click()
  await expect(page.getByRole('img', { name: /Plan of the airframe/ })).toBeInViewport({ ratio: 0.9 })
  const output = booms.getByLabel(/^Output/).first()
  await output.fill('2')
  await expect(page.getByText('geometry, booms', { exact: false }).first()).toBeVisible()
  await expect(act(page, 'Make the version')).toHaveAttribute('aria-disabled', 'true')
  await output.fill('1')
  // Two conditions together, and a switch that has no such position.
  await act(page, 'arm: only with another condition').click()
  await expect(page.getByLabel('and channel')).toHaveValue('6')
  await act(page, 'arm: by itself').click()
  const switches = page.getByRole('group', { name: 'Switches of the transmitter' })
  await act(page, 'Switches of the transmitter: add one').click()
  await switches.getByLabel('Switch', { exact: true }).last().fill('front left')
  await switches.getByLabel('At power-up').last().fill('3')
  await expect(switches.getByText('it has 2 positions, and no position 3')).toBeVisible()
  await act(page, 'Switches of the transmitter: take row 5 out').click()
  // What is half entered is kept on the device.
  await page.reload()
  await expect(page.getByLabel('Why this version is made')).toHaveValue('longer booms')
  await act(page, 'Booms: take row 1 out').click()
  await expect(page.getByText(/a boom is missing/).first()).toBeVisible()
  await act(page, 'Put back what was taken out').click()
  await act(page, 'Make the version').click()
  await expect(page.getByText(`${type}, version ${from + 1}`, { exact: true })).toBeVisible()
  await act(page, `version ${from}`).click()
  const comparison = page.getByRole('region', { name: 'Comparison' })
  await expect(comparison.getByText('geometry, booms 1, radius m')).toBeVisible()
  await expect(comparison.getByText(/0\.3\d* → 0\.42/)).toBeVisible()

  // A file that is a sheet, and one that contradicts itself.
  await act(page, 'All sheets').click()
  const take = () => act(page, 'Take in a sheet from a file').click()
  await giveFile(page, 'bad.json', '{"type": "Z4"', take)
  await expect(page.getByText(/It is not whole JSON/)).toBeVisible()
  const variant = {
    type: `${type}-ice`,
    title: 'For the ice',
    variantOf: { type, version: from },
    settings: { 'power.lowCell': 3.4 },
  }
  await giveFile(page, 'wrong.json', JSON.stringify({ ...variant, settings: { 'wing.flap': 1 } }), take)
  await expect(page.getByText(/settings\["wing\.flap"\]: no board of target TIDEBOARD-4/)).toBeVisible()
  await giveFile(page, 'variant.json', JSON.stringify(variant), take)
  await expect(page.getByText(`A variant of ${type} version ${from}.`, { exact: false })).toBeVisible()
})

test('a batch note reaches the cards of its lots; the fault finder leads to checks', async ({ page }, info) => {
  const lot = info.project.name === 'phone' ? 'H122' : 'H124'
  await signIn(page, 'joren')
  await place(page, 'Batch notes')
  await act(page, 'Write a batch note').click()
  await page.getByLabel('Part, as sheets call it').fill('motor')
  await page.getByLabel('First lot').fill(lot)
  await page.getByLabel('What is wrong with it').fill('bells came bent')
  await page.getByLabel('What to look at').fill('Turn each by hand.')
  await act(page, 'Write the note').click()
  await expect(page.getByText(`motor, lot ${lot}`)).toBeVisible()
  await place(page, 'Faults')
  await act(page, 'The board is not found').click()
  await expect(page.getByText('proved by "Firmware"')).toBeVisible()
})
