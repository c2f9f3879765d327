import { sheet as sheetSchema, type Sheet, type SheetVariant } from '@taraf/contract'
import fc from 'fast-check'
import { isNeeded } from '../check'
import { checks } from '../checks'
import { compareSheets, resolveVariant } from './compare'
import { contradictionsIn } from './contradictions'

const boom = (name: string, bearingDeg: number, output: number): Sheet['geometry']['booms'][number] => ({
  name,
  bearingDeg,
  radiusM: 0.2,
  motors: [{ tier: 'only', output, turn: output % 2 === 0 ? 'clockwise' : 'anticlockwise' }],
})
const bare: Sheet = {
  type: 'X4',
  version: 1,
  title: 'X',
  geometry: {
    booms: [boom('a', 45, 1), boom('b', 135, 2), boom('c', 225, 3), boom('d', 315, 4)],
    body: { lengthM: 0.2, widthM: 0.1 },
    propDiameterM: 0.15,
  },
  board: { target: 'T', sockets: [{ socket: 1, use: 'receiver' }] },
  settings: { 'filter.gyro': 100 },
  limits: {},
}
/** What a sheet leaves out that says nothing of ESCs, switches and firmware. */
const leavesOut = Object.fromEntries(checks.filter((check) => !isNeeded(check, bare)).map(({ id }) => [id, 'not of this test']))
const sheet = (change: Partial<Sheet> = {}): Sheet => ({ ...bare, leavesOut, ...change })
const geometry = (change: Partial<Sheet['geometry']>) => sheet({ geometry: { ...sheet().geometry, ...change } })
const places = (of: Sheet, known?: Parameters<typeof contradictionsIn>[1]) => contradictionsIn(of, known).map((c) => c.place)
const booms = sheet().geometry.booms

