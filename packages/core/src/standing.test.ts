import type { Change, Entry, EntryBody, SheetPart } from '@taraf/contract'
import fc from 'fast-check'
import { checks } from './checks'
import { outcomeOf, recordLines, signatureInForce } from './handover/outcome'
import {
  isPropsOff,
  isToMend,
  listingOf,
  minutesByStation,
  missingNeeds,
  nextCheck,
  overallOf,
  propsSaid,
  spoils,
  standingsOf,
  stationMark,
} from './standing'
import { gyroRest } from './sensors/gyroRest'
import { level } from './orientation/level'

const entries = (...bodies: EntryBody[]): Entry[] =>
  bodies.map((body, i) => ({
    format: 2,
    job: 'j',
    seq: i + 1,
    at: '2026-11-25T08:00:00Z',
    by: 'p',
    // Where a test does not say otherwise, a take begins once all before it is there.
    body: body.kind === 'take' && body.began < 0 ? { ...body, began: i } : body,
  }))
const take = (check: string, verdict: 'pass' | 'fail' | 'refused', began = -1): EntryBody => ({
  kind: 'take',
  check,
  checkVersion: 1,
  began,
  verdict,
  findings: [],
  evidenceSha256: null,
  bench: 'North bench',
  board: 'B',
})
const set = (name: string, from: number, to: number): EntryBody => ({
  kind: 'change',
  change: { what: 'settings', settings: [{ name, from, to }] },
  cause: 'by a remedy',
})
const knock: EntryBody = { kind: 'change', change: { what: 'knock' }, cause: 'fell' }
/** A sheet that asks for the two checks of these tests alone. */
const two = {
  setAside: [
    'orientation.board',
    'orientation.follow',
    ...checks.flatMap((c) => (['radio', 'switches'].includes(c.station) ? [c.id] : [])),
  ],
}
const of = (...bodies: EntryBody[]) => standingsOf(checks, two, entries(...bodies))
const gyro = (...bodies: EntryBody[]) => of(...bodies)['sensors.gyroRest']

test('a check of what is built in is spoiled by any part put in for another, and by no work at one', () => {
  const reads = { settings: [], parts: [], acts: [], image: false }
  const part = (name: string, act: 'replaced' | 'fastened') => ({ what: 'part' as const, part: name, act })
  for (const [change, is] of [
    [part('motor', 'replaced'), true],
    [part('motor', 'fastened'), false],
    [part('sockets', 'replaced'), false],
    [{ what: 'board' as const, from: 'A', to: 'B' }, true],
  ] as const) {
    expect(spoils(change, { reads: { ...reads, built: true } })).toBe(is)
    expect(spoils(change, { reads })).toBe(false)
  }
})

test('what was said last of props for a battery connection counts: nobody turns a motor once they were said to be on', () => {
  const said = (what: 'props off' | 'props on', powerId = 'B-1', board = 'B'): { body: EntryBody } => ({
    body: { kind: 'confirmed', what, powerId, board },
  })
  const off = said('props off')
  expect(propsSaid([], 'B', 'B-1')).toBeNull()
  expect(isPropsOff([off], 'B', 'B-1')).toBe(true)
  expect(isPropsOff([off, said('props on')], 'B', 'B-1')).toBe(false)
  expect(isPropsOff([off, said('props on', 'B-2'), said('props on', 'B-1', 'C')], 'B', 'B-1')).toBe(true)
  expect(isPropsOff([said('props on'), off], 'B', 'B-1')).toBe(true)
})

