import { execFileSync } from 'node:child_process'
import { randomUUID } from 'node:crypto'
import { expect as ofPlaywright, request, test as base, type APIRequestContext, type Locator, type Page } from '@playwright/test'

export const passwords = { ines: 'saltmarsh', joren: 'dunegrass', maud: 'springtide', piet: 'oystercatcher' } as const
export type Login = keyof typeof passwords

const seen = async (
  { isNot, timeout }: { isNot: boolean; timeout: number },
  locator: Locator,
  wanted: 'visible' | 'hidden',
  options: { timeout?: number } = {},
) => {
  const other = wanted === 'visible' ? 'hidden' : 'visible'
  try {
    await locator.waitFor({ state: isNot ? other : wanted, timeout: options.timeout ?? timeout })
    return { pass: !isNot, message: () => '' }
  } catch (error) {
    return { pass: isNot, message: () => `${String(locator)} is not ${isNot ? other : wanted}: ${String(error)}` }
  }
}

/**
 * Playwright's own `toBeVisible` describes the whole page each time that it looks in vain: a tenth of a second or more of the page's time, over
 * which a press lapses. This one only looks.
 */
export const expect = ofPlaywright.extend({
  toBeVisible(locator: Locator, options?: { timeout?: number }) {
    return seen(this, locator, 'visible', options)
  },
  toBeHidden(locator: Locator, options?: { timeout?: number }) {
    return seen(this, locator, 'hidden', options)
  },
})

/** Runs on a page: draws what is live a few times a second, as a slow device does. Each frame takes time from the boards beside it. */
const drawSeldom = (everyMs: number) => {
  const draw = globalThis.requestAnimationFrame.bind(globalThis)
  const wanted = new Map<number, FrameRequestCallback>()
  let handle = 0
  const frame = (now: number) => {
    const all = [...wanted.values()]
    wanted.clear()
    for (const callback of all) callback(now)
  }
  globalThis.requestAnimationFrame = (callback) => {
    if (wanted.size === 0) setTimeout(() => draw(frame), everyMs)
    wanted.set((handle += 1), callback)
    return handle
  }
  globalThis.cancelAnimationFrame = (which) => void wanted.delete(Number(which))
}

/** A test leaves the benches as it would find them: held by nobody, and after a failure as at the start of a day. */
export const test = base.extend<{ shop: undefined }>({
  context: async ({ context }, use) => {
    await context.addInitScript(drawSeldom, 100)
    await use(context)
  },
  shop: [
    async ({ playwright, baseURL }, use, info) => {
      await use(undefined)
      const request = await playwright.request.newContext({ ...(baseURL === undefined ? {} : { baseURL }) })
      // A server that was ended is waited for.
      await expect(() => freeBenches(request, info.status !== info.expectedStatus)).toPass({ timeout: 20_000 })
      await request.dispose()
    },
    { auto: true },
  ],
})

const freeBenches = async (request: APIRequestContext, tidy: boolean) => {
  const failOnStatusCode = true
  await request.post('/api/session', { data: { login: 'maud', password: passwords.maud }, failOnStatusCode })
  const benches = (await (await request.get('/api/benches')).json()) as { id: string; heldBy: object | null }[]
  for (const { id, heldBy } of benches) {
    if (tidy) {
      const { transmitter } = (await (await request.get(`/api/hands/${id}`)).json()) as {
        transmitter: { sticks: object; switches: readonly { name: string }[] }
      }
      for (const act of [
        { act: 'battery', source: 'none' },
        { act: 'cable', in: true },
        // A stick held over, or a switch left on, keeps the board from arming at the next try.
        ...Object.keys(transmitter.sticks).map((stick) => ({ act: 'stick', stick, to: stick === 'throttle' ? -1 : 0 })),
        ...transmitter.switches.map(({ name }) => ({ act: 'switch', name, to: 0 })),
        { act: 'transmitter', on: false },
      ])
        await request.post(`/api/hands/${id}`, { data: act })
    }
    await request.post(`/api/hands/${id}`, { data: { act: 'pace', times: 1 } })
    const headers = { 'idempotency-key': randomUUID() }
    if (heldBy !== null) await request.delete(`/api/benches/${id}/hold`, { data: {}, headers, failOnStatusCode })
  }
}

export const signIn = async (page: Page, login: Login) => {
  await page.goto('/')
  await page.getByLabel('Name').fill(login)
  await page.getByLabel('Password').fill(passwords[login])
  await page.getByRole('button', { name: 'Sign in' }).click()
  await expect(page.getByRole('region', { name: 'On the benches' })).toBeVisible()
}

