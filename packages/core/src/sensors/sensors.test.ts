import type { Evidence, Finding, Findings } from '@taraf/contract'
import { evaluate } from '../evaluate'
import { evaluateDocument } from '../evaluate'
import { fieldAt } from '../field'
import { length, type Vec3 } from '../rotation'
import { anyDirection, holdsAs, inDegrees, normalOf, strayed, uniformFrom } from '../../tests/poses'
import { barometer } from './barometer'
import { compass } from './compass'
import { position } from './position'
import { writes } from '../../tests/remedies'
import { planOf } from '../plan'

const valueOf = ({ findings }: Findings, key: string): Finding | undefined => findings.find((f) => f.key === key)
const judge = (document: object): Findings => {
  const found = evaluateDocument('take.json', JSON.stringify(document))
  if ('error' in found) throw new Error(found.error)
  return found
}

describe('six poses', () => {
  const sides: readonly [string, Vec3][] = [
    ['top', [0, 0, -1]],
    ['nose-up', [1, 0, 0]],
    ['nose-down', [-1, 0, 0]],
    ['left-down', [0, 1, 0]],
    ['right-down', [0, -1, 0]],
    ['bottom', [0, 0, 1]],
    ['oblique', [0.5, -0.5, -Math.SQRT1_2]],
  ]
  const bias: Vec3 = [0.21, -0.13, 0.08]
  const gain: Vec3 = [1.02, 0.985, 1.011]
  const poses = (uniform: () => number) => sides.map(([label, up]) => ({ label, up: strayed(up, 0.25, uniform) }))
  const document = (seed: number, turned = inDegrees(0, 0, 0)) =>
    holdsAs('sensors.sixPoses', turned, poses(uniformFrom(seed)), { bias, gain, seed, noise: 0.02 })

  test('bias and scale come back whatever the mounting, held askew, and the oblique pose proves them', () => {
    for (let seed = 1; seed < 40; seed++) {
      const found = judge(document(seed, inDegrees(90 * (seed % 4), 0, 90 * (seed % 3))))
      expect(found.verdict).toBe('pass')
      const [b, k] = [valueOf(found, 'bias')?.value, valueOf(found, 'scale')?.value] as [number[], number[]]
      bias.forEach((v, i) => expect(Math.abs((b[i] ?? NaN) - v)).toBeLessThan(0.02))
      gain.forEach((v, i) => expect(Math.abs((k[i] ?? NaN) - v)).toBeLessThan(0.002))
      expect(Math.abs(Number(valueOf(found, 'proof')?.value))).toBeLessThan(0.03)
    }
  })

  test('with a board that has another correction in force it fails, and says what to write', () => {
    const found = judge({ ...document(3), board: { settings: { 'accel.biasX': 0, 'accel.biasY': 0, 'accel.biasZ': 0 } } })
    expect(found.verdict).toBe('fail')
    expect(writes(valueOf(found, 'inForce'))?.['accel.scaleX']).toBeCloseTo(gain[0], 2)
    const written = writes(valueOf(found, 'inForce')) ?? {}
    expect(judge({ ...document(4), board: { settings: written } }).verdict).toBe('pass')
  })

  test('written within the take, a pose that neither fit nor proof has seen decides', () => {
    const uniform = uniformFrom(9)
    const again = { label: 'proof', up: strayed([-0.5, 0.5, -Math.SQRT1_2], 0.25, uniform) }
    const whole = holdsAs('sensors.sixPoses', inDegrees(0, 0, 0), [...poses(uniform), again], { bias, gain, noise: 0.02 })
    const before = { 'accel.biasX': 0, 'accel.biasY': 0, 'accel.biasZ': 0 }
    const written = writes(valueOf(judge({ ...document(3), board: { settings: before } }), 'inForce')) ?? {}
    const proved = judge({ ...whole, board: { settings: before }, written })
    expect(proved.verdict).toBe('pass')
    expect(Number(valueOf(proved, 'inForceBefore')?.value)).toBeGreaterThan(0.15)
    // A board that kept something else than was written.
    expect(judge({ ...whole, board: { settings: before }, written: { ...written, 'accel.biasZ': 0.4 } }).verdict).toBe('fail')
    const without = { ...whole, segments: whole.segments.filter((s) => s.label !== 'proof') }
    expect(judge({ ...without, board: { settings: before }, written }).verdict).toBe('refused')
  })

  test('a pose that is missing or doubled is named, and so is an oblique one that is none', () => {
    const short = document(5)
    short.segments = short.segments.filter((s) => s.label !== 'nose-down')
    expect(String(judge(short).findings[0]?.value)).toContain('"nose-down" is missing')
    const doubled = document(5)
    const up = doubled.segments.find((s) => s.label === 'nose-up')
    doubled.segments = doubled.segments.map((s) =>
      s.label === 'nose-down' && up !== undefined ? { ...up, label: 'nose-down' } : s,
    )
    expect(String(judge(doubled).findings[0]?.value)).toContain('"nose-up" and "nose-down" were held with the same side down')
    const flat = document(5)
    const top = flat.segments[0]
    flat.segments = flat.segments.map((s) => (s.label === 'oblique' && top !== undefined ? { ...top, label: 'oblique' } : s))
    expect(String(judge(flat).findings[0]?.value)).toContain('nearly "top"')
  })

  test('with a board turned by an eighth its own axes are met by no pose: refused, not guessed', () => {
    const found = judge(document(7, inDegrees(0, 0, 45)))
    expect(found.verdict).toBe('refused')
    expect(String(found.findings[0]?.value)).toContain('no pose lies along')
  })

  test('axes that are not square fail the proof, and no values are offered', () => {
    const bent = document(6)
    for (const s of bent.segments) {
      const { imu } = s.streams
      const [x, y] = [imu.ax as number[], imu.ay as number[]]
      imu.ax = x.map((v, i) => v + 0.08 * (y[i] ?? 0))
    }
    const found = judge({ ...bent, board: { settings: { 'accel.biasX': 0 } } })
    expect(valueOf(found, 'proof')).toMatchObject({ verdict: 'fail', remedy: { work: ['replace board'] } })
    expect(valueOf(found, 'inForce')?.remedy).not.toHaveProperty('settings')
  })
})