describe('standing', () => {
  test('nothing taken is open', () => expect(gyro()).toEqual({ state: 'open' }))
  test('a take decides, a later one decides anew', () => {
    expect(gyro(take('sensors.gyroRest', 'fail'))).toEqual({ state: 'fail', take: 1 })
    expect(gyro(take('sensors.gyroRest', 'fail'), take('sensors.gyroRest', 'pass'))).toEqual({ state: 'pass', take: 2 })
  })
  test('a refused take changes nothing', () => {
    expect(gyro(take('sensors.gyroRest', 'refused'))).toEqual({ state: 'open' })
    expect(gyro(take('sensors.gyroRest', 'pass'), take('sensors.gyroRest', 'refused'))).toEqual({ state: 'pass', take: 1 })
  })
  test('what a take says to do may be done while it decides and fails, or while nothing came after it was refused', () => {
    const [gyroCheck, levelCheck] = ['sensors.gyroRest', 'orientation.level']
    const may = (seq: number, ...bodies: EntryBody[]) => {
      const made = entries(...bodies)
      return isToMend(standingsOf(checks, two, made), made, seq)
    }
    expect(may(1, take(gyroCheck, 'fail'))).toBe(true)
    expect(may(1, take(gyroCheck, 'pass'))).toBe(false)
    // A later one decides, or a change has spoiled it; a refused one decides nothing.
    expect(may(1, take(gyroCheck, 'fail'), take(gyroCheck, 'fail'))).toBe(false)
    expect(may(1, take(gyroCheck, 'fail'), knock)).toBe(false)
    expect(may(1, take(gyroCheck, 'fail'), take(gyroCheck, 'refused'))).toBe(true)

    expect(may(2, take(gyroCheck, 'pass'), take(gyroCheck, 'refused'))).toBe(true)
    expect(may(1, take(gyroCheck, 'refused'), take(levelCheck, 'pass'))).toBe(true)
    expect(may(1, take(gyroCheck, 'refused'), take(gyroCheck, 'refused'))).toBe(false)
    expect(may(1, take(gyroCheck, 'refused'), knock)).toBe(false)
    expect([may(1, knock), may(4, take(gyroCheck, 'fail'))]).toEqual([false, false])
  })
  test('a change of a setting that it reads makes it stale, and says which change', () => {
    expect(gyro(take('sensors.gyroRest', 'pass'), set('gyro.biasX', 0, 1))).toEqual({ state: 'stale', take: 1, by: 2 })
  })
  test('a write of equal values spoils nothing; neither does a setting that it does not read', () => {
    expect(gyro(take('sensors.gyroRest', 'pass'), set('gyro.biasX', 1, 1), set('level.roll', 0, 2))?.state).toBe('pass')
  })
  test('a hover proof that says otherwise by over two points spoils what was judged against the command in hover', () => {
    const measured = (
      check: string,
      values: Record<string, number>,
      verdict: 'pass' | 'fail' | 'refused' = 'pass',
    ): EntryBody => ({
      ...(take(check, verdict) as Extract<EntryBody, { kind: 'take' }>),
      findings: Object.entries(values).map(([key, value]) => ({ key, value, unit: '', verdict: 'shown' as const })),
    })
    const response = measured('failsafe.response', { hover: 0.39, hoverVolts: 14.8 })
    const hop = (hoverThrottle: number, verdict: 'pass' | 'fail' | 'refused' = 'pass') =>
      measured('hover.hop', { hoverThrottle, volts: 14.8 }, verdict)
    const flying = { geometry: {}, escs: {}, switches: [] } as unknown as SheetPart
    const now = (...bodies: EntryBody[]) => standingsOf(checks, flying, entries(...bodies))['failsafe.response']
    expect(now(response, hop(0.405))?.state).toBe('pass')
    expect(now(response, hop(0.415))).toEqual({ state: 'stale', take: 1, by: 2 })
    // One that failed was flown all the same, if it came as far as that; what was taken after it is judged by what was known then.
    expect(now(response, hop(0.45, 'fail'))?.state).toBe('stale')
    expect(now(response, measured('hover.hop', {}, 'fail'))?.state).toBe('pass')
    expect(now(response, hop(0.45, 'refused'))?.state).toBe('pass')
    // Judged while nobody knew what holds it up.
    expect(now(measured('failsafe.response', {}), hop(0.25))).toEqual({ state: 'stale', take: 1, by: 2 })
    expect(now(hop(0.45), response)?.state).toBe('pass')
  })
  test('a knock spoils both checks, and what was never taken stays open', () => {
    const standings = of(take('sensors.gyroRest', 'pass'), knock)
    expect(standings['sensors.gyroRest']?.state).toBe('stale')
    expect(standings['orientation.level']?.state).toBe('open')
  })
  test('what is changed while a take runs spoils it, though the take is appended after it', () => {
    expect(gyro(knock, take('sensors.gyroRest', 'pass', 0))).toEqual({ state: 'stale', take: 2, by: 1 })
    expect(gyro(knock, take('sensors.gyroRest', 'pass', 1))).toEqual({ state: 'pass', take: 2 })
    expect(gyro(set('other.thing', 0, 1), take('sensors.gyroRest', 'pass', 0))?.state).toBe('pass')
  })
  test('what a take writes itself, before the proof that is part of it, does not spoil it; another check that reads it is spoiled', () => {
    const own: EntryBody = { ...(set('gyro.biasX', 0, 1) as EntryBody & { kind: 'change' }), within: 'sensors.gyroRest' }
    expect(gyro(own, take('sensors.gyroRest', 'pass', 0))?.state).toBe('pass')
    expect(gyro({ ...own, within: 'sensors.compass' }, take('sensors.gyroRest', 'pass', 0))?.state).toBe('stale')
  })
  test('what a lead set aside is not spoiled, and a take takes it up again', () => {
    const aside: EntryBody = { kind: 'aside', check: 'sensors.gyroRest', reason: 'bench repair' }
    expect(gyro(aside, knock)).toMatchObject({ state: 'aside', by: 1 })
    expect(gyro(aside, take('sensors.gyroRest', 'fail'))?.state).toBe('fail')
  })
  test('what the sheet leaves out is absent, whatever was taken', () => {
    expect(
      standingsOf(checks, { setAside: ['sensors.gyroRest'] }, entries(take('sensors.gyroRest', 'fail')))['sensors.gyroRest'],
    ).toEqual({ state: 'absent' })
  })

  test('it depends on the sequence alone: neither on the order of arrival nor on clocks', () => {
    const body = fc.oneof(
      fc.constantFrom('pass', 'fail', 'refused').map((v) => take('sensors.gyroRest', v as 'pass')),
      fc.constantFrom('pass', 'fail').map((v) => take('orientation.level', v as 'pass')),
      fc
        .tuple(
          fc.constantFrom('gyro.biasX', 'level.roll', 'other.thing'),
          fc.integer({ min: 0, max: 1 }),
          fc.integer({ min: 0, max: 1 }),
        )
        .map(([n, a, b]) => set(n, a, b)),
      fc.constant(knock),
    )
    fc.assert(
      fc.property(fc.array(body, { maxLength: 12 }), fc.infiniteStream(fc.nat()), (bodies, noise) => {
        const inOrder = entries(...bodies)
        const mixed = inOrder
          .map((e) => ({ ...e, at: new Date(noise.next().value as number).toISOString() }))
          .sort(() => ((noise.next().value as number) % 2 ? 1 : -1))
        expect(standingsOf(checks, {}, mixed)).toEqual(standingsOf(checks, {}, inOrder))
      }),
    )
  })

  test('spoiling: the table of work.md, as far as these checks go', () => {
    const spoiled = (change: Parameters<typeof spoils>[0]) => [gyroRest, level].filter((c) => spoils(change, c)).map((c) => c.id)
    const runs = (version: string, features: string[] = ['video']) => ({ name: 'shoreline', version, features })
    expect(spoiled({ what: 'image', from: runs('3.1.0'), to: runs('3.2.0') })).toHaveLength(2)
    expect(spoiled({ what: 'image', from: runs('3.2.0'), to: runs('3.2.0') })).toHaveLength(0)
    // The same version built without something is another image; so is one that nobody knows the former of.
    expect(spoiled({ what: 'image', from: runs('3.2.0'), to: runs('3.2.0', []) })).toHaveLength(2)
    expect(spoiled({ what: 'image', from: null, to: runs('3.2.0') })).toHaveLength(2)
    expect(spoiled({ what: 'board', from: 'A', to: 'B' })).toHaveLength(2)
    expect(spoiled({ what: 'remount' })).toEqual(['orientation.level'])
    expect(spoiled({ what: 'part', part: 'board', act: 'replaced' })).toHaveLength(2)
    expect(spoiled({ what: 'part', part: 'camera', act: 'replaced' })).toHaveLength(0)
  })

  test('level waits for the gyro; an aside or absent one lets it through', () => {
    expect(missingNeeds(level, of())).toEqual(['sensors.gyroRest'])
    expect(missingNeeds(level, of(take('sensors.gyroRest', 'pass')))).toEqual([])
    expect(missingNeeds(level, of({ kind: 'aside', check: 'sensors.gyroRest', reason: 'later' }))).toEqual([])
  })

  test('a job card is as good as its worst check', () => {
    const overall = (...bodies: EntryBody[]) => overallOf(of(...bodies), entries(...bodies))
    const [g, l] = [take('sensors.gyroRest', 'pass'), take('orientation.level', 'pass')]
    expect(overall()).toBe('open')
    expect(overall(g, l)).toBe('ready')
    expect(overall(g, l, knock)).toBe('stale')
    expect(overall(take('sensors.gyroRest', 'fail'), l)).toBe('fail')
  })
})