/** Signs in without the form, where the test begins on another page. */
export const enter = async (page: Page, login: Login) => {
  expect((await page.request.post('/api/session', { data: { login, password: passwords[login] } })).ok()).toBe(true)
}

/** Goes to a place of the shop: in the top line, or in the bar of a phone. */
export const place = (page: Page, name: 'Today' | 'Airframes' | 'Sheets' | 'Batch notes' | 'Faults') =>
  page.getByRole('navigation', { name: 'The shop' }).getByRole('link', { name, exact: true }).click()

/** Goes to another view as the application itself does, which is there already: loading it again takes a second or two. */
export const goWithin = (page: Page, path: string) =>
  page.evaluate((to) => {
    history.pushState(null, '', to)
    dispatchEvent(new PopStateEvent('popstate', { state: null }))
  }, path)

export const toCard = (page: Page) => page.getByRole('link', { name: 'Job card', exact: true }).click()

/** Goes to a check of the card: by the marks of the whole card, which has them all. */
export const toCheck = async (page: Page, name: RegExp) => {
  await toCard(page)
  await page.getByRole('list', { name: 'Stations' }).getByRole('link', { name }).click()
}

export const act = (page: Page, name: string) => page.getByRole('button', { name, exact: true })

/** Takes a check, for the first time or again. */
export const take = (page: Page) =>
  page
    .getByRole('button', { name: /^(Start|Run again|Finish)$/ })
    .last()
    .click()

/** Opens, or goes on with, the job card of an airframe. */
export const openCard = async (page: Page, tag: string) => {
  await page.goto(`/airframes/${tag}`)
  await page.getByRole('button', { name: /^(Open a job card|Go on with job card)/ }).click()
  await expect(page.getByText(/^Job card \d/).last()).toBeVisible()
}

/** Sets checks of the card in hand aside, as the lead may; all that are open where none are named, but for one. */
export const setAside = async (page: Page, which: readonly string[] | { readonly allBut: readonly string[] }) => {
  const { origin: baseURL, pathname } = new URL(page.url())
  const job = pathname.split('/')[2] ?? ''
  const lead = await request.newContext({ baseURL })
  const post = (path: string, data: object) => {
    const headers = { 'idempotency-key': randomUUID(), origin: baseURL }
    return lead.post(`/api${path}`, { data, headers, failOnStatusCode: true })
  }
  await post('/session', { login: 'maud', password: passwords.maud })
  const { standings } = (await (await lead.get(`/api/jobs/${job}`)).json()) as { standings: Record<string, { state: string }> }
  const checks =
    'allBut' in which
      ? Object.entries(standings).flatMap(([check, { state }]) =>
          !which.allBut.includes(check) && ['open', 'fail', 'stale'].includes(state) ? [check] : [],
        )
      : which
  for (const check of checks) await post(`/jobs/${job}/asides`, { check, reason: 'looked at on another day' })
  await lead.dispose()
}

export const link = async (page: Page, bench: string) => {
  await act(page, `Link ${bench}`).click()
  await expect(page.locator('[data-watch=link]').last()).toHaveText('up')
}

export const letGo = (page: Page) => act(page, 'Let go').click()

const openHands = async (page: Page) => {
  const [closed, open] = [act(page, 'Simulated hands'), act(page, 'Hide the hands')]
  await expect(closed.or(open).last()).toBeVisible()
  if ((await open.count()) > 0) return
  await closed.last().click()
  await expect(open.last()).toBeVisible()
}

/** Shows a section of the hands' drawer. */
export const showHands = async (page: Page, section: 'Frame' | 'Power' | 'Radio' | 'Parts' | 'Look') => {
  await openHands(page)
  const tab = act(page, `Hands: ${section}`)
  // What stands above the drawer may grow as a finger comes down: it is pressed again.
  await expect(async () => {
    await tab.click()
    await expect(tab).toHaveAttribute('aria-pressed', 'true', { timeout: 1_000 })
  }).toPass({ timeout: 20_000 })
}

/** A hand at the simulated bench, by the drawer; nothing where it is `done` already, as the drawer's other button says. */
export const hand = async (page: Page, what: string, done?: string) => {
  await openHands(page)
  if (done !== undefined) {
    await expect(act(page, what).or(act(page, done)).last()).toBeVisible()
    if ((await act(page, done).count()) > 0) return
  }
  await act(page, what).last().click()
  if (done !== undefined) await expect(act(page, done).last()).toBeVisible()
}

/** How fast the clock of a bench runs in these tests while nothing may turn; and while its board is armed, where it runs no faster (`RigBench`). */
export const hurried = 8
const armedPace = 3

/** Waits for so long by the clock of a bench that is hurried while its board is armed. */
export const pause = (page: Page, ms: number) => page.waitForTimeout(ms / armedPace)

