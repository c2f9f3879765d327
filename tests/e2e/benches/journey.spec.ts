import { type Page, type TestInfo } from '@playwright/test'
import { armingAt } from '../armingWalk'
import { failsafeAt } from '../failsafeWalk'
import { hoverAt } from '../hoverWalk'
import {
  expect,
  act,
  answerList,
  asks,
  confirmPropsOff,
  hand,
  heldUntil,
  holding,
  holdDown,
  hurry,
  letUp,
  link,
  motorsState,
  openCard,
  pause,
  setAside,
  showHands,
  enter,
  signIn,
  take,
  test,
  toCheck,
  verdictIs,
  verdictOf,
  place,
} from '../bench'

// One airframe, from the list to a signed handover: a test for each station, in the order of the work, each on the job card
// that the one before left. The phone walks every station, with an airframe that has every sensor and several faults. The wide screen takes
// another one, with other faults, and one test for each kind of want: what is marked is left out there (playwright.config.ts), and set aside on the card.
const airframes = {
  phone: { tag: 'L4-014', bench: 'South bench', loose: true, everySensor: true, levelFails: true, leftOver: false },
  wide: { tag: 'N4-032', bench: 'Window bench', loose: false, everySensor: false, levelFails: false, leftOver: true },
}
/** What the wide screen takes: each kind of want once, with a check that fails and is repaired. */
const walkedWide = [
  'board.asReceived',
  'board.identity',
  'board.firmware',
  'board.versions',
  'board.baseline',
  'board.rules',
  'board.sockets',
  'board.sensors',
  'board.loop',
  'sensors.gyroRest',
  'orientation.board',
  'orientation.follow',
  'orientation.level',
  'switches.table',
  'switches.gestures',
  'escs.found',
  'escs.settings',
  'escs.signal',
  'escs.data',
  'motors.order',
  'failsafe.finalForm',
]
const chosen = (info: TestInfo) => airframes[info.project.name as keyof typeof airframes]

/** What was measured is read by a process that gives way to everybody: on a busy machine that takes its time. */
const passes = (page: Page, timeout = 40_000) =>
  expect(verdictOf(page).getByText('pass', { exact: true }).first()).toBeVisible({ timeout })
const check = toCheck
const benchId = async (page: Page, name: string): Promise<string> => {
  const benches = (await (await page.request.get('/api/benches')).json()) as { id: string; name: string }[]
  return benches.find((b) => b.name === name)?.id ?? ''
}
/** A setting was changed: what compares settings is looked at once more. */
const comparedAgain = async (page: Page) => {
  for (const name of [/Settings match the sheet/, /Settings fit together/]) {
    await check(page, name)
    await take(page)
    await passes(page)
  }
}
const lies = (page: Page, how: string) => expect(page.getByText(how, { exact: true }).last()).toBeVisible({ timeout: 6_000 })
const ticked = (page: Page, label: string) =>
  expect(page.getByText(`✓ ${label}`, { exact: true }).last()).toBeVisible({ timeout: 15_000 })

/** Props and nuts off, a pack in, and both confirmed for that connection. */
const batteryIn = async (page: Page) => {
  await showHands(page, 'Power')
  await hand(page, 'Take props off', 'Put props on')
  await hand(page, 'Take nuts off', 'Put nuts on')
  await hand(page, 'Pack')
  await confirmPropsOff(page)
}

/** The card of this journey, on its bench. */
const onTheBench = async (page: Page, info: TestInfo) => {
  const { tag, bench } = chosen(info)
  await enter(page, 'ines')
  await openCard(page, tag)
  if (info.project.name === 'wide') await setAside(page, { allBut: walkedWide })
  await link(page, bench)
  await hurry(page, bench)
}