describe('handover', () => {
  const both = [take('sensors.gyroRest', 'pass'), take('orientation.level', 'pass')]
  test('passes only when every check stands', () => {
    expect(outcomeOf(of(...both))).toBe('pass')
    expect(outcomeOf(of(both[0] as EntryBody))).toBe('fail')
    expect(outcomeOf(of(...both, knock))).toBe('fail')
  })
  test('its lines say what spoiled or set aside a check', () => {
    const list = entries(...both, knock)
    expect(recordLines(checks, {}, standingsOf(checks, {}, list), list).find((l) => l.check === 'sensors.gyroRest')).toEqual({
      check: 'sensors.gyroRest',
      title: 'Gyro at rest',
      state: 'stale',
      take: 1,
      reason: 'fell',
    })
  })
  test('a signature is in force only as the newest entry, over the head before it', () => {
    const hashed = entries(...both, { kind: 'signature', role: 'technician', over: 'b'.repeat(64) }).map((e, i) => ({
      ...e,
      hash: 'abc'.charAt(i).repeat(64),
    }))
    expect(signatureInForce(hashed)).toEqual({ role: 'technician', by: 'p', seq: 3 })
    expect(signatureInForce(hashed.slice(0, 2))).toBeNull()
    expect(signatureInForce([...hashed, ...entries(knock).map((e) => ({ ...e, seq: 4, hash: 'd' }))])).toBeNull()
    expect(signatureInForce(hashed.map((e) => ({ ...e, hash: 'f'.repeat(64) })))).toBeNull()
  })
})

