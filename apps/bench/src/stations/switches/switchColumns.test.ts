import type { Finding } from '@taraf/contract'
import { switchColumns } from './switchColumns'

const sheet = {
  switches: [
    { name: 'A', channel: 5, positions: 2, atPowerUp: 1 },
    { name: 'B', channel: 6, positions: 3, atPowerUp: 1 },
  ],
  switchPlan: [
    { function: 'selfLevel', channel: 6, from: 900, to: 1650 },
    { function: 'rate', channel: 6, from: 1700, to: 2100 },
  ],
}
const us = (key: string, value: number | string): Finding => ({ key, value, unit: 'us', verdict: 'shown' })

test('positions across, functions down: on where the measured pulse lies in the band', () => {
  const found = [us('B 1', 1102), us('B 2', 1500), us('B 3', 1899), us('B 1 mode', 'self-level')]
  const b = switchColumns(sheet, found)[1]
  expect(b?.positions).toEqual([
    { us: 1102, mode: 'self-level' },
    { us: 1500, mode: null },
    { us: 1899, mode: null },
  ])
  expect(b?.functions).toEqual([
    { name: 'self-level', band: '900 to 1650', on: [true, true, false] },
    { name: 'rate', band: '1700 to 2100', on: [false, false, true] },
  ])
})

test('what was not measured is neither on nor off, and a function that wants two switches says so on both', () => {
  const row = { function: 'arm', channel: 5, from: 1700, to: 2100, with: { channel: 7, from: 900, to: 1300 } }
  const switches = [5, 7].map((channel) => ({ name: `S${channel}`, channel, positions: 2, atPowerUp: 1 }))
  const columns = switchColumns({ switches, switchPlan: [row] }, [])
  expect(columns.map((c) => c.functions)).toEqual([
    [{ name: 'arm, one of two', band: '1700 to 2100', on: [null, null] }],
    [{ name: 'arm, one of two', band: '900 to 1300', on: [null, null] }],
  ])
})