describe('compass', () => {
  const place = { lat: 54.2, lon: 7.9, heightM: 4 }
  const at = '2026-11-02T09:00:00Z'
  const earth = length(fieldAt(place, new Date(at)))
  const evidence = (
    change: Partial<Evidence> = {},
    { hard = [12, -7, 30] as Vec3, strength = earth, upper = false } = {},
  ): Evidence => {
    const uniform = uniformFrom(11)
    const rows = Array.from({ length: 1500 }, () => {
      let d = anyDirection(uniform)
      while (upper && d[2] < 0.2) d = anyDirection(uniform)
      return d.map((v, i) => v * strength + (hard[i] as number) + 0.3 * normalOf(uniform)) as unknown as Vec3
    })
    return {
      format: 'taraf-evidence/1',
      check: compass.id,
      at,
      place,
      sheet: {},
      board: {},
      segments: [
        {
          label: 'turn',
          streams: {
            mag: {
              t: rows.map((_, i) => i * 0.02),
              mx: rows.map((r) => r[0]),
              my: rows.map((r) => r[1]),
              mz: rows.map((r) => r[2]),
            },
          },
        },
      ],
      ...change,
    }
  }

  test('gives hard iron and the field of the shop, and passes', () => {
    const found = evaluate(compass, evidence())
    expect(found.verdict).toBe('pass')
    ;(valueOf(found, 'hardIron')?.value as number[]).forEach((v, i) => expect(v).toBeCloseTo([12, -7, 30][i] ?? NaN, 0))
    expect(Number(valueOf(found, 'fieldStrength')?.value) / earth).toBeCloseTo(1, 2)
  })
  test('a field that is not the Earth’s fails; indoors it is shown', () => {
    expect(valueOf(evaluate(compass, evidence({}, { strength: earth * 1.25 })), 'fieldStrength')?.verdict).toBe('fail')
    expect(
      valueOf(evaluate(compass, evidence({ sheet: { indoors: true } }, { strength: earth * 1.25 })), 'fieldStrength')?.verdict,
    ).toBe('shown')
  })
  test('what the board has in force is judged, and what to write passes afterwards', () => {
    const none = {
      'compass.hardX': 0,
      'compass.hardY': 0,
      'compass.hardZ': 0,
      'compass.softXX': 1,
      'compass.softYY': 1,
      'compass.softZZ': 1,
    }
    const found = evaluate(compass, evidence({ board: { settings: none } }))
    expect(valueOf(found, 'inForce')?.verdict).toBe('fail')
    const written = writes(valueOf(found, 'inForce')) ?? {}
    expect(evaluate(compass, evidence({ board: { settings: written } })).verdict).toBe('pass')
  })
  test('written within the take, the turn after it decides', () => {
    const none = { 'compass.hardX': 0, 'compass.hardY': 0, 'compass.hardZ': 0 }
    const [turn] = evidence().segments
    const again = { label: 'proof', streams: turn?.streams ?? {} }
    const written = writes(valueOf(evaluate(compass, evidence({ board: { settings: none } })), 'inForce')) ?? {}
    const proved = (kept: Record<string, number>, segments = [...(turn === undefined ? [] : [turn]), again]) =>
      evaluate(compass, evidence({ board: { settings: none }, segments, written: kept }))
    expect(proved(written).verdict).toBe('pass')
    expect(Number(valueOf(proved(written), 'inForceBefore')?.value)).toBeGreaterThan(0.04)
    expect(proved({ ...written, 'compass.hardX': 0 }).verdict).toBe('fail')
    expect(proved(written, evidence().segments).verdict).toBe('refused')
  })

  test('too few directions fail, and offer nothing to write', () => {
    const found = evaluate(compass, evidence({ board: { settings: { 'compass.hardX': 0 } } }, { upper: true }))
    expect(valueOf(found, 'coverage')?.verdict).toBe('fail')
    expect(valueOf(found, 'inForce')?.remedy).not.toHaveProperty('settings')
  })
  test('without the stream it says so', () => {
    expect(evaluate(compass, evidence({ segments: [{ label: 'turn', streams: {} }] })).verdict).toBe('refused')
  })
})