describe('contradictions', () => {
  test('a sound sheet has none', () => expect(contradictionsIn(sheet())).toEqual([]))

  test.each<[string, Sheet, string]>([
    ['a boom missing', geometry({ booms: booms.slice(0, 2).concat(boom('x', 90, 3)) }), 'geometry.booms'],
    ['a name twice', geometry({ booms: [...booms.slice(0, 3), { ...boom('a', 315, 4) }] }), 'geometry.booms[3].name'],
    ['an output twice', geometry({ booms: [...booms.slice(0, 3), boom('d', 315, 1)] }), 'geometry.booms[3].motors[0].output'],
    ['two booms in one place', geometry({ booms: [...booms.slice(0, 3), boom('d', 225, 4)] }), 'geometry.booms[3]'],
    ['props that strike', geometry({ propDiameterM: 0.3 }), 'geometry.booms[1]'],
    [
      'a pair on one tier',
      geometry({
        booms: [
          {
            ...boom('a', 45, 1),
            motors: [1, 9].map((output) => ({ tier: 'upper' as const, output, turn: 'clockwise' as const })),
          },
          ...booms.slice(1),
        ],
      }),
      'geometry.booms[0].motors[1].tier',
    ],
    [
      'a lone upper motor',
      geometry({
        booms: [{ ...boom('a', 45, 1), motors: [{ tier: 'upper', output: 1, turn: 'clockwise' }] }, ...booms.slice(1)],
      }),
      'geometry.booms[0].motors[0].tier',
    ],
    ['fewer motors than booms', sheet({ parts: [{ part: 'motor', model: 'M', count: 3 }] }), 'parts[0].count'],
    ['a part twice', sheet({ parts: [1, 2].map(() => ({ part: 'board', model: 'M', count: 1 })) }), 'parts[1].part'],
    ['no socket for what is fitted', sheet({ fitted: ['position'] }), 'board.sockets'],
    [
      'approved and bad at once',
      sheet({
        board: {
          target: 'T',
          sockets: [],
          firmware: { name: 'f', approved: [{ version: '1.0' }], bad: [{ version: '1.0', reason: 'bad' }] },
        },
      }),
      'board.firmware.bad[0].version',
    ],
    [
      'gates the wrong way round',
      sheet({ settings: { 'radio.lowGate': 1900, 'radio.highGate': 1100 } }),
      'settings["radio.lowGate"]',
    ],
    [
      'a span the wrong way round',
      sheet({ switchPlan: [{ function: 'arm', channel: 5, from: 2000, to: 1700 }] }),
      'switchPlan[0]',
    ],
    [
      'two modes at once',
      sheet({
        switchPlan: [
          { function: 'rate', channel: 6, from: 900, to: 1500 },
          { function: 'selfLevel', channel: 6, from: 1400, to: 2100 },
        ],
      }),
      'switchPlan[1]',
    ],
    [
      'two conditions on one channel',
      sheet({ switchPlan: [{ function: 'arm', channel: 5, from: 1700, to: 2100, with: { channel: 5, from: 900, to: 1300 } }] }),
      'switchPlan[0].with.channel',
    ],
    [
      'a second condition the wrong way round',
      sheet({ switchPlan: [{ function: 'arm', channel: 5, from: 1700, to: 2100, with: { channel: 6, from: 1300, to: 900 } }] }),
      'switchPlan[0]',
    ],
    [
      'a power-up position that the switch has not',
      sheet({ switches: [{ name: 'front left', channel: 5, positions: 2, atPowerUp: 3 }] }),
      'switches[0].atPowerUp',
    ],
    [
      'two switches on one channel',
      sheet({ switches: ['left', 'right'].map((name) => ({ name, channel: 5, positions: 2, atPowerUp: 1 })) }),
      'switches[1].channel',
    ],
    [
      'a function without a switch, and nothing said of it',
      sheet({
        switchPlan: [{ function: 'lights', channel: 9, from: 1700, to: 2100 }],
        switches: [{ name: 'left', channel: 5, positions: 2, atPowerUp: 1 }],
      }),
      'switchPlan[0]',
    ],
    [
      'a max where the limit has a min',
      sheet({ limits: { 'compass.coverage': { max: 0.9, reason: 'because' } } }),
      'limits["compass.coverage"].max',
    ],
    [
      'a min where the limit has a max',
      sheet({ limits: { 'loop.load': { min: 0.1, reason: 'because' } } }),
      'limits["loop.load"].min',
    ],
    [
      'a min above the max of the shop',
      sheet({ limits: { 'rails.volts': { min: 6, reason: 'because' } } }),
      'limits["rails.volts"]',
    ],
    ['an unknown limit', sheet({ limits: { 'wing.flap': { max: 1, reason: 'because' } } }), 'limits["wing.flap"]'],
    [
      'a limit nothing meets',
      sheet({ limits: { 'rails.volts': { min: 6, max: 5, reason: 'because' } } }),
      'limits["rails.volts"]',
    ],
    ['an unknown check', sheet({ leavesOut: { ...leavesOut, 'motors.hum': 'it is quiet' } }), 'leavesOut["motors.hum"]'],
    ['an unknown one asked for', sheet({ asks: ['motors.hum'] }), 'asks[0]'],
    ['asked and left out', sheet({ asks: ['board.loop'], leavesOut: { ...leavesOut, 'board.loop': 'no time' } }), 'asks[0]'],
    ['left out as older sheets do, without a reason', sheet({ setAside: ['board.loop'] }), 'setAside[0]'],
    ['nothing of switches, and no reason', sheet({ leavesOut: {} }), 'switches'],
    ['no board, and no reason', { ...sheet(), board: undefined }, 'board'],
    ['a board without its firmware, and no reason', sheet({ leavesOut: {} }), 'board.firmware'],
  ])('%s is found, and where', (_what, wrong, place) => expect(places(wrong)).toContain(place))

  test('a board that counts other cells than the packs have', () => {
    const cells = (set: number) => places(sheet({ pack: { cells: 4 }, settings: { 'power.cells': set } }))
    expect([cells(0), cells(4), cells(6)]).toEqual([[], [], ['pack.cells']])
  })
  test('both hands of props with one mark', () => {
    const props = (clockwise: string, anticlockwise: string) =>
      places(sheet({ rotor: { kv: 900, props: { clockwise, anticlockwise } } }))
    expect(props('R', 'R')).toEqual(['rotor.props.anticlockwise'])
    expect(props('R', 'L')).toEqual([])
  })
  test('ESCs that only pulses reach want the KV, and what asks them for a speed left out; a signal that nobody knows', () => {
    const asking = ['escs.data', 'motors.start', 'motors.smooth', 'motors.heat']
    const rest = Object.fromEntries(Object.entries(leavesOut).filter(([id]) => !asking.includes(id)))
    const older = { understands: ['PWM', 'OneShot125'], settings: {} }
    const found = ['rotor', 'leavesOut', 'leavesOut', 'leavesOut', 'leavesOut']
    expect(places(sheet({ escs: older, leavesOut: rest }))).toEqual(found)
    expect(places(sheet({ escs: older, rotor: { kv: 900 } }))).toEqual([])
    expect(places(sheet({ escs: { understands: ['DShot300', 'Dshot'], settings: {} } }))).toEqual(['escs.understands[1]'])
  })
  test('settings are held against what boards of the target say, where one was ever seen', () => {
    const known = [{ name: 'filter.gyro', min: 0, max: 90, unit: 'Hz', factory: 0 }]
    expect(places(sheet(), known)).toEqual(['settings["filter.gyro"]'])
    expect(places(sheet({ settings: { 'filter.wing': 1 } }), known)).toEqual(['settings["filter.wing"]'])
    expect(places(sheet(), null)).toEqual([])
  })

  test('any ring of booms that goes all the way round has none missing, any that leaves half out has', () => {
    fc.assert(
      fc.property(fc.integer({ min: 3, max: 12 }), fc.integer({ min: 0, max: 359 }), (n, turn) => {
        const ring = (share: number) => Array.from({ length: n }, (_, i) => boom(`b${i}`, (turn + (i * share) / n) % 360, i + 1))
        const missing = (share: number) =>
          contradictionsIn(geometry({ booms: ring(share), propDiameterM: 0.01 })).some((c) =>
            c.why.startsWith('a boom is missing'),
          )
        expect(missing(360)).toBe(false)
        expect(missing(170)).toBe(true)
      }),
    )
  })
})