describe('what a card shows at a glance', () => {
  const list = (...bodies: EntryBody[]) => entries(...bodies).map((entry) => ({ ...entry, hash: '' }))

  test('the next check is the first that does not stand and waits for nothing', () => {
    const standings = standingsOf(checks, {}, [])
    const next = nextCheck(checks, standings)
    expect(next).not.toBeNull()
    expect(missingNeeds(next as NonNullable<typeof next>, standings)).toEqual([])
    expect(
      checks
        .slice(0, checks.indexOf(next as NonNullable<typeof next>))
        .every((c) => standings[c.id]?.state === 'absent' || missingNeeds(c, standings).length > 0),
    ).toBe(true)
    expect(nextCheck(checks, Object.fromEntries(checks.map(({ id }) => [id, { state: 'aside' as const }])))).toBeNull()
  })

  test('a station is worth its worst check, and counts what the sheet needs', () => {
    const three = [{ id: 'a' }, { id: 'b' }, { id: 'c' }]
    expect(stationMark(three, { a: { state: 'pass' }, b: { state: 'stale' }, c: { state: 'absent' } })).toEqual({
      state: 'stale',
      stands: 1,
      of: 2,
    })
    expect(stationMark(three, { a: { state: 'aside' }, b: { state: 'pass' }, c: { state: 'pass' } })).toEqual({
      state: 'aside',
      stands: 3,
      of: 3,
    })
    expect(stationMark(three, { a: { state: 'fail' } })).toEqual({ state: 'fail', stands: 0, of: 3 })
    expect(stationMark(three, Object.fromEntries(three.map(({ id }) => [id, { state: 'absent' as const }])))).toMatchObject({
      state: 'absent',
      of: 0,
    })
  })

  test('a list shows a standing for each station, the next check, and what is left open', () => {
    const all = list(take('sensors.gyroRest', 'fail'), { kind: 'item', what: 'open', words: 'sticker missing', blocks: true })
    const shown = listingOf(checks, standingsOf(checks, two, all), all)
    expect(shown.route).toHaveLength(new Set(checks.map((c) => c.station)).size)
    expect(shown.route).toContain('fail')
    expect(shown).toMatchObject({ openItems: 1, parked: null, next: expect.any(String) as string })
  })

  test('minutes are those of work: a night between two entries is none', () => {
    const at = (time: string, body: EntryBody) => ({ at: `2026-11-25T${time}Z`, body })
    const spent = minutesByStation(checks, [
      at('08:00:00', knock),
      at('08:04:00', take('sensors.gyroRest', 'pass')),
      at('08:10:00', take('orientation.level', 'fail')),
      at('09:30:00', take('orientation.level', 'pass')),
    ])
    expect(spent).toEqual({ sensors: 4, orientation: 6 })
  })
})

