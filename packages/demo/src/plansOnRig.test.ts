import type { Settings, Sheet } from '@taraf/contract'
import { checks, isNeeded } from '@taraf/core'
import { actOn, Rig, soundAirframe, soundSettings } from '@taraf/rig'
import { takenOn, wrongIn } from '../tests/heardRig'
import { drawnAt } from './draw'
import { demoShop, sheetOf } from './rigs'

jest.setTimeout(300_000)

/** An airframe that is built as a sheet says which differs in a few settings from that of its type. */
const builtAs = (type: string, settings: Settings): { rig: Rig; sheet: Sheet } => {
  const from = sheetOf(type)
  const sheet = { ...from, settings: { ...from.settings, ...settings } }
  const rig = new Rig({ seed: 3, airframe: soundAirframe(sheet, 'FB-1', 11, demoShop(drawnAt)), settings: soundSettings(sheet) })
  rig.skip(3)
  actOn(rig, { act: 'transmitter', on: true })
  rig.skip(3)
  return { rig, sheet }
}

// What a sheet may plan differently from most do: whoever builds it so has built it right.
const noSoftness = Object.fromEntries(['roll', 'pitch', 'yaw'].map((axis) => [`curve.${axis}.soft`, 0]))
test.each([
  ['goes on by the last sticks while it waits', { 'loss.hold': 0 }],
  ['acts for two minutes before it stops its motors', { 'loss.end': 120 }],
  ['arms at any tilt', { 'arm.tiltMost': 180 }],
  ['arms up to a tilt that no hand holds level', { 'arm.tiltMost': 90 }],
  ['has stick curves without softness', noSoftness],
])('one that %s passes the stations Arming and Failsafe', async (_words, settings: Settings) => {
  for (const type of ['N4', 'H6']) {
    const { rig, sheet } = builtAs(type, settings)
    for (const check of checks.filter((c) => ['arming', 'failsafe'].includes(c.station) && isNeeded(c, sheet)))
      expect({ type, check: check.id, wrong: wrongIn(await takenOn(rig, check, sheet)) }).toEqual({
        type,
        check: check.id,
        wrong: [],
      })
  }
})