describe('comparison and variants', () => {
  const parent = sheet({
    settings: { 'filter.gyro': 100, 'loss.act': 1 },
    limits: { 'level.offset': { max: 0.3, reason: 'long runs' } },
  })
  const variant: SheetVariant = {
    type: 'X4-cold',
    title: 'For the ice',
    variantOf: { type: 'X4', version: 1 },
    settings: { 'filter.gyro': 90 },
  }

  test('a variant takes the rest from its parent, and differs only where it says', () => {
    const whole = resolveVariant(parent, variant)
    expect(sheetSchema.parse(whole)).toEqual(whole)
    expect(compareSheets(parent, whole)).toEqual([
      { place: 'title', from: 'X', to: 'For the ice' },
      { place: 'settings["filter.gyro"]', from: '100', to: '90' },
    ])
  })
  test('what one of them lacks is nothing there', () => {
    const less = sheet({ settings: {} })
    expect(compareSheets(parent, less)).toContainEqual({ place: 'settings["loss.act"]', from: '1', to: null })
    expect(compareSheets(less, parent)).toContainEqual({ place: 'limits["level.offset"].max', from: null, to: '0.3' })
  })
  test('a sheet differs from itself nowhere, and the places of a difference are the same both ways', () => {
    const some = fc.dictionary(fc.constantFrom('a.b', 'c.d', 'e.f', 'g.h'), fc.integer())
    fc.assert(
      fc.property(some, some, (a, b) => {
        const [x, y] = [sheet({ settings: a }), sheet({ settings: b })]
        expect(compareSheets(x, x)).toEqual([])
        expect(
          compareSheets(x, y)
            .map((d) => d.place)
            .sort(),
        ).toEqual(
          compareSheets(y, x)
            .map((d) => d.place)
            .sort(),
        )
      }),
    )
  })
})

