import type { Finding, Findings, Side } from '@taraf/contract'
import { evaluateDocument } from '../evaluate'
import { apply, inverse, radians, type Rotation, type Vec3 } from '../rotation'
import { holdsAs, inDegrees, upOf } from '../../tests/poses'
import { writes } from '../../tests/remedies'

const holds = (tilt = 70, marks: readonly [Side | undefined, Side | undefined] = ['front', 'left']) => [
  { label: 'level', up: upOf.level },
  { label: 'nose-up', up: upOf.noseUp(radians(tilt)), ...(marks[0] === undefined ? {} : { mark: marks[0] }) },
  { label: 'right-down', up: upOf.rightDown(radians(tilt)), ...(marks[1] === undefined ? {} : { mark: marks[1] }) },
]
const judge = (document: object): Findings => {
  const found = evaluateDocument('take.json', JSON.stringify(document))
  if ('error' in found) throw new Error(found.error)
  return found
}
const take = (mounting: Rotation, change: object = {}, poses = holds()) =>
  judge({ ...holdsAs('orientation.board', mounting, poses), ...change })
const valueOf = ({ findings }: Findings, key: string): Finding | undefined => findings.find((f) => f.key === key)
const told = (roll: number, pitch: number, yaw: number) => ({ board: { orientation: { roll, pitch, yaw } } })