test('intake: the lists, then the first battery through the limiter', { tag: '@phone' }, async ({ page }, info) => {
  test.setTimeout(240_000)
  const { tag, bench, everySensor: video } = chosen(info)
  await signIn(page, 'ines')
  await place(page, 'Airframes')
  await page.getByLabel('Search by tag, type or board').fill(tag)
  await expect(page.getByText('1 found')).toBeVisible()
  await page.getByText(tag, { exact: true }).click()
  await page.getByRole('button', { name: /^(Open a job card|Go on with job card)/ }).click()
  await link(page, bench)
  await hurry(page, bench)

  await check(page, /Right airframe/)
  await expect(page.getByRole('button', { name: /^Finish: \d+ to go/ })).toHaveAttribute('aria-disabled', 'true')
  await answerList(page, { tag })
  await take(page)
  await passes(page)
  for (const name of [/Use and documents/, /Incoming inspection/]) {
    await check(page, name)
    await answerList(page)
    await take(page)
    await passes(page)
  }
  await check(page, /By eye/)
  if (video) {
    await answerList(page, {}, ['videoAntenna'])
    await page.getByLabel('What you see instead').fill('only its stub')
    // What was answered is still there when the page comes back.
    await page.reload()
    await expect(page.getByLabel('What you see instead')).toHaveValue('only its stub')
    await take(page)
    await expect(verdictOf(page).getByText('no: only its stub')).toBeVisible()
    await expect(verdictOf(page).getByText('Fit the video antenna before any power.')).toBeVisible()
  }
  await answerList(page)
  await take(page)
  await passes(page)
  await check(page, /What bypasses the board/)
  await answerList(page)
  await take(page)
  await passes(page)

  await check(page, /First power/)
  await showHands(page, 'Power')
  await hand(page, 'Take props off', 'Put props on')
  await hand(page, 'Take nuts off', 'Put nuts on')
  await hand(page, 'Put the limiter in line', 'Take the limiter out')
  await take(page)
  await expect(page.getByText(/Plug the battery in through the limiter/).last()).toBeVisible()
  await hand(page, 'Pack')
  await passes(page)
  await expect(page.locator('[data-watch=heat]').last()).toHaveText(/^\d:\d\d$/)
  await expect(page.getByRole('img', { name: /^Trace over/ })).toBeVisible()
  await check(page, /Supply rail/)
  await expect(page.getByRole('button', { name: /^(Start|Run again)/ })).toHaveAttribute('aria-disabled', 'true')
  await confirmPropsOff(page)
  await take(page)
  await passes(page)
  await hand(page, 'No battery')
  await hand(page, 'Take the limiter out', 'Put the limiter in line')
})

test('board: who it is, how it is set, what is on its sockets and answers, how its loop runs', async ({ page }, info) => {
  test.setTimeout(180_000)
  const { leftOver, everySensor: position } = chosen(info)
  await onTheBench(page, info)
  await check(page, /As received/)
  await take(page)
  await passes(page)
  await check(page, /Board identity/)
  await expect(page.getByText('TIDEBOARD-4').first()).toBeVisible()
  await take(page)
  await passes(page)
  await check(page, /^Firmware:/)
  await take(page)
  await passes(page)
  await expect(verdictOf(page).getByText('shoreline 3.2.0, approved')).toBeVisible()
  await check(page, /Firmware of the other parts/)
  await answerList(page, {
    'version of receiver': '2.4',
    'version of video transmitter': '1.7',
    ...(position ? { 'version of position receiver': '5.1' } : {}),
  })
  await take(page)
  await passes(page)
  await check(page, /Settings match the sheet/)
  await take(page)
  if (leftOver) {
    await expect(verdictOf(page).getByText('fail', { exact: true })).toBeVisible({ timeout: 40_000 })
    await expect(verdictOf(page).getByText('curve.roll.rate', { exact: true })).toBeVisible()
    await expect(verdictOf(page).getByText('wanted: 400').first()).toBeVisible()
    await act(page, 'Write it to the board').click()
    await expect(page.getByText(/spoiled by entry \d+/).first()).toBeVisible({ timeout: 40_000 })
    await take(page)
  }
  await passes(page)
  await check(page, /Settings fit together/)
  await take(page)
  await passes(page)
  await check(page, /Serial sockets/)
  // With the transmitter off nothing arrives: it says what to look at.
  await take(page)
  await expect(verdictOf(page).getByText(/Nothing comes from the receiver\. Switch the transmitter on/)).toBeVisible()
  await showHands(page, 'Radio')
  await hand(page, 'Switch the transmitter on')
  await expect(page.locator('[data-watch=radio]').last()).toHaveText('heard')
  await take(page)
  await passes(page)
  await hand(page, 'Switch the transmitter off')
  for (const name of [/Sensors answer/, /Loop/]) {
    await check(page, name)
    await take(page)
    await passes(page)
  }
})

test('sensors: the gyro at rest, and its remedies', async ({ page }, info) => {
  const { loose, bench } = chosen(info)
  await onTheBench(page, info)
  // What is said while it is captured is looked at.
  await hurry(page, bench, 1)
  await check(page, /Gyro at rest/)
  await expect(page.getByRole('region', { name: 'Reading' }).getByText('deg/s, largest turn')).toBeVisible()
  await expect(page.locator('[data-reading=bias]')).toHaveText(/^\d+\.\d\d$/)
  await take(page)
  await expect(page.getByText('Capturing: keep your hands off')).toBeVisible()
  const verdict = verdictOf(page)
  if (loose) {
    // Two remedies: nothing is written by itself.
    await expect(verdict.getByText('fail', { exact: true })).toBeVisible({ timeout: 40_000 })
    await expect(verdict.getByText('allowed -0.2 to 0.2').first()).toBeVisible()
    await act(page, 'Let the board measure it').click()
    await expect(page.getByText(/spoiled by entry \d+/).first()).toBeVisible({ timeout: 40_000 })
    await hand(page, 'Tighten the board screws')
    await expect(page.locator('[data-watch=link]').last()).toHaveText('up')
    await take(page)
    await expect(verdict.getByText('pass', { exact: true })).toBeVisible({ timeout: 40_000 })
  } else {
    await expect(page.getByText('Writing what was found, restarting, reading back …')).toBeVisible({ timeout: 15_000 })
    await expect(verdict.getByText('pass', { exact: true })).toBeVisible({ timeout: 40_000 })
    await act(page, 'Show what was found before the write').click()
    await expect(verdict.getByText(/, before the write/).first()).toBeVisible()
  }
})