describe('a sheet that the board’s own rules refuse', () => {
  const choices = (...names: string[]) => ({ min: 0, max: names.length - 1, unit: '', factory: 0, choices: names })
  const known = [
    { name: 'loss.act', ...choices('stop', 'descend', 'return home') },
    { name: 'esc.signal', ...choices('PWM', 'DShot300') },
    { name: 'esc.replies', min: 0, max: 1, unit: '', factory: 0 },
    { name: 'loop.rate', ...choices('1 kHz', '8 kHz') },
    { name: 'position.use', min: 0, max: 1, unit: '', factory: 0 },
    { name: 'arm.throttleMost', min: 800, max: 1200, unit: 'us', factory: 1050 },
    { name: 'radio.lowGate', min: 800, max: 1200, unit: 'us', factory: 1050 },
    { name: 'power.warnCell', min: 2, max: 5, unit: 'V', factory: 3.5 },
    { name: 'power.lowCell', min: 2, max: 5, unit: 'V', factory: 3.3 },
    { name: 'output.1.position', min: 0, max: 12, unit: '', factory: 1 },
    { name: 'output.2.position', min: 0, max: 12, unit: '', factory: 2 },
    { name: 'socket.1.use', min: 0, max: 5, unit: '', factory: 1 },
    { name: 'socket.2.use', min: 0, max: 5, unit: '', factory: 0 },
  ]
  const told = (settings: Sheet['settings'], change: Partial<Sheet> = {}) =>
    contradictionsIn(sheet({ settings, ...change }), known).map((c) => `${c.place}: ${c.why}`)
  test.each<[string, Sheet['settings'], RegExp]>([
    ['return home without position', { 'loss.act': 2 }, /^settings\["loss\.act"\]: .*Switch the position receiver on/],
    ['a signal too slow for its loop', { 'loop.rate': 1 }, /^settings\["loop\.rate"\]: .*faster motor signal/],
    ['an arming gate under the low gate', { 'arm.throttleMost': 900 }, /^settings\["arm\.throttleMost"\]: /],
    [
      'gates in the wrong order',
      { 'radio.lowGate': 1190, 'radio.highGate': 1190 },
      /^settings\["radio\.lowGate"\]: gates that cannot agree/,
    ],
    [
      'an arming gate far above the low end of throttle',
      { 'arm.throttleMost': 1200 },
      /^settings\["arm\.throttleMost"\]: throttle counts as down up to 1200 us/,
    ],
    [
      'an idle that is all there is',
      { 'motors.idle': 0.3, 'motors.most': 0.3 },
      /^settings\["motors\.(idle|most)"\]: idle is 0\.3/,
    ],
    ['a second warning before the first', { 'power.lowCell': 3.6 }, /^settings\["power\.lowCell"\]: /],
    ['an output used twice', { 'output.2.position': 1 }, /^settings\["output\.2\.position"\]: .*outputs 1 and 2/],
    ['a socket otherwise than the board has it', { 'socket.2.use': 2 }, /^settings\["socket\.2\.use"\]: .*write 0/],
  ])('%s is found, with the place and what to write', (_what, settings, words) =>
    expect(told(settings)).toEqual(expect.arrayContaining([expect.stringMatching(words)])),
  )
  test('two modes that a second switch keeps apart agree, and a function that is meant to have no switch', () => {
    const level = { channel: 7, from: 900, to: 1300 }
    const hold = { channel: 7, from: 1700, to: 2100 }
    const plan = (second: typeof level) =>
      sheet({
        fitted: ['barometer'],
        switchPlan: [
          { function: 'selfLevel', channel: 6, from: 900, to: 1300, with: level },
          { function: 'altitude', channel: 6, from: 900, to: 1300, with: second },
          { function: 'lights', channel: 9, from: 1700, to: 2100, meant: 'the customer fits the switch' },
        ],
        switches: [6, 7].map((channel) => ({ name: `S${channel}`, channel, positions: 2, atPowerUp: 1 })),
      })
    expect(contradictionsIn(plan(hold))).toEqual([])
    expect(contradictionsIn(plan(level)).map((c) => c.why)).toEqual([
      'gates that cannot agree: "altitude" and "selfLevel" are both on from 900 to 1300 us of channel 6 and from 900 to 1300 us of channel 7',
    ])
  })

  test('a sheet that says nothing of a rule is not blamed for it', () => expect(told({ 'radio.lowGate': 1000 })).toEqual([]))
  test('a function without its sensor, bands that touch, limits beyond sense', () => {
    const row = (f: string, from: number, to: number) => ({ function: f, channel: 6, from, to })
    expect(told({}, { switchPlan: [row('returnHome', 1700, 2100)] })).toEqual([expect.stringContaining('none is fitted')])
    expect(told({}, { switchPlan: [row('rate', 900, 1500), row('selfLevel', 1500, 2100)] })).toEqual([
      expect.stringMatching(/^switchPlan\[1\]/),
    ])
    expect(told({}, { limits: { 'gyroRest.bias': { max: 50, reason: 'because' } } })).toEqual([
      expect.stringContaining('beyond sense: write 0.02 to 1 deg/s'),
    ])
  })

  test('a limit of a part that the whole, which holds it, never lets decide', () => {
    const shaking = (atTurning: number | null, whole: number | null) =>
      told(
        {},
        {
          limits: {
            ...(atTurning === null ? {} : { 'smooth.atTurning': { max: atTurning, reason: 'because' } }),
            ...(whole === null ? {} : { 'smooth.whole': { max: whole, reason: 'because' } }),
          },
        },
      )
    expect([shaking(null, null), shaking(0.12, 0.14), shaking(0.12, null)]).toEqual([[], [], []])
    expect(shaking(1.5, null)).toEqual([
      'limits["smooth.atTurning"].max: smooth.atTurning is 1.5 and smooth.whole, which holds it, 1.1: write less for smooth.atTurning',
    ])
    // The shop's own limit of the part is more than this sheet lets the whole be.
    expect(shaking(null, 0.5)).toEqual([expect.stringMatching(/^limits\["smooth\.whole"\]\.max: smooth\.atTurning is 0\.9 /)])
  })

  test('a way home that cannot lie over what stands there and under what is allowed', () => {
    const home = (obstaclesM: number, mostHeightM?: number) => ({
      home: { obstaclesM, below: 'open ground', ...(mostHeightM === undefined ? {} : { mostHeightM }) },
    })
    expect(told({}, home(22))).toEqual([])
    expect(told({}, home(118))).toEqual([expect.stringMatching(/^home\.mostHeightM: .*wants 123 m, and no more than 120 m/)])
    expect(told({ 'home.height': 20 }, home(22, 60))).toContainEqual(
      expect.stringMatching(/20 m is not between 27 m, .*, and 60 m/),
    )
  })
  test('an idle time so short that it disarms in a descent', () => {
    const disarming = (idleOff: number) => told({ 'arm.idleOff': idleOff }).filter((why) => why.includes('descent'))
    expect([disarming(5), disarming(0)]).toEqual([[], []])
    expect(disarming(3)).toEqual([expect.stringMatching(/^settings\["arm\.idleOff"\]: after 3 s .*5 s or more, or 0 for never/)])
  })
  test('motors that leave an axis without control', () => {
    const turning = (turn: 'clockwise' | 'anticlockwise') =>
      geometry({ booms: booms.map((b) => ({ ...b, motors: b.motors.map((m) => ({ ...m, turn })) })) })
    expect(contradictionsIn(turning('clockwise')).map((c) => c.why)).toEqual([expect.stringContaining('nothing holds its yaw')])
    const pairs = geometry({
      booms: booms.map((b, i) => ({
        ...b,
        motors: b.motors.map((m) => ({ ...m, turn: i < 2 ? 'clockwise' : 'anticlockwise' })),
      })),
    })
    expect(contradictionsIn(pairs).map((c) => c.why)).toEqual([expect.stringContaining('an axis without control')])
  })
})
