import { expect, type Page } from '@playwright/test'
import { confirmPropsOff, hurry, motorsState, pause, take, toCheck } from './bench'
import { arm, battery, handsAt, throttle } from './handsAt'

const radio = (on: boolean) => ({ act: 'transmitter', on })
const lead = (isIn: boolean) => ({ act: 'receiver lead', in: isIn })

/** The station Failsafe, walked by somebody at the hands of a simulated bench: every loss of the plan of a type with two modes. */
export const failsafeAt = async (page: Page, bench: string) => {
  const { hands, asked } = await handsAt(page, bench)
  const armed = async (mode: RegExp, position: number) => {
    await asked(mode)
    await hands(throttle(-1), arm(0), { act: 'switch', name: 'B', to: position })
    await pause(page, 600)
    await hands(arm(1))
  }
  /** One loss: throttle somewhere, the signal gone, and back a moment after the step says so. */
  const lost = async (at: RegExp, to: number, gone: object, says: RegExp, back: object) => {
    await asked(at)
    await hands(throttle(to))
    await pause(page, 700)
    await hands(gone)
    await asked(says)
    await pause(page, 1_200)
    await hands(back)
  }

  const begun = async (check: RegExp) => {
    await toCheck(page, check)
    await hurry(page, bench)
    // Nobody takes a prop off what still turns.
    await expect(motorsState(page)).toHaveText('still', { timeout: 15_000 })
    await hands(radio(true), lead(true), { act: 'lay', way: 'forward' }, throttle(-1), arm(0))
    await hands({ act: 'props', on: false }, { act: 'nuts', on: false })
    await hands(battery('none'), battery('pack'))
    await confirmPropsOff(page)
    await take(page)
  }
  const ended = async () => {
    await asked(/battery out/)
    await hands({ act: 'lay', way: 'forward' }, throttle(-1), arm(0), { act: 'switch', name: 'B', to: 0 }, battery('none'))
  }

  const losses = async () => {
    await begun(/Loss of signal/)
    await armed(/mode self-level\. Then put the arm switch on/, 0)
    await lost(/just over the middle\. Then switch the transmitter off/, 0.05, radio(false), /It acts/, radio(true))
    await armed(/mode rate\. Then put the arm switch on/, 2)
    await lost(/just over the middle\. Then pull the lead/, 0.05, lead(false), /It acts/, lead(true))
    await armed(/mode self-level\. Then put the arm switch on/, 0)
    await lost(/Throttle down\. Then switch the transmitter off/, -1, radio(false), /It is disarmed/, radio(true))
    await lost(/Leave it disarmed/, 0.05, radio(false), /The board knows/, radio(true))
    await ended()
  }
  const levels = async (look: () => Promise<void> = async () => {}) => {
    await begun(/Levels itself/)
    await armed(/mode rate\. Then put the arm switch on/, 2)
    const held = async (at: RegExp, rollDeg: number, pitchDeg: number) => {
      await asked(at)
      await hands(throttle(-1), { act: 'tilt', rollDeg, pitchDeg, yawDeg: 0 })
      await pause(page, 1_700)
      await hands(throttle(0.05))
      await pause(page, 500)
      await hands(radio(false))
      await asked(/It acts/)
      await look()
      await pause(page, 1_200)
      await hands(radio(true))
    }
    await held(/its right side down by about 20 deg/, 20, 0)
    await held(/its nose up by about 20 deg/, 0, 20)
    await ended()
  }

  /** Once without a fix and once with one, on a type with three modes on one switch. */
  const comesHome = async () => {
    await begun(/Return home/)
    const home = async () => {
      await hands(throttle(-1), arm(0), { act: 'switch', name: 'B', to: 2 })
      await pause(page, 600)
      await hands(arm(1))
      await asked(/Then put the switch of return home on/)
      await hands(throttle(0.05))
      await pause(page, 700)
      await hands({ act: 'switch', name: 'B', to: 1 })
      await pause(page, 2_300)
      await hands({ act: 'switch', name: 'B', to: 2 })
    }
    await asked(/until the fix is gone/)
    await hands({ act: 'sky', open: false })
    await expect(page.getByText(/No fix/).last()).toBeVisible({ timeout: 40_000 })
    await home()
    // Nothing may be armed while it is carried and waits.
    await asked(/Arm switch off, throttle down|Bring it under open sky/)
    await hands(throttle(-1), arm(0))
    await asked(/Bring it under open sky/)
    await expect(page.getByText(/No fix/).last()).toBeVisible()
    await hands({ act: 'sky', open: true })
    await asked(/mode rate\. Then put the arm switch on/)
    await home()
    await ended()
  }

  const stick = (name: string, to: number) => ({ act: 'stick', stick: name, to })
  const waits = async () => {
    await begun(/While it waits/)
    await armed(/mode rate\. Then put the arm switch on/, 2)
    const held = async (at: RegExp, sticks: readonly string[], more: readonly object[]) => {
      await asked(at)
      await hands(throttle(0.05))
      await pause(page, 500)
      await hands(...sticks.map((name) => stick(name, 0.15)))
      await pause(page, 300)
      await hands(radio(false))
      await asked(/It acts/)
      await hands(...sticks.map((name) => stick(name, 0)), ...more)
      await pause(page, 1_000)
      await hands(radio(true))
    }
    await held(/Hold roll a little to the right/, ['roll', 'pitch'], [{ act: 'switch', name: 'B', to: 0 }])
    await held(/Hold yaw a little to the right/, ['yaw'], [])
    await asked(/for a blink/)
    await pause(page, 500)
    await hands(throttle(0.05), { act: 'block signal', seconds: 0.4 })
    await ended()
  }

  const bySwitch = async () => {
    await begun(/Failsafe by switch/)
    await armed(/mode self-level\. Then put the arm switch on/, 0)
    for (const [at, position] of [
      [/Mode self-level/, 0],
      [/Mode rate/, 2],
    ] as const) {
      await asked(at)
      await hands({ act: 'switch', name: 'B', to: position }, throttle(0.05))
      await pause(page, 700)
      await hands({ act: 'switch', name: 'D', to: 1 })
      await asked(/It acts/)
      await pause(page, 1_000)
      await hands({ act: 'switch', name: 'D', to: 0 })
    }
    await ended()
  }

  const cuts = async () => {
    await begun(/Throttle down in flight/)
    await armed(/mode rate\. Then put the arm switch on/, 2)
    await asked(/Throttle just over the middle for two seconds|throttle over the middle/)
    await hands(throttle(0.05))
    await pause(page, 1_800)
    await hands(throttle(-1))
    await ended()
  }

  /** Everything that is done without the cable; what it showed is said by the caller. */
  const alone = async (look: () => Promise<void> = async () => {}) => {
    await begun(/Final form/)
    await asked(/Pull the cable/)
    await hands({ act: 'cable', in: false })
    await asked(/The cable is out/)
    await look()
    for (const [what, ms] of [
      [throttle(0.05), 600],
      [arm(1), 800],
      [arm(0), 600],
      [throttle(-1), 600],
      [arm(1), 1_200],
      [arm(0), 800],
      [arm(1), 800],
      [throttle(0.05), 600],
      [radio(false), 11_500],
      [radio(true), 2_500],
      [throttle(-1), 400],
      [arm(0), 400],
    ] as const) {
      await hands(what)
      await pause(page, ms)
    }
    await hands({ act: 'cable', in: true })
  }
  return { losses, levels, comesHome, waits, bySwitch, cuts, alone, ended, hands }
}
