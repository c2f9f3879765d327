import { expect, type Page } from '@playwright/test'
import { act, asks, confirmPropsOff, hurry, pause, take, toCheck, verdictIs } from './bench'
import { arm, battery, handsAt, throttle } from './handsAt'

const level = { act: 'lay', way: 'forward' }
const tilt = (rollDeg: number, pitchDeg: number) => ({ act: 'tilt', rollDeg, pitchDeg, yawDeg: 0, dragged: true })
const range = (from: number, to: number, by: number) =>
  Array.from({ length: Math.round(Math.abs(to - from) / by) + 1 }, (_, i) => from + Math.sign(to - from) * i * by)
const fullestCell = 4.4

/** The station Arming, walked by somebody at the hands of a simulated bench. */
export const armingAt = async (page: Page, bench: string) => {
  const { hands, look, asked } = await handsAt(page, bench)
  const ready = async () => {
    await hurry(page, bench)
    await hands({ act: 'transmitter', on: true }, level, throttle(-1), arm(0), { act: 'stick', stick: 'yaw', to: 0 })
    await hands({ act: 'props', on: false }, { act: 'nuts', on: false }, battery('none'), battery('pack'))
    await confirmPropsOff(page)
  }
  const approach = async (acts: readonly object[]) => {
    for (const one of acts) {
      if (/would refuse/.test((await asks(page).textContent()) ?? '')) return
      await hands(one)
      await pause(page, 250)
    }
    await asked(/would refuse/)
  }
  const armed = async () => {
    await asked(/put the arm switch on/)
    await hands({ act: 'stick', stick: 'yaw', to: 0 }, throttle(-1), arm(0))
    await pause(page, 500)
    await hands(arm(1))
  }

  const mustRefuse = async () => {
    await toCheck(page, /Must refuse/)
    await ready()
    const { meter } = await look()
    const cells = Math.ceil(meter.volts / fullestCell)
    await take(page)
    await asked(/throttle up in small steps/)
    await approach(range(-1, -0.6, 0.01).map(throttle))
    await hands(throttle(-0.5), arm(1))
    await asked(/Leave the arm switch on\. Bring throttle down/)
    await hands(throttle(-0.8), throttle(-1))
    for (const [words, roll, pitch] of [
      [/right side down, slowly/, 1, 0],
      [/left side down, slowly/, -1, 0],
      [/nose up, slowly/, 0, 1],
      [/nose down, slowly/, 0, -1],
    ] as const) {
      await asked(words)
      await hands(arm(0), throttle(-1), tilt(4 * roll, 4 * pitch))
      await pause(page, 1_400)
      await approach(range(6, 40, 2).map((deg) => tilt(deg * roll, deg * pitch)))
      await hands(tilt(30 * roll, 30 * pitch))
      await pause(page, 700)
      await hands(arm(1))
    }
    await asked(/has no measured values/)
    await hands(arm(0), level)
    await pause(page, 1_600)
    await hands(arm(1))
    await asked(/switch the transmitter off/)
    await hands(arm(0))
    await pause(page, 300)
    await hands({ act: 'transmitter', on: false })
    await asked(/would refuse/)
    await hands(arm(1))
    await pause(page, 600)
    await hands({ act: 'transmitter', on: true })
    await asked(/Battery out, cable out/)
    await hands(battery('none'), { act: 'cable', in: false }, arm(1))
    await pause(page, 600)
    await hands(battery('pack'), { act: 'cable', in: true })
    await asked(/Leave the arm switch on/)
    await confirmPropsOff(page)
    await asked(/Battery out\./)
    await hands(arm(0), battery('none'))
    await asked(/voltage of a full pack/)
    await hands({ act: 'supply', volts: 4.1 * cells }, battery('supply'))
    await confirmPropsOff(page)
    await asked(/turn the supply down/)
    await approach(range(4.05, 3.1, 0.025).map((cell) => ({ act: 'supply', volts: cell * cells })))
    await hands(arm(1))
    await asked(/Take the battery or the supply out/)
    await hands(arm(0), battery('none'))
    await verdictIs(page, 'pass', 40_000)
    await expect(page.getByText('Battery low: refuses from').first()).toBeVisible()
  }

  const mustArm = async () => {
    await toCheck(page, /Must arm/)
    await ready()
    await take(page)
    await armed()
    await expect(act(page, 'steady').last()).toBeVisible({ timeout: 10_000 })
    await act(page, 'steady').last().click()
    await act(page, 'Go on with these answers').last().click()
    await verdictIs(page, 'pass', 40_000)
  }

  const mustDisarm = async () => {
    await toCheck(page, /Must disarm/)
    await ready()
    await take(page)
    await armed()
    await asked(/Hold yaw fully to the left for two seconds/)
    await hands(throttle(0.05), { act: 'stick', stick: 'yaw', to: -1 })
    await pause(page, 2_000)
    await hands({ act: 'stick', stick: 'yaw', to: 0 })
    await pause(page, 400)
    await hands(arm(0))
    await armed()
    await asked(/stick of yaw to the left/)
    await hands({ act: 'stick', stick: 'yaw', to: -1 })
    await armed()
    await asked(/Press Stop all/)
    await act(page, 'Stop all').last().click()
    await armed()
    await asked(/hands off the sticks/)
    await verdictIs(page, 'pass', 30_000)
  }

  /** Armed for the check of idle, until it has been looked at. */
  const idles = async () => {
    await toCheck(page, /Idle/)
    await ready()
    await take(page)
    await armed()
  }
  const done = () => hands(level, throttle(-1), arm(0), battery('none'), { act: 'transmitter', on: false })
  return { mustRefuse, mustArm, mustDisarm, idles, done }
}