test('sensors: six poses and the compass', { tag: '@phone' }, async ({ page }, info) => {
  test.setTimeout(240_000)
  await onTheBench(page, info)
  await check(page, /Accelerometer/)
  await hand(page, 'Lay it, nose away')
  await take(page)
  await ticked(page, 'top')
  for (const [label, what] of [
    ['nose-up', 'Nose up'],
    ['nose-down', 'Nose down'],
    ['left-down', 'Left side down'],
    ['right-down', 'Right side down'],
    ['bottom', 'Upside down'],
  ] as const) {
    await hand(page, what)
    await ticked(page, label)
  }
  await hand(page, 'At an angle')
  await passes(page)
  await expect(page.getByText('Error in the oblique pose').last()).toBeVisible()

  await check(page, /^Compass:/)
  await take(page)
  await hand(page, 'Turn it all ways')
  await expect(page.locator('[data-reading=coverage]').last()).toHaveText(/^([3-9]\d|100)$/, { timeout: 40_000 })
  await passes(page, 60_000)
  await expect(page.getByRole('img', { name: /the field strays by at most/ })).toHaveCount(2)
})

test('sensors: barometer and position', { tag: '@phone' }, async ({ page }, info) => {
  test.setTimeout(300_000)
  await onTheBench(page, info)
  await check(page, /Barometer/)
  await hand(page, 'Lay it, nose away')
  await take(page)
  await passes(page)

  await check(page, /Position/)
  await take(page)
  await expect(page.getByText(/carry it under the open sky/i).first()).toBeVisible()
  await hand(page, 'Carry it under the open sky')
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
})

test('orientation: the mounting solved with its marks, proved by what the board reports, and level', async ({ page }, info) => {
  test.setTimeout(180_000)
  await onTheBench(page, info)
  await check(page, /Board mounting/)
  await hand(page, 'Lay it, nose away')
  await lies(page, 'Airframe on the plate, nose away')
  await take(page)
  await ticked(page, 'level')
  await hand(page, 'Nose up')
  await act(page, 'Nose points up').last().click()
  await ticked(page, 'nose-up')
  await hand(page, 'Right side down')
  await act(page, 'Left points up').last().click()
  await passes(page)
  await expect(verdictOf(page).getByText('roll 0, pitch 0, yaw 0', { exact: false }).first()).toBeVisible()
  await expect(verdictOf(page).getByText('The board lies upright, its arrow to the front.')).toBeVisible()
  await expect(page.getByRole('img', { name: /Tilt in its mount: takes \d+ at/ })).toBeVisible()

  await check(page, /Follow/)
  await hand(page, 'Lay it, nose away')
  await lies(page, 'Airframe on the plate, nose away')
  await take(page)
  await ticked(page, 'level')
  await hand(page, 'Nose up')
  await ticked(page, 'nose-up')
  await hand(page, 'Right side down')
  await ticked(page, 'right-down')
  await hand(page, 'Lay it, nose away')
  await lies(page, 'Airframe on the plate, nose away')
  await act(page, 'In position').click()
  await hand(page, 'Turn it nose right')
  await passes(page)
  await hand(page, 'Lay it, nose away')
  await lies(page, 'Airframe on the plate, nose away')

  await check(page, /^Level:/)
  await take(page)
  await expect(act(page, 'In position')).toBeVisible({ timeout: 10_000 })
  await hand(page, 'Lay it, nose to you')
  await lies(page, 'Airframe on the plate, nose to you')
  await act(page, 'In position').click()
  await passes(page)
  if (chosen(info).levelFails) {
    await act(page, 'Show what was found before the write').click()
    await expect(verdictOf(page).getByText('Roll offset, before the write')).toBeVisible()
  }
})

/** What a step of a take says to do. */
const asked = (page: Page, words: RegExp) =>
  expect(page.locator('[data-guide=ask]').last()).toHaveText(words, { timeout: 20_000 })
/** A control is out and back once its step is done. */
const guided = (page: Page, words: string) =>
  expect(page.locator('[data-guide=words]').last()).toHaveText(words, { timeout: 15_000 })

/** For so long a stick is held at its end: more than a second by the clock of a bench that is hurried. */
const heldMs = 180
/** Moves what a step asks for, in the drawer's first group: each button, held for as long as a hand would. */
const moves = async (page: Page, ...buttons: string[]) => {
  await guided(page, 'Move it.')
  for (const name of buttons) {
    await hand(page, name)
    await page.waitForTimeout(heldMs)
  }
}

