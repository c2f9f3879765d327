import { imageFor, isRefused, parseHex } from '@taraf/core/intelHex'
import type { Question } from '@taraf/contract'
import { handsOf } from '@taraf/rig'
import { checkById, questionsOf } from '@taraf/core'
import { demoImages, goodFirmware, imageBytes, imageHex } from './images'
import { lookAt } from './look'
import { flashByTarget, signalsByModel } from './partModels'
import { demoShop, rigOf, sheetOf } from './rigs'
import { batchNotes, builtPartsOf, sheets } from './world'

const at = new Date('2026-11-02T09:00:00Z')

describe('the demo’s images', () => {
  test('each is a whole Intel HEX file for its target and for no other', () => {
    for (const { hex } of demoImages()) {
      const parsed = parseHex(hex)
      if (isRefused(parsed)) throw new Error(parsed.why)
      for (const [target, map] of Object.entries(flashByTarget)) {
        const found = imageFor(parsed, map, target)
        expect(isRefused(found)).toBe(target !== 'TIDEBOARD-4')
      }
    }
  })
  test('no two signals of a model look or sound alike', () => {
    for (const signals of Object.values(signalsByModel)) expect(new Set(signals.map((s) => s.shows)).size).toBe(signals.length)
  })
  test('the same firmware is the same bytes, another version is not', () => {
    const bytes = (version: string) => Buffer.from(imageBytes('TIDEBOARD-4', { ...goodFirmware, version })).toString('hex')
    expect(bytes('3.2.0')).toBe(bytes('3.2.0'))
    expect(bytes('3.2.0')).not.toBe(bytes('3.1.2'))
    expect(() => imageHex('SANDBOARD', goodFirmware)).toThrow(/no target/)
  })
})

describe('whoever looks at a list answers by what is there', () => {
  const airframe = { tag: 'N4-001', board: 'FB-1', parts: [] }
  const ask = (id: string, type = 'N4'): readonly Question[] => {
    const check = checkById(id)
    return check === undefined ? [] : (questionsOf(check, sheetOf(type)) ?? [])
  }
  const answerTo = (fault: string | null, check: string, item: string) => {
    const rig = rigOf({ type: 'N4', board: 'FB-1', seed: 5, faults: fault === null ? [] : [fault] }, demoShop(at))
    return lookAt(ask(check), handsOf(rig), airframe).find((o) => o.item === item)?.answer
  }
  test.each([
    ['intake.videoAntenna', 'intake.byEye', 'videoAntenna'],
    ['intake.bentBell', 'intake.byEye', 'motors'],
    ['intake.pastBoard', 'intake.pastBoard', 'nothingElse'],
  ])('%s is seen, and nothing is seen where it is not', (fault, check, item) => {
    expect(answerTo(fault, check, item)).toBe(false)
    expect(answerTo(null, check, item)).toBe(true)
  })
  test('versions are read from the parts, the tag from the frame', () => {
    expect(answerTo('board.receiverVersion', 'board.versions', 'version of receiver')).toBe('2.1')
    expect(answerTo(null, 'board.versions', 'version of receiver')).toBe('2.4')
    expect(answerTo(null, 'intake.identity', 'tag')).toBe('N4-001')
  })
  test('every list of every type is answered whole', () => {
    const rig = rigOf({ type: 'L4', board: 'FB-1', seed: 5 }, demoShop(at))
    for (const { type } of sheets)
      for (const id of [
        'intake.identity',
        'intake.forWhom',
        'intake.incoming',
        'intake.byEye',
        'intake.pastBoard',
        'board.versions',
      ])
        expect(lookAt(ask(id, type), handsOf(rig), airframe).every((o) => o.answer !== '')).toBe(true)
  })
})

test('serials of the demo are in one airframe each, and its batch notes concern some airframes and not all', () => {
  const all = Array.from({ length: 40 }, (_, n) => builtPartsOf('N4', n + 1))
  const serials = all.flat().flatMap((p) => (p.serial === null ? [] : [`${p.part} ${p.serial}`]))
  expect(new Set(serials).size).toBe(serials.length)
  for (const { part, lotFrom, lotTo } of batchNotes) {
    const hit = all.filter((parts) =>
      parts.some((p) => p.part === part && p.lot !== null && p.lot >= lotFrom && p.lot <= lotTo),
    ).length
    expect(hit).toBeGreaterThan(0)
    expect(hit).toBeLessThan(all.length)
  }
})
