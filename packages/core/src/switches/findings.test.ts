import type { Evidence, Finding, Settings, SheetPart } from '@taraf/contract'
import { framesSegment, plainSettings, through } from '../../tests/radio'
import { gestureFindings, switchFindings } from './findings'
import { segmentOf } from './segment'

const switches: NonNullable<SheetPart['switches']> = [
  { name: 'front left', channel: 5, positions: 2, atPowerUp: 1 },
  { name: 'front right', channel: 6, positions: 3, atPowerUp: 1 },
  { name: 'rear right', channel: 8, positions: 2, atPowerUp: 1 },
]
const switchPlan: NonNullable<SheetPart['switchPlan']> = [
  { function: 'arm', channel: 5, from: 1700, to: 2100 },
  { function: 'selfLevel', channel: 6, from: 900, to: 1250 },
  { function: 'blend', channel: 6, from: 1300, to: 1650 },
  { function: 'rate', channel: 6, from: 1700, to: 2100 },
  { function: 'failsafe', channel: 8, from: 1700, to: 2100 },
]
const asPlanned: Settings = {
  ...plainSettings,
  ...Object.fromEntries(
    switchPlan.flatMap((row) => [
      [`switch.${row.function}.channel`, row.channel],
      [`switch.${row.function}.low`, row.from],
      [`switch.${row.function}.high`, row.to],
      [`switch.${row.function}.withChannel`, 0],
    ]),
  ),
  'gesture.trim': 0,
}
type Stops = Readonly<Record<number, readonly number[]>>
const stops: Stops = { 5: [1000, 2000], 6: [1000, 1500, 2000], 8: [1000, 2000] }

const found = (settings: Settings = asPlanned, sheet: SheetPart = {}, moved: Stops = stops, beside: Stops = {}): Finding[] =>
  switchFindings({
    sheet: { switches, switchPlan, ...sheet },
    board: { settings },
    segments: (sheet.switches ?? switches).map((one) => {
      const course = Object.fromEntries(
        [...Object.entries({ [one.channel]: moved[one.channel] ?? [] }), ...Object.entries(beside)].map(([channel, at]) => [
          channel,
          through(...at.map((us, i): [number, number] => [i * 0.8, us])),
        ]),
      )
      // The mode that it has as it begins; no switch of this test is looked at by its modes.
      const events = one.channel === 6 ? [] : [{ t: 0, what: 'mode', mode: 'selfLevel' }]
      return { ...framesSegment(segmentOf(one), course, { seconds: 2.6 }), events }
    }),
  } as unknown as Evidence)
const fails = (list: readonly Finding[]) => list.filter((f) => f.verdict === 'fail').map((f) => f.key)
const by = (list: readonly Finding[], key: string) => list.find((f) => f.key === key)
const why = (list: readonly Finding[]) => (list[0]?.verdict === 'refused' ? list[0].value : list)

test('a sound plan: every position measured, its margin, every combination, and nothing wrong', () => {
  const list = found()
  expect(fails(list)).toEqual([])
  expect(by(list, 'combinations')?.value).toBe(12)
  expect(by(list, 'front right 2')?.value).toBeCloseTo(1500, 0)
  expect(by(list, 'front right 2 margin')?.value).toBeCloseTo(150, 0)
})

test('bands exchanged, a function that nobody planned, a switch that arms: each by its name', () => {
  const exchanged = {
    ...asPlanned,
    'switch.selfLevel.low': 1700,
    'switch.selfLevel.high': 2100,
    'switch.rate.low': 900,
    'switch.rate.high': 1250,
  }
  const list = found(exchanged)
  expect(fails(list)).toEqual(['front right 1 functions', 'front right 3 functions'])
  expect(by(list, 'front right 1 functions')?.remedy).toMatchObject({
    settings: { 'switch.selfLevel.low': 900, 'switch.rate.low': 1700 },
  })
  const payload = found({ ...asPlanned, 'switch.payload.channel': 5, 'switch.payload.low': 1700, 'switch.payload.high': 2100 })
  expect(fails(payload)).toEqual(['unplanned'])
  expect(by(payload, 'unplanned')?.remedy).toMatchObject({ settings: { 'switch.payload.channel': 0 } })
})

