import { expect, type Page } from '@playwright/test'
import { asks } from './bench'

export const throttle = (to: number) => ({ act: 'stick', stick: 'throttle', to })
export const arm = (to: number) => ({ act: 'switch', name: 'A', to })
export const battery = (source: string) => ({ act: 'battery', source })

/** The hands of a simulated bench, as its API takes them, and what a running take asks for. */
export const handsAt = async (page: Page, bench: string) => {
  const benches = (await (await page.request.get('/api/benches')).json()) as { id: string; name: string }[]
  const id = benches.find((b) => b.name === bench)?.id ?? ''
  const hands = async (...acts: object[]) => {
    for (const data of acts) expect((await page.request.post(`/api/hands/${id}`, { data })).ok()).toBe(true)
  }
  const look = async () => (await (await page.request.get(`/api/hands/${id}`)).json()) as { meter: { volts: number } }
  const asked = (words: RegExp) => expect(asks(page)).toContainText(words, { timeout: 40_000 })
  return { hands, look, asked }
}