describe('barometer', () => {
  const take = (noise: number, driftPerS: number, seconds = 300, wander = (_s: number) => 0) => {
    const uniform = uniformFrom(21)
    const t = Array.from({ length: seconds * 25 }, (_, i) => i * 0.04)
    return evaluate(barometer, {
      format: 'taraf-evidence/1',
      check: barometer.id,
      sheet: {},
      board: {},
      segments: [
        {
          label: 'rest',
          streams: { baro: { t, height: t.map((s) => 12 + driftPerS * s + wander(s) + noise * normalOf(uniform)) } },
        },
      ],
    })
  }
  test.each([
    [0.1, 0, 'pass', []],
    [0.5, 0, 'fail', ['noise']],
    [0.1, 2 / 300, 'fail', ['drift']],
    [0.1, -2 / 300, 'fail', ['drift']],
  ] as const)('noise %d m, drift %d m/s: %s', (noise, drift, verdict, keys) => {
    const found = take(noise, drift)
    expect(found.verdict).toBe(verdict)
    expect(found.findings.filter((f) => f.verdict === 'fail').map((f) => f.key)).toEqual(keys)
  })
  test('a drift near its limit, or over it, is told by five minutes alone', () => {
    expect(String(take(0.1, 0.95 / 300, 70).findings[0]?.value)).toContain('not told yet')
    expect(take(0.1, 0.95 / 300, 300).verdict).toBe('pass')
    expect(take(0.1, 1.05 / 300, 300).verdict).toBe('fail')
    // Well within it a minute is enough; what looks like a drift after a minute can be the room.
    expect(take(0.1, 0.2 / 300, 63).verdict).toBe('pass')
    expect(take(0.1, 3 / 300, 63).verdict).toBe('refused')
  })
  test('a room that wanders makes nobody blame the barometer, nor hides a drift, at whatever moment it is looked at', () => {
    for (const period of [20, 40, 80, 150])
      for (const size of [0.05, 0.1, 0.2])
        for (let phase = 0; phase < 2 * Math.PI; phase += 0.9) {
          const room = (s: number) => size * Math.sin((2 * Math.PI * s) / period + phase)
          for (const seconds of [30, 60, 120]) {
            expect(take(0.08, 0, seconds, room).verdict).not.toBe('fail')
            expect(take(0.08, 2 / 300, seconds, room).verdict).not.toBe('pass')
          }
        }
  })
  test('too short a rest proves nothing', () => expect(take(0.1, 0, 10).verdict).toBe('refused'))
})