describe('board mounting', () => {
  test('a board a quarter turn to the left, told straight: the turn to write, and only what differs', () => {
    const found = take(inDegrees(0, 0, -90), told(0, 0, 0))
    expect(found.verdict).toBe('fail')
    expect(valueOf(found, 'mounting')).toMatchObject({
      value: { roll: 0, pitch: 0, yaw: -90 },
      limit: { equals: { roll: 0, pitch: 0, yaw: 0 } },
      remedy: { settings: { 'board.yaw': -90 } },
    })
    expect(valueOf(found, 'mounting')?.remedy?.act).toContain('upright, its arrow to the left')
  })

  test.each([
    ['as it is told', inDegrees(180, 0, 45), told(180, 0, 45), 'pass'],
    ['-90 told as 270', inDegrees(0, 0, -90), told(0, 0, 270), 'pass'],
    ['pitch 90, told through another way of writing it', inDegrees(0, 90, 0), told(90, 90, 90), 'pass'],
    ['told nothing, with a sheet that wants a turn', inDegrees(0, 0, 90), { sheet: { settings: { 'board.yaw': 90 } } }, 'pass'],
    ['told nothing, with a sheet that wants none', inDegrees(0, 0, 90), { sheet: { settings: { 'board.yaw': 0 } } }, 'fail'],
    ['told nothing at all', inDegrees(0, 0, 90), {}, 'pass'],
    [
      'in two layers, judged as one rotation',
      inDegrees(0, 0, 180),
      { board: { orientation: { roll: 0, pitch: 0, yaw: 90 }, chip: { roll: 0, pitch: 0, yaw: 90 } } },
      'pass',
    ],
  ] as const)('%s', (_name, mounting, change, verdict) => expect(take(mounting, change).verdict).toBe(verdict))

  test('with the chip turned on the board, the outer layer that is to write completes it', () => {
    const found = take(inDegrees(0, 0, -90), {
      board: { orientation: { roll: 0, pitch: 0, yaw: 0 }, chip: { roll: 0, pitch: 0, yaw: 180 } },
    })
    expect(writes(valueOf(found, 'mounting'))).toEqual({ 'board.yaw': 90 })
  })

  test('a board that leans in its seat by over 3 deg fails for that, and hands seat it', () => {
    const found = take(inDegrees(4, 0, 0), told(0, 0, 0))
    expect(valueOf(found, 'mounting')?.verdict).toBe('pass')
    expect(valueOf(found, 'seatingTilt')).toMatchObject({ verdict: 'fail', remedy: { work: ['seat board'] } })
    expect(Number(valueOf(found, 'seatingTilt')?.value)).toBeCloseTo(4, 1)
    expect(valueOf(take(inDegrees(2, 0, 0), told(0, 0, 0)), 'seatingTilt')?.verdict).toBe('pass')
  })

  test.each<[string, object, RegExp]>([
    ['no mark', holdsAs('orientation.board', inDegrees(0, 0, 0), holds(70, ['front', undefined])), /nobody tapped/],
    ['the tail up', holdsAs('orientation.board', inDegrees(0, 0, 0), holds(70, ['rear', 'left'])), /the tail pointed up/],
    [
      'the same side up twice',
      holdsAs('orientation.board', inDegrees(0, 0, 0), holds(70, ['front', 'front'])),
      /the nose pointed up where the left side/,
    ],
    ['tilts too small', holdsAs('orientation.board', inDegrees(0, 0, 0), holds(15)), /only 15 deg/],
    [
      'one tilt the wrong way, marked as if right',
      holdsAs('orientation.board', inDegrees(0, 0, 0), [
        ...holds().slice(0, 2),
        { label: 'right-down', up: [0, Math.sin(1.2), -Math.cos(1.2)] as Vec3, mark: 'left' as const },
      ]),
      /wrong way/,
    ],
    [
      'a pose missing',
      holdsAs('orientation.board', inDegrees(0, 0, 0), [
        ...holds().slice(0, 2),
        { label: 'other', up: upOf.level, mark: 'left' },
      ]),
      /"right-down" is missing/,
    ],
  ])('%s is refused with its reason and what to do', (_name, document, why) => {
    const found = judge(document)
    expect(found.verdict).toBe('refused')
    expect(String(found.findings[0]?.value)).toMatch(why)
    expect(found.findings[0]?.remedy?.act).toContain('Run it again')
  })

  test('a turn nose right that was captured too must go that way, whatever the mounting', () => {
    const turning = (rate: number) => {
      const mounting = inDegrees(90, 0, 45)
      const document = holdsAs('orientation.board', mounting, [...holds(), { label: 'nose-right', up: upOf.level }])
      const [x, y, z] = apply(inverse(mounting), [0, 0, rate])
      const { imu } = document.segments[3]?.streams ?? { imu: {} }
      Object.assign(imu, {
        gx: (imu.gx as number[]).map((noise) => x + noise),
        gy: (imu.gy as number[]).map((noise) => y + noise),
        gz: (imu.gz as number[]).map((noise) => z + noise),
      })
      return judge(document)
    }
    expect(turning(1.5).verdict).toBe('pass')
    expect(String(turning(-1.5).findings[0]?.value)).toContain('nose left')
    expect(String(turning(0.1).findings[0]?.value)).toContain('by only')
  })

  test('a hold that moves is refused, and so is one whose magnitude is not gravity', () => {
    const moving = holdsAs('orientation.board', inDegrees(0, 0, 0), holds())
    const { imu } = moving.segments[1]?.streams ?? {}
    if (imu !== undefined) imu.gx = (imu.gx as number[]).map((_, i) => (i % 40 < 20 ? 0.6 : -0.6))
    expect(String(judge(moving).findings[0]?.value)).toMatch(/"nose-up": it moved/)
    const drifting = holdsAs('orientation.board', inDegrees(0, 0, 0), holds())
    const slow = drifting.segments[1]?.streams.imu
    if (slow !== undefined) slow.ay = (slow.ay as number[]).map((v, i, all) => v + (1.2 * i) / all.length)
    expect(String(judge(drifting).findings[0]?.value)).toMatch(/"nose-up": it moved by \d+ deg while it was captured/)
    const weak = holdsAs('orientation.board', inDegrees(0, 0, 0), holds(), { gain: [1, 1, 2] })
    expect(String(judge(weak).findings[0]?.value)).toMatch(/reads .* where gravity is/)
  })
})