test('a position near the edge of its band: the edge goes where the sheet has it, else away by what is wanted', () => {
  const list = found({ ...asPlanned, 'switch.rate.low': 1985 })
  expect(fails(list)).toEqual(['front right 3 margin'])
  expect(by(list, 'front right 3 margin')?.remedy).toMatchObject({ by: 'settings', settings: { 'switch.rate.low': 1700 } })
  const near = switchPlan.map((row) => (row.function === 'rate' ? { ...row, from: 1985 } : row))
  const planned = found({ ...asPlanned, 'switch.rate.low': 1985 }, { switchPlan: near })
  expect(by(planned, 'front right 3 margin')?.remedy).toMatchObject({ settings: { 'switch.rate.low': 1975 } })
})

test('set otherwise than planned: the fault by its name, and the settings of the sheet that mend it', () => {
  const list = found({ ...asPlanned, 'switch.arm.low': 900, 'switch.arm.high': 1300 })
  expect(fails(list)).toEqual(['armed at power-up arm'])
  expect(by(list, 'armed at power-up arm')?.remedy).toMatchObject({
    by: 'settings',
    settings: { 'switch.arm.low': 1700, 'switch.arm.high': 2100 },
  })
  expect(fails(found({ ...asPlanned, 'switch.rate.low': 1400 }))).toEqual(['two modes at once blend rate'])
  expect(fails(found({ ...asPlanned, 'switch.selfLevel.channel': 0 }))).toContain('no self-level selfLevel')
})

test('the board as planned and the transmitter the other way round: said for the hand', () => {
  const list = found(asPlanned, { switches: switches.map((s) => (s.channel === 5 ? { ...s, atPowerUp: 2 } : s)) })
  expect(fails(list)).toEqual(['armed at power-up arm'])
  expect(by(list, 'armed at power-up arm')?.remedy).toMatchObject({ by: 'technician' })
})

test('two positions alike, and a function without a switch: faults, unless the sheet says that they are meant', () => {
  const wide = { ...asPlanned, 'switch.blend.channel': 0, 'switch.selfLevel.high': 1650 }
  const two = switchPlan
    .filter((row) => row.function !== 'blend')
    .map((row) => (row.function === 'selfLevel' ? { ...row, to: 1650 } : row))
  expect(fails(found(wide, { switchPlan: two }))).toEqual(['two positions alike front right'])
  const alike = switches.map((s) => (s.channel === 6 ? { ...s, alike: 'two modes are enough for this customer' } : s))
  expect(fails(found(wide, { switches: alike, switchPlan: two }))).toEqual([])
  const lights = { ...asPlanned, 'switch.lights.channel': 9, 'switch.lights.low': 1700, 'switch.lights.high': 2100 }
  expect(fails(found(lights))).toEqual(['never on lights'])
  const meant = [...switchPlan, { function: 'lights', channel: 9, from: 1700, to: 2100, meant: 'fitted by the customer' }]
  expect(fails(found(lights, { switchPlan: meant }))).toEqual([])
})

test('a function of the sheet that the board has nowhere is never on, and is set as planned', () => {
  const list = found({ ...asPlanned, 'switch.failsafe.channel': 0 })
  expect(fails(list)).toEqual(['never on failsafe'])
  expect(by(list, 'never on failsafe')?.remedy).toMatchObject({ by: 'settings', settings: { 'switch.failsafe.channel': 8 } })
})