describe('what a change of the drives, the mount or a knock spoils, by the rows of the table of work.md', () => {
  const motorRow = ['motors.order', 'motors.smooth', 'motors.response', 'hover.hop']
  const escRow = ['motors.order', 'motors.start', 'motors.smooth', 'motors.heat', 'arming.idle', 'failsafe.response']
  test.each<[string, Change, string[]]>([
    ['an ESC replaced', { what: 'part', part: 'ESC', act: 'replaced' }, ['escs.found', 'escs.settings', 'escs.data', ...escRow]],
    [
      'a setting of an ESC',
      { what: 'escs', settings: [{ output: 1, name: 'timingDeg', from: 15, to: 20 }] },
      ['escs.settings', 'motors.start', 'motors.smooth', 'motors.heat', 'arming.idle', 'failsafe.response'],
    ],
    ['leads of a motor swapped', { what: 'lead', words: 'two of output 1' }, motorRow],
    ['the output map', { what: 'settings', settings: [{ name: 'output.1.position', from: 1, to: 2 }] }, motorRow],
    ['a motor replaced', { what: 'part', part: 'motor', act: 'replaced' }, motorRow],
    [
      'the board mounted anew',
      { what: 'remount' },
      ['orientation.board', 'orientation.follow', 'orientation.level', 'motors.response', 'failsafe.response', 'hover.hop'],
    ],
    [
      'a knock',
      { what: 'knock' },
      [
        ...['sensors.gyroRest', 'sensors.compass', 'sensors.barometer', 'sensors.position'],
        ...['orientation.board', 'orientation.follow', 'orientation.level'],
        ...['escs.data', 'radio.steadiness', 'motors.smooth', 'hover.hop'],
      ],
    ],
  ])('%s', (_words, change, row) => {
    const spoilt = checks.filter((check) => spoils(change, check)).map((check) => check.id)
    expect(row.filter((id) => !spoilt.includes(id))).toEqual([])
  })
})

describe('what is set on a transmitter', () => {
  const onAir = { switches: [{ name: 'A', channel: 5, positions: 2, atPowerUp: 1 }] }
  const spoiledBy = (...set: { channel: number; name: 'travelLow' | 'inverted' | 'mix'; from: number | null; to: number }[]) =>
    checks
      .filter((check) => spoils({ what: 'transmitter', words: 'set', ...(set.length === 0 ? {} : { set }) }, check, onAir))
      .map((check) => check.id)

  test('a travel of a stick spoils its ends and centre and how steady it is, and no map, switch or link', () => {
    expect(spoiledBy({ channel: 4, name: 'travelLow', from: 80, to: 90 })).toEqual([
      'radio.ends',
      'radio.centre',
      'radio.steadiness',
      'arming.disarms',
    ])
  })
  test('one that is inverted spoils its direction too', () => {
    expect(spoiledBy({ channel: 4, name: 'inverted', from: null, to: 1 })).toContain('radio.order')
  })
  test('of a switch the table alone, beside how steady it is', () => {
    expect(spoiledBy({ channel: 5, name: 'travelLow', from: 80, to: 90 })).toEqual(['radio.steadiness', 'switches.table'])
    // The one that arms it spoils what arms it, too.
    const switchPlan = [{ function: 'arm', channel: 5, from: 1700, to: 2100 }]
    const set = [{ channel: 5, name: 'travelLow' as const, from: 80, to: 90 }]
    const spoilt = checks.filter((check) => spoils({ what: 'transmitter', words: 'set', set }, check, { ...onAir, switchPlan }))
    expect(spoilt.map((check) => check.id)).toEqual(expect.arrayContaining(['arming.refuses', 'arming.arms', 'arming.disarms']))
  })
  test('bound again, with nothing said of what is set: everything that comes by radio', () => {
    expect(spoiledBy()).toEqual([
      'board.sockets',
      ...checks.filter((c) => c.station === 'radio').map((c) => c.id),
      'switches.table',
      'motors.response',
      'arming.refuses',
      'arming.arms',
      'arming.disarms',
      'arming.idle',
      'failsafe.response',
      'failsafe.levels',
      'failsafe.waits',
      'failsafe.bySwitch',
      'failsafe.returnHome',
      'failsafe.motorCut',
      'failsafe.finalForm',
    ])
  })
  test('a value that is as it was spoils nothing', () => {
    expect(spoiledBy({ channel: 4, name: 'travelLow', from: 90, to: 90 })).toEqual([])
  })
})
