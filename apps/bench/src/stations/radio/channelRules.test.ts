import { channelRules, edgesOn, shareOf } from './channelRules'

const sheet = {
  switches: ['A', 'B', 'C', 'D'].map((name, i) => ({ name, channel: 5 + i, positions: 2, atPowerUp: 1 })),
  switchPlan: [
    { function: 'selfLevel', channel: 6, from: 900, to: 1650 },
    { function: 'rate', channel: 6, from: 1700, to: 2100 },
  ],
}

test('every stick and switch of a sheet has its rule, with the gates or the edges of its bands', () => {
  const rules = channelRules(sheet)
  expect(rules.map((r) => `${r.channel} ${r.name}`)).toEqual([
    '1 roll',
    '2 pitch',
    '3 throttle',
    '4 yaw',
    '5 A',
    '6 B',
    '7 C',
    '8 D',
  ])
  expect(rules[0]?.notches).toEqual([1060, 1940])
  expect(rules[5]?.notches).toEqual([1650, 1700])
})

test('the sheet’s own gates and map are drawn, and a strength channel where it names one', () => {
  const settings = { 'radio.lowGate': 1100, 'radio.yaw.channel': 9, 'radio.strengthChannel': 12 }
  const rules = channelRules({ settings })
  expect(rules.map((r) => r.channel)).toEqual([1, 2, 3, 9, 12])
  expect(rules[0]?.notches).toEqual([1100, 1940])
})

test('both bands of a function that wants two count, and the end of what a channel can say is no edge', () => {
  const row = { function: 'arm', channel: 5, from: 1700, to: 2100, with: { channel: 7, from: 900, to: 1300 } }
  expect(edgesOn({ switchPlan: [row] }, 5)).toEqual([1700])
  expect(edgesOn({ switchPlan: [row] }, 7)).toEqual([1300])
})

test('a pulse beyond the rule stays at its end', () => {
  expect([shareOf(600), shareOf(900), shareOf(1500), shareOf(2100), shareOf(2400)]).toEqual([0, 0, 0.5, 1, 1])
})
