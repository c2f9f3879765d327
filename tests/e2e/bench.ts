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

/** A hand at the simulated bench, by the drawer. */
export const hand = async (page: Page, what: string) => {
  if ((await act(page, 'Simulated hands').count()) > 0) await act(page, 'Simulated hands').last().click()
  await act(page, what).last().click()
}

/** The process of a part of the application under test. */
export const processOf = (part: 'rig' | 'server'): number => {
  const line = execFileSync('ps', ['-eo', 'pid,ppid,args'], { encoding: 'utf8' })
    .split('\n')
    .find((l) => l.includes(`apps/${part}/src/main.ts`) && l.trim().split(/\s+/)[1] === process.env.TARAF_SUPERVISOR)
  return Number(line?.trim().split(/\s+/)[0])
}