test(
  'radio: bound and meeting again, the sticks found, their ends set on the transmitter, centred and steady',
  { tag: '@phone' },
  async ({ page }, info) => {
    test.setTimeout(300_000)
    const { everySensor: telemetry, leftOver } = chosen(info)
    await onTheBench(page, info)
    await hand(page, 'Lay it, nose away')
    // On at another try: it begins with one that is off.
    const off = { act: 'transmitter', on: false }
    await page.request.post(`/api/hands/${await benchId(page, chosen(info).bench)}`, { data: off })
    await check(page, /Radio link/)
    await take(page)
    await asked(page, /^Switch the transmitter on, with the model/)
    await hand(page, 'Switch the transmitter on')
    await asked(page, /^Switch the transmitter off\.$/)
    await hand(page, 'Switch the transmitter off')
    await asked(page, /^Switch the transmitter on again\.$/)
    await hand(page, 'Switch the transmitter on')
    await asked(page, /^Leave the transmitter on\. Take all power off/)
    await hand(page, 'Pull the cable')
    await expect(page.locator('[data-watch=link]').last()).not.toHaveText('up')
    await hand(page, 'Plug the cable in')
    await answerList(page, { flownWith: 'Trust hand-held 1', model: '7' })
    if (telemetry) await expect(page.getByText(/voltage that the airframe's board measures/).last()).toBeVisible()
    await act(page, 'Go on with these answers').click()
    await passes(page)
    await expect(verdictOf(page).getByText('channel 12, the 8th after the sticks').first()).toBeVisible()
    await expect(page.getByRole('region', { name: 'Transmitter' }).getByText('Trust hand-held 1, model 7')).toBeVisible()

    await check(page, /Controls/)
    await take(page)
    for (const buttons of [
      ['Throttle up', 'Throttle down'],
      ['Roll to its end', 'Let roll go'],
      ['Pitch to its end', 'Let pitch go'],
      ['Yaw to its end', 'Let yaw go'],
    ])
      await moves(page, ...buttons)
    await passes(page)

    const moveEnds = async () => {
      await moves(page, 'Throttle up', 'Throttle down')
      for (const stick of ['Roll', 'Pitch', 'Yaw'])
        await moves(
          page,
          `${stick} to its end`,
          `Let ${stick.toLowerCase()} go`,
          `${stick} to the other end`,
          `Let ${stick.toLowerCase()} go`,
        )
    }
    await check(page, /Stick ends/)
    await take(page)
    await moveEnds()
    if (!leftOver) {
      // The travel of yaw is short on one side: what is set there is read at the transmitter, and the new one computed.
      await answerList(page, { yawLowTravel: '78' })
      await act(page, 'Go on with these answers').click()
      await expect(verdictOf(page).getByText('fail', { exact: true })).toBeVisible({ timeout: 40_000 })
      await expect(verdictOf(page).getByText(/Set the travel of channel 4 on its low side to \d+(\.\d)? %/)).toBeVisible()
      const travel = Number(await page.getByLabel('is now').inputValue())
      expect(travel).toBeGreaterThan(88)
      await page.request.post(`/api/hands/${await benchId(page, chosen(info).bench)}`, {
        data: { act: 'channel', channel: 4, set: { travelLow: travel } },
      })
      await expect(page.getByLabel('was')).toHaveValue('78')
      await act(page, 'Done on the transmitter: record it').click()
      await expect(page.getByText(/spoiled by entry \d+/).first()).toBeVisible({ timeout: 40_000 })
      await check(page, /Stick ends/)
      await take(page)
      await moveEnds()
    }
    await passes(page)

    await check(page, /Stick centre/)
    await take(page)
    for (const stick of ['Roll', 'Pitch', 'Yaw'])
      await moves(
        page,
        ...Array.from({ length: 3 }, () => [
          `${stick} to its end`,
          `Let ${stick.toLowerCase()} go`,
          `${stick} to the other end`,
          `Let ${stick.toLowerCase()} go`,
        ]).flat(),
      )
    await passes(page)

    await check(page, /Radio steadiness/)
    await expect(page.getByRole('img', { name: /^Channels: roll/ }).last()).toBeVisible()
    await take(page)
    await passes(page)
  },
)

test('switches: each moved by itself, the table of what they do, and the edge that lies too near', async ({ page }, info) => {
  test.setTimeout(180_000)
  const { leftOver } = chosen(info)
  await onTheBench(page, info)
  await showHands(page, 'Radio')
  await hand(page, 'Switch the transmitter on', 'Switch the transmitter off')
  await expect(page.locator('[data-watch=radio]').last()).toHaveText('heard', { timeout: 10_000 })
  await check(page, /^Switches:/)
  const moveAll = async () => {
    await take(page)
    await moves(page, 'Switch A to 2', 'Switch A to 1')
    await moves(page, 'Switch B to 2', 'Switch B to 3', 'Switch B to 1')
    await moves(page, 'Switch C to 2', 'Switch C to 1')
    await moves(page, 'Switch D to 2', 'Switch D to 1')
  }
  await moveAll()
  if (leftOver) {
    await expect(verdictOf(page).getByText('fail', { exact: true })).toBeVisible({ timeout: 40_000 })
    await expect(verdictOf(page).getByText('Switch B 3, to the nearest edge')).toBeVisible()
    await act(page, 'Write it to the board').click()
    await expect(page.getByText(/spoiled by entry \d+/).first()).toBeVisible({ timeout: 40_000 })
    await expect(page.locator('[data-watch=radio]').last()).toHaveText('heard', { timeout: 10_000 })
    await comparedAgain(page)
    await check(page, /^Switches:/)
    await moveAll()
  }
  await passes(page)
  const table = page.getByRole('table', { name: 'Switch B' })
  await expect(table.getByRole('cell', { name: 'self-level' }).first()).toBeVisible()
  await check(page, /Stick gestures/)
  await take(page)
  await passes(page)
  await showHands(page, 'Radio')
  await hand(page, 'Switch the transmitter off')
})

test('ESCs: each answers and is set alike, understands its signal, and tells the truth of its motor', async ({ page }, info) => {
  test.setTimeout(240_000)
  const { leftOver } = chosen(info)
  await onTheBench(page, info)
  await hand(page, 'Lay it, nose away')
  await check(page, /All ESCs found/)
  await expect(page.getByRole('button', { name: /^(Start|Run again)/ }).last()).toHaveAttribute('aria-disabled', 'true')
  await batteryIn(page)
  await take(page)
  await expect(
    verdictOf(page)
      .getByText(/^(pass|fail)$/)
      .first(),
  ).toBeVisible({ timeout: 10_000 })
  // Tried again, the plug may be in already.
  const isOut = (await verdictOf(page).getByText('fail', { exact: true }).count()) > 0
  if (leftOver && (isOut || info.retry === 0)) {
    await expect(verdictOf(page).getByText('fail', { exact: true }).first()).toBeVisible()
    await expect(verdictOf(page).getByText(/Look at the plug at output 2: a bent pin/)).toBeVisible()
    await hand(page, 'Take the battery out')
    await hand(page, 'Push in the plug of ESC 2')
    await act(page, 'Done: reseat ESC plug').click()
    await expect(page.getByText(/spoiled by entry \d+/).first()).toBeVisible({ timeout: 40_000 })
    await batteryIn(page)
    await take(page)
  }
  await passes(page)

  await check(page, /ESC settings/)
  await take(page)
  await hand(page, 'Take the battery out')
  await hand(page, 'Plug the pack in')
  await passes(page)
  const givesUp = page.getByRole('table', { name: 'When it gives up' })
  await expect(givesUp.getByRole('row', { name: /Low-voltage cut-off/ })).toContainText('all off')
  if (!leftOver) {
    // What the take wrote to an ESC is on the card, by its output.
    const id = new URL(page.url()).pathname.split('/')[2] ?? ''
    const { entries } = (await (await page.request.get(`/api/jobs/${id}`)).json()) as {
      entries: { body: { change?: { what: string; settings?: unknown } } }[]
    }
    expect(entries.flatMap(({ body }) => (body.change?.what === 'escs' ? [body.change.settings] : []))).toEqual([
      [{ output: 3, name: 'brake', from: 1, to: 0 }],
    ])
  }

  await check(page, /Motor signal/)
  await confirmPropsOff(page)
  await take(page)
  await passes(page)
  await expect(page.getByRole('img', { name: /^DShot300: command 53.3 us, turn 30.0 us, reply 56.0 us/ })).toBeVisible()

  await check(page, /ESC data/)
  await take(page)
  await heldUntil(page, () => passes(page, 120_000))
  await hand(page, 'No battery')
})

test(
  'sensors: the compass beside motors that turn for as long as the control is held',
  { tag: '@phone' },
  async ({ page }, info) => {
    test.setTimeout(180_000)
    const motors = page.locator('[data-watch=motors]').last()
    await onTheBench(page, info)
    await check(page, /near the motors/)
    await hand(page, 'Lay it, nose away')
    await expect(page.getByRole('button', { name: /^(Start|Run again)/ }).last()).toHaveAttribute('aria-disabled', 'true')
    await batteryIn(page)
    await take(page)
    const control = page.getByRole('button', { name: 'Hold to turn the motors' }).last()
    await expect(control).toBeVisible({ timeout: 10_000 })

    // Let go too soon, and stopped by the space bar: they stand, and the take waits for another press.
    await holdDown(page, 'Hold to turn the motors')
    await expect(motors).toHaveText('turning')
    await page.keyboard.press(' ')
    await expect(motors).toHaveText('still', { timeout: 8_000 })
    await letUp(page)
    await expect(async () => {
      await holdDown(page, 'Hold to turn the motors')
      // Run up, turning, coming to rest, and a look at the field with the motors still again.
      await passes(page)
    }).toPass({ timeout: 90_000 })
    await letUp(page)
    await expect(motors).toHaveText('still', { timeout: 8_000 })
    await hand(page, 'No battery')
    await expect(page.locator('[data-watch=props]').last()).toHaveText('not confirmed')
  },
)

/** Presses, looks which flag goes, lets go, and taps it. */
const tapOutput = async (page: Page, info: TestInfo, output: number, wrongly?: string) => {
  const bench = await benchId(page, chosen(info).bench)
  const seen = async () => {
    const state = (await (await page.request.get(`/api/hands/${bench}`)).json()) as {
      motors: { position: string; turn: string }[]
    }
    return state.motors.find(({ turn }) => turn !== 'still')
  }
  await expect(asks(page)).toContainText(`Press and hold the button: output ${output} turns.`, { timeout: 10_000 })
  let turned: Awaited<ReturnType<typeof seen>>
  // A bell that coasts from the output before is not the one that is asked for.
  await expect(motorsState(page)).toHaveText('still', { timeout: 8_000 })
  await expect(async () => {
    await holdDown(page, holding)
    await expect(motorsState(page)).toHaveText('turning', { timeout: 4_000 })
    await expect(async () => expect((turned = await seen())).toBeDefined()).toPass({ timeout: 4_000 })
    await expect(page.getByText('Tap the motor that turned, and which way').last()).toBeVisible({ timeout: 8_000 })
  }).toPass({ timeout: 60_000 })
  await letUp(page)
  const pad = page.getByRole('group', { name: 'Which motor turned, and which way' }).last()
  await pad.getByRole('button', { name: wrongly ?? turned?.position ?? '', exact: true }).click()
  await pad.getByRole('button', { name: turned?.turn === 'clockwise' ? '↻ Clockwise' : '↺ Anticlockwise' }).click()
  // A busy machine lets a press lapse: what was tapped is kept, and the output is held once more.
  const goesOn = (timeout: number) =>
    expect(asks(page).filter({ hasText: `Press and hold the button: output ${output} turns.` })).toHaveCount(0, { timeout })
  await goesOn(4_000).catch(async () => {
    await expect(async () => {
      await holdDown(page, holding)
      await goesOn(10_000)
    }).toPass({ timeout: 60_000 })
    await letUp(page)
  })
}
const allTogether = async (page: Page) => {
  await expect(asks(page)).toContainText('all motors turn at once', { timeout: 10_000 })
  await expect(async () => {
    await holdDown(page, holding)
    await expect(page.locator('[data-guide=ask]', { hasText: 'all motors turn at once' })).toHaveCount(0, { timeout: 12_000 })
  }).toPass({ timeout: 60_000 })
  await letUp(page)
}
const orderTaken = async (page: Page, info: TestInfo) => {
  await take(page)
  for (const output of [1, 2, 3, 4]) await tapOutput(page, info, output)
  await allTogether(page)
  await passes(page)
  await expect(motorsState(page)).toHaveText('still', { timeout: 8_000 })
}

test('motors: each tapped as its flag goes, the map and the turns solved, and all together', async ({ page }, info) => {
  test.setTimeout(300_000)
  const { leftOver } = chosen(info)
  await onTheBench(page, info)
  await hand(page, 'Lay it, nose away')
  await check(page, /Motor order/)
  await batteryIn(page)
  await take(page)
  if (leftOver) {
    // A slip: the same motor twice. Those two outputs are asked again, and no others.
    await tapOutput(page, info, 1)
    await tapOutput(page, info, 2, 'front right')
    await tapOutput(page, info, 3)
    await tapOutput(page, info, 4)
    for (const again of [2, 3]) await tapOutput(page, info, again)
  } else for (const output of [1, 2, 3, 4]) await tapOutput(page, info, output)
  await allTogether(page)
  if (leftOver) {
    await expect(verdictOf(page).getByText('fail', { exact: true }).first()).toBeVisible({ timeout: 40_000 })
    await expect(
      verdictOf(page).getByText(/^Write the output map: output 1 is rear left, output 3 is front right\. 1 exchange/),
    ).toBeVisible()
    await act(page, 'Write it to the board').click()
    await expect(page.getByText(/spoiled by entry \d+/).first()).toBeVisible({ timeout: 40_000 })
    await comparedAgain(page)
    await check(page, /Motor order/)
    await confirmPropsOff(page)
  } else {
    const list = page.getByRole('region', { name: 'List' }).last()
    await expect(list.getByText('Wrong way round: output 4')).toBeVisible()
    await list.getByRole('button', { name: 'in the ESC' }).click()
    await act(page, 'Go on with these answers').click()
    await hand(page, 'Take the battery out')
    await hand(page, 'Plug the pack in')
    await expect(verdictOf(page).getByText('fail', { exact: true }).first()).toBeVisible({ timeout: 40_000 })
    await expect(verdictOf(page).getByText(/Leave the leads as they are, and run it again/)).toBeVisible()
    await expect(page.getByRole('button', { name: /^Done:/ })).toHaveCount(0)
    await confirmPropsOff(page)
  }
  await orderTaken(page, info)
  await hand(page, 'No battery')
})

test(
  'motors: they begin together, run smooth and stay cool, and the right props lie ready',
  { tag: '@phone' },
  async ({ page }, info) => {
    test.setTimeout(420_000)
    const { leftOver } = chosen(info)
    await onTheBench(page, info)
    await hand(page, 'Lay it, nose away')
    await check(page, /Motor start/)
    await batteryIn(page)
    await take(page)
    await heldUntil(page, () => verdictIs(page, 'pass', 30_000))
    await expect(page.getByText('Lowest command that turns output 1').first()).toBeVisible()

    await check(page, /Smooth running/)
    await take(page)
    await heldUntil(page, () => verdictIs(page, leftOver ? 'fail' : 'pass', 45_000))
    await expect(page.getByRole('img', { name: /^Output 1: strongest/ })).toBeVisible({ timeout: 20_000 })
    if (leftOver) {
      await expect(verdictOf(page).getByText(/The bell of the motor at output 3 is out of balance/)).toBeVisible()
      await hand(page, 'Take the battery out')
      await hand(page, 'Replace the motor at 3')
      // What sat on its bell is off: nothing of it was replaced, and it is run again.
      await batteryIn(page)
      await take(page)
      await heldUntil(page, () => verdictIs(page, 'pass', 45_000))
    }

    await check(page, /Heat/)
    await take(page)
    const list = page.getByRole('region', { name: 'List' }).last()
    await heldUntil(page, () => expect(list.getByText('How their heat is known')).toBeVisible({ timeout: 30_000 }))
    await list.getByRole('button', { name: 'with a thermometer' }).click()
    await act(page, 'Go on with these answers').click()
    for (const position of ['front right', 'rear right', 'rear left', 'front left'])
      await list
        .getByRole('group', { name: `${position}: its bell reads` })
        .getByLabel('C')
        .fill('25.5')
    await act(page, 'Go on with these answers').click()
    await passes(page)

    // Armed by its own switch, held in the hands: it pushes against every tilt and turn.
    await check(page, /Response/)
    await showHands(page, 'Radio')
    await hand(page, 'Switch the transmitter on')
    await showHands(page, 'Frame')
    await take(page)
    await expect(asks(page)).toContainText('Then arm it', { timeout: 15_000 })
    await hand(page, 'Throttle down')
    await hand(page, 'Switch A to 2')
    await expect(motorsState(page)).toHaveText('armed', { timeout: 8_000 })
    for (const [said, held] of [
      ['Hold it level in one hand', null],
      ['its right side down', 'Hold its right side down'],
      ['its left side down', 'Hold its left side down'],
      ['its nose up', 'Hold its nose up'],
      ['its nose down', 'Hold its nose down'],
    ] as const) {
      await expect(asks(page)).toContainText(said, { timeout: 15_000 })
      if (held !== null) {
        await hand(page, 'Throttle down')
        await hand(page, held)
        await pause(page, 1_500)
      }
      await hand(page, 'Throttle up a little')
    }
    for (const way of ['right', 'left']) {
      await expect(asks(page)).toContainText(`turn its nose to the ${way}`, { timeout: 15_000 })
      await hand(page, 'Throttle down')
      await hand(page, 'Lay it, nose away')
      await pause(page, 1_500)
      await hand(page, 'Throttle up a little')
      await hand(page, `Turn its nose to the ${way}`)
    }
    await expect(asks(page)).toContainText('disarm it', { timeout: 15_000 })
    await hand(page, 'Throttle down')
    await hand(page, 'Switch A to 1')
    await expect(list.getByText('Right side down: the motors that ran faster')).toBeVisible({ timeout: 15_000 })
    await expect(motorsState(page)).toHaveText('still', { timeout: 8_000 })
    await list
      .getByRole('group', { name: /^Right side down/ })
      .getByRole('button', { name: 'right', exact: true })
      .click()
    await act(page, 'Go on with these answers').click()
    await passes(page)
    await hand(page, 'Lay it, nose away')
    await showHands(page, 'Radio')
    await hand(page, 'Switch the transmitter off')

    await check(page, /Prop plan/)
    await showHands(page, 'Power')
    await hand(page, 'No battery')
    await take(page)
    await expect(list.getByText(/^front right: marked/)).toBeVisible({ timeout: 15_000 })
    const items = list.locator('[data-item^=prop]')
    for (let i = 0; i < 4; i++)
      await items
        .nth(i)
        .getByRole('button', { name: !leftOver && i === 1 ? 'this one, damaged' : 'this one, whole' })
        .click()
    for (const hand of ['clockwise', 'anticlockwise']) await list.locator(`[data-item=${hand}]`).getByLabel('props').fill('2')
    await act(page, 'Go on with these answers').click()
    if (!leftOver) {
      await verdictIs(page, 'fail', 40_000)
      await hand(page, 'Lay a new prop at 2')
      await act(page, 'Done: replace prop').click()
      await expect(verdictOf(page).getByText(/^Entry \d+: prop: .*\. Remedy of take \d+\.$/)).toBeVisible()
      await expect(page.getByText(/spoiled by entry \d+/).first()).toBeVisible({ timeout: 40_000 })
      await take(page)
      for (let i = 0; i < 4; i++) await items.nth(i).getByRole('button', { name: 'this one, whole' }).click()
      for (const hand of ['clockwise', 'anticlockwise']) await list.locator(`[data-item=${hand}]`).getByLabel('props').fill('2')
      await act(page, 'Go on with these answers').click()
    }
    await passes(page)
    await act(page, 'Card for the bench').click()
    await expect(page.getByRole('heading', { name: chosen(info).tag })).toBeVisible()
    await expect(page.getByText('2 clockwise, marked CW')).toBeVisible()
  },
)

test(
  'arming: what must keep it from arming does, every way out of it stops it, and it idles evenly',
  { tag: '@phone' },
  async ({ page }, info) => {
    test.setTimeout(300_000)
    await onTheBench(page, info)
    const { mustRefuse, mustArm, mustDisarm, idles, done } = await armingAt(page, chosen(info).bench)
    await mustRefuse()
    await mustArm()
    await mustDisarm()
    await idles()
    await passes(page)
    await done()
  },
)

test('failsafe: the signal taken away in every class of loss, timed and drawn', { tag: '@phone' }, async ({ page }, info) => {
  test.setTimeout(240_000)
  await onTheBench(page, info)
  const { losses } = await failsafeAt(page, chosen(info).bench)
  await losses()
  await verdictIs(page, 'fail', 40_000)
  await expect(
    verdictOf(page)
      .getByText(/Have it sink slowly at loss/)
      .first(),
  ).toBeVisible()
  await act(page, 'Write it to the board').click()
  await expect(page.getByText(/spoiled by entry \d+/).first()).toBeVisible({ timeout: 40_000 })
  await comparedAgain(page)
  await losses()
  await passes(page)
  await expect(page.getByRole('img', { name: /acts from/ }).first()).toBeVisible()
})

test(
  'failsafe: it levels itself, lets go of its sticks, obeys its switch, and flies on with throttle down',
  { tag: '@phone' },
  async ({ page }, info) => {
    test.setTimeout(240_000)
    await onTheBench(page, info)
    const { levels, waits, bySwitch, cuts } = await failsafeAt(page, chosen(info).bench)
    for (const walk of [levels, waits, bySwitch, cuts]) {
      await walk()
      await passes(page)
    }
  },
)

test('failsafe: the final form, on the battery alone, by what is seen and by the log of the board', async ({ page }, info) => {
  test.setTimeout(180_000)
  await onTheBench(page, info)
  const { alone, ended } = await failsafeAt(page, chosen(info).bench)
  await alone()
  const answers = ['all stood', 'motors turned', 'all stood at once', 'turned on, then all stood', 'all stood']
  const items = page.getByRole('region', { name: 'List' }).last().locator('[data-item]')
  await expect(items.first()).toBeVisible({ timeout: 40_000 })
  for (const [i, item] of (await items.all()).entries())
    await item.getByRole('button', { name: answers[i] ?? '', exact: true }).click()
  await act(page, 'Go on with these answers').last().click()
  await ended()
  await passes(page)
})

test(
  'hover proof: carried out, flown on its battery, and read from the log of the board',
  { tag: '@phone' },
  async ({ page }, info) => {
    test.setTimeout(180_000)
    await onTheBench(page, info)
    const { hop } = await hoverAt(page, chosen(info).bench)
    await hop()
    await passes(page)
    await expect(page.getByRole('img', { name: /armed from/ }).first()).toBeVisible()
  },
)

test('handover: what is open is closed, two sign, and the paper agrees with the record', async ({ page }, info) => {
  await enter(page, 'ines')
  await openCard(page, chosen(info).tag)
  await check(page, /Handover/)
  await expect(page.getByText('Handover, not yet signed')).toBeVisible()
  // What the stations left to be put back is in the way of the signature until it is closed; what the wide screen takes leaves nothing.
  const signAsTechnician = async () => {
    await page.getByLabel('Password').last().fill('saltmarsh')
    await act(page, 'Sign as technician').click()
  }
  await signAsTechnician()
  if (info.project.name === 'phone') {
    await expect(page.getByText(/^Still open: Take the flags of tape off the motors/)).toBeVisible()
    const close = page.getByRole('button', { name: /^Close entry \d+$/ })
    for (let left = await close.count(); left > 0; left--) {
      await close.first().click()
      await page.getByLabel(/What was (done|found)/).fill('Done, looked at twice.')
      await act(page, 'It is done').click()
      await expect(page.getByLabel(/What was (done|found)/)).toHaveCount(0)
      await expect(close).toHaveCount(left - 1)
    }
    await signAsTechnician()
  }
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
