import { execFileSync } from 'node:child_process'
import { expect, type Page } from '@playwright/test'

export const passwords = { ines: 'saltmarsh', joren: 'dunegrass', maud: 'springtide', piet: 'oystercatcher' } as const
export type Login = keyof typeof passwords

export const signIn = async (page: Page, login: Login) => {
  await page.goto('/')
  await page.getByLabel('Name').fill(login)
  await page.getByLabel('Password').fill(passwords[login])
  await page.getByRole('button', { name: 'Sign in' }).click()
  await expect(page.getByText('Airframes', { exact: true })).toBeVisible()
}

export const act = (page: Page, name: string) => page.getByRole('button', { name, exact: true })

/** Opens, or goes on with, the job card of an airframe. */
export const openCard = async (page: Page, tag: string) => {
  await page.goto(`/airframes/${tag}`)
  await page.getByRole('button', { name: /^(Open a job card|Go on with job card)/ }).click()
  await expect(page.getByText(/^Job card \d/).last()).toBeVisible()
}

export const link = async (page: Page, bench: string) => {
  await act(page, `Link ${bench}`).click()
  await expect(page.locator('[data-watch=link]').last()).toHaveText('up')
}

export const letGo = (page: Page) => act(page, 'Let go').click()

/** Shows a section of the hands' drawer. */
export const showHands = async (page: Page, section: 'Hold' | 'Power' | 'Radio' | 'Parts' | 'Look') => {
  if ((await act(page, 'Simulated hands').count()) > 0) await act(page, 'Simulated hands').last().click()
  await act(page, `Hands: ${section}`).click()
}

/** A hand at the simulated bench, by the drawer; nothing where it is done already and that may be. */
export const hand = async (page: Page, what: string, mayBeDone = false) => {
  if ((await act(page, 'Simulated hands').count()) > 0) await act(page, 'Simulated hands').last().click()
  if (mayBeDone && (await act(page, what).count()) === 0) return
  await act(page, what).last().click()
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
    const so = item.getByRole('button', { name: not.includes(id) ? 'It is not' : 'It is so', exact: true })
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
