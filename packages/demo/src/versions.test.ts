import { createHash } from 'node:crypto'
import { existsSync, readFileSync, readdirSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { gunzipSync } from 'node:zlib'
import type { Evidence, Finding } from '@taraf/contract'
import { checks, isNeeded, planOf, type Check } from '@taraf/core'
import { evaluateDocument } from '@taraf/core/evaluate'
import { actOn } from '@taraf/rig'
import { lookedAt } from '../tests/heardRig'
import { drawnAt } from './draw'
import { demoShop, rigOf, sheetOf } from './rigs'
import { sheets } from './world'

jest.setTimeout(300_000)

/** What was found in which evidence by which version of a check, by hashes: kept beside the sources, and renewed by this test. */
const kept = join(__dirname, '../tests/judged.json')

/** What a take of a sound airframe captures, of the first type that has the check: the small quad with every sensor, where it has. */
const soundEvidence = async (check: Check): Promise<Evidence> => {
  const sheet = [sheetOf('L4'), ...sheets].find((one) => isNeeded(check, one) && planOf(check, one).length > 0)
  if (sheet === undefined) throw new Error(`no type of the demo has ${check.id}`)
  const rig = rigOf({ type: sheet.type, board: 'TB-1', seed: 11 }, demoShop(drawnAt))
  actOn(rig, { act: 'transmitter', on: true })
  rig.skip(3)
  const { evidence, findings } = await lookedAt(rig, check, sheet, {}, 'TB-1')
  if (evidence === null) throw new Error(`${check.id}: ${JSON.stringify(findings)}`)
  return evidence
}

/** Evidence that was once judged wrongly, most of it of airframes that fail. */
const cases = join(__dirname, '../../core/tests/cases')
const caseDocuments = (): string[] => readdirSync(cases).map((name) => gunzipSync(readFileSync(join(cases, name))).toString())

const textOf = (evidence: Evidence): string =>
  JSON.stringify(evidence, (_, value: unknown) =>
    ArrayBuffer.isView(value) ? Array.from(value as unknown as ArrayLike<number>) : value,
  )

const hashOf = (text: string): string => createHash('sha256').update(text).digest('hex').slice(0, 16)
/** A last digit that another machine computes differently is the same finding, and so is the same in other words: what to do, why it is refused. */
const rounded = (findings: readonly Finding[]) =>
  JSON.stringify(
    findings.map((found) => (found.verdict === 'refused' ? { ...found, value: '' } : found)),
    (key, value: unknown) => (key === 'act' ? undefined : typeof value === 'number' ? Number(value.toPrecision(9)) : value),
  )

test('a check that finds another thing in the same evidence has another version', async () => {
  const before = existsSync(kept) ? (JSON.parse(readFileSync(kept, 'utf8')) as Record<string, string>) : {}
  const now: Record<string, string> = {}
  const sound: string[] = []
  for (const check of checks) sound.push(textOf(await soundEvidence(check)))
  for (const document of [...sound, ...caseDocuments()]) {
    const found = evaluateDocument('evidence', document)
    if ('error' in found) continue
    now[`${found.check} version ${found.version}, evidence ${hashOf(document)}`] = hashOf(rounded(found.findings))
  }
  const forgotten = Object.keys(now).filter((key) => before[key] !== undefined && before[key] !== now[key])
  // Raise the version of each of these: what the record holds was judged by it.
  expect(forgotten).toEqual([])
  const text = `${JSON.stringify(Object.fromEntries(Object.entries(now).sort()), null, 2)}\n`
  if (!existsSync(kept) || readFileSync(kept, 'utf8') !== text) writeFileSync(kept, text)
})
