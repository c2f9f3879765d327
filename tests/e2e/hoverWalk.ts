import { expect, type Page } from '@playwright/test'
import { act, answerList, hurry, motorsState, pause, take, toCheck } from './bench'
import { arm, battery, handsAt, throttle } from './handsAt'

/** The station Hover proof, flown by somebody at the hands of a simulated bench. */
export const hoverAt = async (page: Page, bench: string) => {
  const { hands, asked, look } = await handsAt(page, bench)
  const height = async () => ((await look()) as unknown as { heightM: number }).heightM

  /** Carried out with its props on, and what must be so is answered; `not` names what is not. */
  const list = async (not: readonly string[] = []) => {
    await toCheck(page, /Hop/)
    await hurry(page, bench)
    await expect(motorsState(page)).toHaveText('still', { timeout: 15_000 })
    await hands({ act: 'transmitter', on: true }, throttle(-1), arm(0), battery('none'))
    await take(page)
    await asked(/Carry it to a clear place/)
    await hands({ act: 'put out' }, { act: 'props', on: true }, { act: 'nuts', on: true })
    await hands({ act: 'switch', name: 'B', to: 0 }, battery('pack'))
    await expect(page.getByRole('region', { name: 'List' }).last().locator('[data-item]')).toHaveCount(3, { timeout: 20_000 })
    await answerList(page, {}, not)
    await act(page, 'Go on with these answers').last().click()
  }

  /** Flown once all is so, and read with the cable in again. */
  const hop = async () => {
    await list()
    await asked(/Pull the cable, and go ten metres back/)
    await hands({ act: 'cable', in: false })
    await asked(/The cable is out/)
    await pause(page, 1_000)
    await hands(arm(1))
    await pause(page, 1_000)
    await hands({ act: 'hop' })
    await pause(page, 5_000)
    // It is down once it was up, or never came up.
    await expect.poll(height, { timeout: 40_000, intervals: [1_000] }).toBeLessThan(0.03)
    await pause(page, 2_500)
    await hands(throttle(-1), arm(0))
    await pause(page, 600)
    await hands({ act: 'cable', in: true })
    await asked(/Then props and nuts off/)
    await hands(arm(0), battery('none'), { act: 'props', on: false }, { act: 'nuts', on: false }, { act: 'lay', way: 'forward' })
  }
  return { hop, list, hands }
}
