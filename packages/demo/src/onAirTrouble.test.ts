import type { Finding } from '@taraf/contract'
import type { Check } from '@taraf/core'
import { radio } from '@taraf/core/radio'
import { switches } from '@taraf/core/switches'
import { Transmitter, actOn, type Rig } from '@taraf/rig'
import { heardRig, lookedAt } from '../tests/heardRig'
import { sheetOf } from './rigs'
import type { Meddler } from './bench/person'

jest.setTimeout(120_000)
// What goes wrong at the bench while sticks and switches are moved: nothing of it may pass for what it is not.
const sheet = sheetOf('L4')
const check = (id: string) => [...radio, ...switches].find((c) => c.id === id) as Check

/** Once, from one row of a step to another: rows come 200 times a second. */
const during = (label: string, from: number, to: number, begin: (rig: Rig) => void, end: (rig: Rig) => void): Meddler => {
  let times = 0
  return {
    row: (rig, want, row) => {
      if (want.label === label && row === from && times++ === 0) begin(rig)
      if (want.label === label && row === to && times === 1) end(rig)
      return 'keep'
    },
  }
}
const taken = (id: string, meddler: Meddler, rig = heardRig(7)) => lookedAt(rig, check(id), sheet, { meddler })
const refusedFor = ({ verdict, findings }: { verdict: string; findings: readonly Finding[] }) =>
  verdict === 'refused' ? String(findings[0]?.value) : verdict

test('a second transmitter on the same model: two sets of sticks in turns are never taken for one', async () => {
  const second = (rig: Rig) => {
    const other = new Transmitter(structuredClone(rig.transmitter.build))
    other.on = true
    other.sticks.throttle = 0.6
    other.sticks.yaw = -0.7
    rig.receiver.rival = other
  }
  const alone = (rig: Rig) => void (rig.receiver.rival = null)
  for (const label of ['throttle-up', 'roll-right', 'yaw-right'])
    expect(refusedFor(await taken('radio.order', during(label, 20, 8000, second, alone)))).not.toBe('pass')
  expect(refusedFor(await taken('radio.steadiness', during('rest', 400, 800, second, alone)))).not.toBe('pass')
  expect(refusedFor(await taken('switches.table', during('switch-6', 150, 500, second, alone)))).not.toBe('pass')
})

test('a channel that leaps for a frame or two is no stick and no position', async () => {
  const leap = (channel: number, us: number) => (rig: Rig) =>
    void ((rig.transmitter.build.channels[channel - 1] ?? { subTrimUs: 0 }).subTrimUs += us)
  const order = await taken('radio.order', during('roll-right', 160, 166, leap(6, 300), leap(6, -300)))
  // Its map is right where it passes, and it says which channel else.
  if (order.verdict === 'pass') expect(order.findings.find((f) => f.key === 'rollChannel')?.value).toBe(1)
  else expect(refusedFor(order)).toMatch(/channels 1 and 6 moved/)
  const table = await taken('switches.table', during('switch-6', 300, 306, leap(6, 250), leap(6, -250)))
  expect(table.findings.find((f) => f.key === 'B 2')?.value).toBeCloseTo(1500, -1)
  const noise = await taken('radio.steadiness', during('rest', 1000, 1006, leap(1, 300), leap(1, -300)))
  const found = noise.findings.find((f) => f.key === 'ch1Noise')
  expect(found).toMatchObject({ verdict: 'fail', remedy: { work: ['place receiver antenna', 'replace receiver'] } })
})

test('a transmitter that goes off in the middle: the step begins again, and the map is the same', async () => {
  const found = await taken(
    'radio.order',
    during(
      'pitch-forward',
      150,
      2200,
      (rig) => void actOn(rig, { act: 'transmitter', on: false }),
      () => {},
    ),
  )
  expect(found.verdict).toBe('pass')
})

test('a switch that is stuck is never said to have been moved', async () => {
  const rig = heardRig(8)
  const one = rig.transmitter.build.switches.find((s) => s.name === 'C')
  const stuck: Meddler = {
    row: (_rig, want) => {
      if (want.label === 'switch-7' && one !== undefined) one.at = 0
      return 'keep'
    },
  }
  expect(refusedFor(await taken('switches.table', stuck, rig))).toMatch(/^C: 1 of its 2 positions were seen/)
})