test('a gesture that the sheet does not plan is switched off', () => {
  const gesturesOf = (sheet: SheetPart) =>
    gestureFindings({ sheet, board: { settings: { ...asPlanned, 'gesture.trim': 1 } } } as unknown as Evidence)
  expect(by(gesturesOf({}), 'gesture.trim')).toMatchObject({
    verdict: 'fail',
    remedy: { by: 'settings', settings: { 'gesture.trim': 0 } },
  })
  expect(fails(gesturesOf({ settings: { 'gesture.trim': 1 } }))).toEqual([])
})

test('never moved, not through all positions, moved twice, another one moved too: refused or taken as it is', () => {
  expect(why(found(asPlanned, {}, { ...stops, 6: [1000] }))).toMatch(/front right: 1 of its 3 positions/)
  expect(why(found(asPlanned, {}, { ...stops, 6: [1000, 2000] }))).toMatch(/2 of its 3/)
  expect(fails(found(asPlanned, {}, { ...stops, 5: [1000, 2000, 1000] }))).toEqual([])
  expect(why(found(asPlanned, {}, stops, { 2: [1500, 1900, 1500] }))).toMatch(/channel 2 moved too/)
})

describe('the mode that the board reports at each position', () => {
  const withModes = (told: readonly (readonly [t: number, mode: string])[]) =>
    switchFindings({
      sheet: { switches, switchPlan },
      board: { settings: asPlanned },
      segments: switches.map((one) => ({
        ...framesSegment(
          segmentOf(one),
          { [one.channel]: through(...(stops[one.channel] ?? []).map((us, i): [number, number] => [i * 0.8, us])) },
          { seconds: 2.6 },
        ),
        ...(one.channel === 6 ? { events: told.map(([t, mode]) => ({ t, what: 'mode', mode })) } : {}),
      })),
    } as unknown as Evidence)

  test('as its bands say: seen at every position', () => {
    const list = withModes([
      [0, 'selfLevel'],
      [0.85, 'blend'],
      [1.65, 'rate'],
    ])
    expect(fails(list)).toEqual([])
    expect(by(list, 'front right 2 mode')).toMatchObject({ value: 'blend', verdict: 'pass' })
  })

  test('one position late at each: the board counts from nought, and that is what to change', () => {
    const list = withModes([
      [0, 'altitude'],
      [0.85, 'selfLevel'],
      [1.65, 'blend'],
    ])
    expect(by(list, 'front right 3 mode')).toMatchObject({ value: 'blend', limit: { equals: 'rate' }, verdict: 'fail' })
    expect(by(list, 'front right 3 mode')?.remedy?.act).toMatch(/counts the positions of switch front right from zero/)
  })

  test('another mode at one position only is no matter of counting', () => {
    const list = withModes([
      [0, 'selfLevel'],
      [0.85, 'rate'],
      [1.65, 'rate'],
    ])
    expect(fails(list)).toEqual(['front right 2 mode'])
    expect(by(list, 'front right 2 mode')?.remedy?.act).toMatch(/another mode than its own bands/)
  })
})

test('failsafe planned on the channel of the modes: what a second switch adds at each position', () => {
  const plan = [
    { function: 'arm', channel: 5, from: 1700, to: 2100 },
    { function: 'selfLevel', channel: 6, from: 900, to: 1250 },
    { function: 'blend', channel: 6, from: 1300, to: 1650 },
    { function: 'failsafe', channel: 6, from: 1850, to: 2150 },
  ]
  const settings = {
    ...plainSettings,
    ...Object.fromEntries(
      plan.flatMap((row) => [
        [`switch.${row.function}.channel`, row.channel],
        [`switch.${row.function}.low`, row.from],
        [`switch.${row.function}.high`, row.to],
      ]),
    ),
  }
  const list = found(settings, { switches: switches.slice(0, 2), switchPlan: plan }, { 5: [1000, 2000], 6: [1000, 1200, 1400] })
  const act = by(list, 'never on failsafe')?.remedy?.act ?? ''
  expect(act).toContain('875 to 1125 us at position 1, 675 to 925 us at position 2, 475 to 725 us at position 3')
  expect(act).toContain('each position needs its own offset')
})
