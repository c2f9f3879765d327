import type { BoardSetting, Evidence, Reports, SheetFirmware } from '@taraf/contract'
import fc from 'fast-check'
import { type Check } from '../check'
import { evaluate } from '../evaluate'
import { checkById } from '../checks'
import { meansOther } from './asReceived'
import { compareVersions } from 'compare-versions'
import { wantedVersion, worthOf } from './firmware'

const wanted: SheetFirmware = {
  name: 'shoreline',
  approved: [{ version: '3.2.0' }, { version: '3.10.1' }],
  bad: [{ version: '3.3.0', reason: 'its replies fail' }],
  features: ['compass'],
}
const runs = (version: string, features = ['compass', 'video'], name = 'shoreline') => ({ name, version, features })

test('an image of an approved version with another hash than the sheet pins is the wrong one', () => {
  const [own, other] = ['a'.repeat(64), 'b'.repeat(64)]
  const wanted = { name: 'f', approved: [{ version: '1.2', sha256: own }] }
  const worth = (sha256?: string) =>
    worthOf({ name: 'f', version: '1.2.0', features: [], ...(sha256 === undefined ? {} : { sha256 }) }, wanted).word
  expect([worth(own), worth(other), worth()]).toEqual(['approved', 'wrong image', 'approved'])
  expect(worthOf({ name: 'f', version: 'free', features: [] }, wanted).word).toBe('not approved')
})

describe('versions', () => {
  const version = fc.array(fc.nat(30), { minLength: 1, maxLength: 4 }).map((n) => n.join('.'))
  test('are ordered by their numbers, not as text', () => {
    expect(['3.10.0', '3.9.1', '3.9', '4.0'].sort(compareVersions)).toEqual(['3.9', '3.9.1', '3.10.0', '4.0'])
    expect(compareVersions('3.2', '3.2.0')).toBe(0)
  })
  test('the order is one: of any two the one before the other, of any three no circle', () => {
    fc.assert(
      fc.property(version, version, version, (a, b, c) => {
        expect(compareVersions(a, b) + compareVersions(b, a)).toBe(0)
        if (compareVersions(a, b) <= 0 && compareVersions(b, c) <= 0) expect(compareVersions(a, c)).toBeLessThanOrEqual(0)
      }),
    )
  })
})

test.each([
  ['3.2.0', 'approved'],
  ['3.10.1', 'approved'],
  ['3.1.9', 'too old'],
  ['3.3.0', 'known bad'],
  ['3.9.0', 'not approved'],
])('%s is %s', (version, word) => expect(worthOf(runs(version), wanted).word).toBe(word))

test('what lacks a feature is the wrong image, another name another firmware; the newest approved is written', () => {
  expect(worthOf(runs('3.2.0', ['video']), wanted)).toEqual({ word: 'wrong image', why: 'it was built without compass' })
  expect(worthOf(runs('3.2.0', ['compass'], 'inland'), wanted).word).toBe('another firmware')
  expect(wantedVersion(wanted)).toBe('3.10.1')
})

const setting = (name: string, change: Partial<BoardSetting> = {}): BoardSetting => ({
  name,
  unit: 'Hz',
  min: 0,
  max: 500,
  factory: 100,
  value: 100,
  saved: 100,
  ...change,
})
const sheet: Evidence['sheet'] = {
  board: { target: 'T', sockets: [{ socket: 1, use: 'receiver' }], firmware: wanted },
  switchPlan: [{ function: 'arm', channel: 5, from: 1700, to: 2100 }],
}
const take = (id: string, reports: Reports) =>
  evaluate(checkById(id) as Check, {
    format: 'taraf-evidence/1',
    check: id,
    sheet,
    board: {},
    segments: [{ label: 'asked', streams: {}, reports }],
  })
const identity = (firmware: ReturnType<typeof runs> | null) => ({ board: 'B', target: 'T', firmware, loader: firmware === null })
const listing = (t: number) => ({ t, sockets: [{ socket: 1, use: 'receiver', goodFrames: 3 }] })

describe('the check', () => {
  test('what is approved is left alone; anything else names the image to write', () => {
    expect(take('board.firmware', { identity: identity(runs('3.2.0')) }).verdict).toBe('pass')
    expect(take('board.firmware', { identity: identity(runs('3.3.0')) }).findings[0]).toMatchObject({
      value: 'shoreline 3.3.0, known bad',
      verdict: 'fail',
      remedy: { image: '3.10.1', act: 'Write image 3.10.1: its replies fail.' },
    })
    expect(take('board.firmware', { identity: identity(null) }).findings[0]?.value).toContain('waits in its loader')
  })
})

describe('as received', () => {
  const reports = (settings: BoardSetting[]): Reports => ({
    identity: identity(runs('3.2.0')),
    settings,
    sockets: [listing(0), listing(1)],
    escs: [],
  })
  test('is kept whole and never spoiled; what is on without being there, or on a channel outside the plan, is shown', () => {
    const found = take(
      'board.asReceived',
      reports([
        setting('filter.gyro', { saved: 150, value: 160 }),
        setting('compass.use', { saved: 1 }),
        setting('socket.1.use', { saved: 1 }),
        setting('socket.4.use', { saved: 4 }),
        setting('switch.arm.channel', { saved: 5 }),
        setting('switch.sounder.channel', { saved: 7 }),
      ]),
    )
    expect(found.verdict).toBe('pass')
    const value = (key: string) => found.findings.find((f) => f.key === key)?.value
    expect(value('compass.use')).toMatch(/sheet has none/)
    expect(value('socket.1.use')).toBeUndefined()
    expect(value('socket.4.use')).toMatch(/nothing goes there/)
    expect(value('switch.arm.channel')).toBeUndefined()
    expect(value('switch.sounder.channel')).toMatch(/not in the switch plan/)
    expect(value('unsaved')).toBe(6)
    const { reads } = checkById('board.asReceived') as Check
    // It happened once: only another board has to be received again.
    expect(reads).toEqual({ settings: [], parts: [], acts: ['board'], image: false })
  })
  test('half an answer is refused', () => {
    expect(take('board.asReceived', { identity: identity(runs('3.2.0')) }).verdict).toBe('refused')
  })
})

test('settings that mean something else after an update are told by unit, range or choices, not by value', () => {
  const before = [setting('a'), setting('b'), setting('c', { choices: ['off', 'on'] }), setting('gone')]
  const after = [
    setting('a', { saved: 5 }),
    setting('b', { unit: 'kHz' }),
    setting('c', { choices: ['on', 'off'] }),
    setting('new'),
  ]
  expect(meansOther(before, after)).toEqual(['b', 'c', 'gone', 'new'])
  expect(meansOther(before, before)).toEqual([])
})