/** Lets the clock of a bench run faster: what is measured over minutes is measured over as much of the board's time, and waited for less. */
export const hurry = async (page: Page, bench: string, times = hurried) => {
  const benches = (await (await page.request.get('/api/benches')).json()) as { id: string; name: string }[]
  const id = benches.find((b) => b.name === bench)?.id ?? ''
  expect((await page.request.post(`/api/hands/${id}`, { data: { act: 'pace', times } })).ok()).toBe(true)
}

/** A pointer that stays down on a round control until `letUp`. */
export const holdDown = async (page: Page, name: string) => {
  await page.mouse.up()
  const control = act(page, name).last()
  await control.scrollIntoViewIfNeeded()
  await control.hover()
  await page.mouse.down()
}
export const letUp = (page: Page) => page.mouse.up()

/** Holds the control under which props are confirmed off, again where the link was away for a moment and took it with it. */
export const confirmPropsOff = async (page: Page) => {
  const props = page.locator('[data-watch=props]').last()
  await expect(props).toHaveText('not confirmed')
  await expect(async () => {
    if ((await props.textContent()) === 'off') return
    await holdDown(page, 'Hold: props off, nuts off')
    await expect(props).toHaveText('off', { timeout: 5_000 })
  }).toPass({ timeout: 40_000 })
  await letUp(page)
}

/** The process of a part of the application under test. */
export const processOf = (part: 'rig' | 'server'): number => {
  const line = execFileSync('ps', ['-eo', 'pid,ppid,args'], { encoding: 'utf8' })
    .split('\n')
    .find((l) => l.includes(`apps/${part}/src/main.ts`) && l.trim().split(/\s+/)[1] === process.env.TARAF_SUPERVISOR)
  return Number(line?.trim().split(/\s+/)[0])
}

/** Answers a list as somebody does who finds all as it should be; `read` says what is read where a text is wanted. */
export const answerList = async (page: Page, read: Readonly<Record<string, string>> = {}, not: readonly string[] = []) => {
  const items = page.getByRole('region', { name: 'List' }).last().locator('[data-item]')
  await expect(items.first()).toBeVisible()
  for (const item of await items.all()) {
    const id = (await item.getAttribute('data-item')) ?? ''
    const so = item.getByRole('button', { name: not.includes(id) ? 'No' : 'Yes', exact: true })
    const which = item.getByRole('group', { name: 'Which' })
    if ((await so.count()) > 0) await so.click()
    else if ((await which.count()) > 0) await which.getByRole('button').first().click()
    else await item.getByRole('textbox').fill(read[id] ?? '1.2')
  }
}

/** A file that is chosen once something asks for one. */
export const giveFile = async (page: Page, name: string, text: string | Buffer, ask: () => Promise<void>) => {
  const chooser = page.waitForEvent('filechooser')
  await ask()
  await (await chooser).setFiles({ name, mimeType: 'application/octet-stream', buffer: Buffer.from(text) })
}

export const verdictOf = (page: Page) => page.getByRole('region', { name: 'Verdict' }).last()
export const motorsState = (page: Page) => page.locator('[data-watch=motors]').last()
export const asks = (page: Page) => page.locator('[data-guide=ask]').last()
export const holding = 'Hold to turn the motors'

/** A machine that pauses for a moment lets a press lapse: motors that stand for so long while the button is down are not held any more. */
const lapsedMs = 4_000

/** Holds the button down, again where its press lapsed, until what is waited for is there; then lets go, and all stand. */
export const heldUntil = async (page: Page, isThere: () => Promise<void>) => {
  const control = page.getByRole('button', { name: holding }).last()
  await expect(control).toBeVisible({ timeout: 10_000 })
  await expect(async () => {
    // The motors stood because the take is over: nothing is left to hold.
    if (!(await control.isVisible())) return isThere()
    await holdDown(page, holding)
    let isOver = false
    const there = isThere().finally(() => (isOver = true))
    // Whoever comes second is not waited for.
    there.catch(() => {})
    const lapsed = async () => {
      for (let since = Date.now(); !isOver; await page.waitForTimeout(250)) {
        if ((await motorsState(page).textContent()) !== 'still') since = Date.now()
        if (Date.now() - since > lapsedMs) throw new Error('the press lapsed')
      }
    }
    await Promise.race([there, lapsed().then(() => there)]).finally(() => (isOver = true))
  }).toPass({ timeout: 150_000 })
  await letUp(page)
  await expect(motorsState(page)).toHaveText('still', { timeout: 8_000 })
}
export const verdictIs = (page: Page, word: string, timeout: number) =>
  expect(verdictOf(page).getByText(word, { exact: true }).first()).toBeVisible({ timeout })