describe('position', () => {
  const take = (fixAfter: number | null, satellites: number, dilution: number, seconds = 60, change: Partial<Evidence> = {}) => {
    const t = Array.from({ length: seconds * 5 }, (_, i) => i * 0.2)
    const has = (s: number) => fixAfter !== null && s >= fixAfter
    return evaluate(position, {
      format: 'taraf-evidence/1',
      check: position.id,
      sheet: {},
      board: {},
      segments: [
        {
          label: 'sky',
          streams: {
            fix: {
              t,
              fixed: t.map((s) => (has(s) ? 1 : 0)),
              satellites: t.map((s) => (has(s) ? satellites : 3)),
              dilution: t.map((s) => (has(s) ? dilution : 20)),
            },
          },
        },
      ],
      ...change,
    })
  }
  const failing = (found: Findings) => found.findings.filter((f) => f.verdict === 'fail').map((f) => f.key)
  test('a fix in time with enough satellites passes', () => expect(take(30, 11, 1.2).verdict).toBe('pass'))
  test('few satellites, poor geometry and none in time fail each for itself', () => {
    expect(failing(take(30, 6, 1.2))).toEqual(['satellites'])
    expect(failing(take(30, 11, 3))).toEqual(['dilution'])
    expect(failing(take(null, 0, 20, 131))).toContain('wait')
  })
  test('a fix that was there before tells nothing of how long one takes; one that is lost again, or was not watched, is none', () => {
    expect(take(0, 11, 1.2)).toMatchObject({
      verdict: 'refused',
      findings: [{ value: expect.stringMatching(/had a fix when/) as unknown }],
    })
    expect(take(55, 11, 1.2).verdict).toBe('refused')
    const t = Array.from({ length: 300 }, (_, i) => i * 0.2)
    const fixed = t.map((s) => (s >= 30 && s < 50 ? 1 : 0))
    const lost = evaluate(position, {
      format: 'taraf-evidence/1',
      check: position.id,
      sheet: {},
      board: {},
      segments: [{ label: 'sky', streams: { fix: { t, fixed, satellites: t.map(() => 11), dilution: t.map(() => 1.2) } } }],
    })
    expect(failing(lost)).toEqual(['lasts'])
  })
  test('a sheet that allows longer is waited for as long, and what is said is what was measured', () => {
    const sheet = { limits: { 'position.wait': { max: 180, reason: 'a cold receiver' } } }
    expect(planOf(position, sheet)[0]).toMatchObject({ seconds: 195 })
    expect(take(150, 11, 1.2, 170, { sheet }).verdict).toBe('pass')
    expect(take(null, 0, 20, 131, { sheet }).verdict).toBe('refused')
    expect(valueOf(take(null, 0, 20, 131), 'wait')?.value).toBe('none in 131 s')
  })
  test('before a fix nothing can pass: a take that was ended early proves nothing', () => {
    expect(take(null, 0, 20, 40).verdict).toBe('refused')
  })
  test('an antenna that sits elsewhere than the sheet has it says how far, as a rule reads', () => {
    const sheet = { settings: { 'position.antennaX': 0.02, 'position.antennaZ': -0.06 } }
    const board = { settings: sheet.settings }
    const at = (forwardM: number) =>
      take(30, 11, 1.2, 60, { sheet, board, observations: [{ segment: 'sky', antenna: { forwardM, rightM: 0, downM: -0.06 } }] })
    expect(at(0.03).verdict).toBe('pass')
    expect(failing(at(-0.05))).toEqual(['placed'])
    expect(valueOf(at(-0.05), 'placed')?.remedy?.act).toContain('50 mm behind, 0 mm right and 60 mm above the middle')
  })
  test('where the sheet has no place for it, the board is told the one that was measured', () => {
    const found = take(30, 11, 1.2, 60, {
      board: { settings: { 'position.antennaX': 0 } },
      observations: [{ segment: 'sky', antenna: { forwardM: 0.1, rightM: 0, downM: 0 } }],
    })
    expect(failing(found)).toEqual(['antenna'])
    expect(writes(valueOf(found, 'antenna'))).toEqual({
      'position.antennaX': 0.1,
      'position.antennaY': 0,
      'position.antennaZ': 0,
    })
  })
  test('an antenna told elsewhere than the sheet has it fails, with the sheet’s values to write', () => {
    const found = take(30, 11, 1.2, 60, {
      sheet: { settings: { 'position.antennaX': 0.05, 'position.antennaZ': -0.08 } },
      board: { settings: { 'position.antennaX': 0 } },
    })
    expect(failing(found)).toEqual(['antenna'])
    expect(writes(valueOf(found, 'antenna'))).toEqual({
      'position.antennaX': 0.05,
      'position.antennaY': 0,
      'position.antennaZ': -0.08,
    })
  })
})
