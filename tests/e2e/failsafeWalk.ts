import type { Page } from '@playwright/test'
import { confirmPropsOff, take, toCheck } from './bench'
import { arm, battery, handsAt, throttle } from './handsAt'

const radio = (on: boolean) => ({ act: 'transmitter', on })
const lead = (isIn: boolean) => ({ act: 'receiver lead', in: isIn })

/** The station Failsafe, walked by somebody at the hands of a simulated bench: every loss of the plan of a type with two modes. */
export const failsafeAt = async (page: Page, bench: string) => {
  const { hands, asked } = await handsAt(page, bench)
  const armed = async (mode: RegExp, position: number) => {
    await asked(mode)
    await hands(throttle(-1), arm(0), { act: 'switch', name: 'B', to: position })
    await page.waitForTimeout(600)
    await hands(arm(1))
  }
  /** One loss: throttle somewhere, the signal gone, and back a moment after the step says so. */
  const lost = async (at: RegExp, to: number, gone: object, says: RegExp, back: object) => {
    await asked(at)
    await hands(throttle(to))
    await page.waitForTimeout(700)
    await hands(gone)
    await asked(says)
    await page.waitForTimeout(1_200)
    await hands(back)
  }

  const losses = async () => {
    await toCheck(page, /Loss of signal/)
    await hands(radio(true), lead(true), { act: 'lay', way: 'forward' }, throttle(-1), arm(0))
    await hands({ act: 'props', on: false }, { act: 'nuts', on: false })
    await hands(battery('none'), battery('pack'))
    await confirmPropsOff(page)
    await take(page)
    await armed(/mode self-level\. Then put the arm switch on/, 0)
    await lost(/just over the middle\. Then switch the transmitter off/, 0.05, radio(false), /It acts/, radio(true))
    await armed(/mode rate\. Then put the arm switch on/, 2)
    await lost(/just over the middle\. Then pull the lead/, 0.05, lead(false), /It acts/, lead(true))
    await armed(/mode self-level\. Then put the arm switch on/, 0)
    await lost(/Throttle down\. Then switch the transmitter off/, -1, radio(false), /It is disarmed/, radio(true))
    await lost(/Leave it disarmed/, 0.05, radio(false), /The board knows/, radio(true))
    await asked(/battery out/)
    await hands(throttle(-1), arm(0), battery('none'))
  }
  return { losses, hands }
}
