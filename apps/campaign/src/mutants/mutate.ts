import { evidence as evidenceSchema, findings as findingsSchema, type Evidence, type Sheet } from '@taraf/contract'
import { checkById, checks, isNeeded } from '@taraf/core'
import { evaluate } from '@taraf/core/evaluate'
import { demoPlace, demoShop, drawnAt, lookAt, rigOf, sheetOf } from '@taraf/demo'
import { randomFrom, type Random } from '@taraf/rig'
import { Bench } from '../bench'
import { impossible } from './impossible'
import { mutations } from './mutations'

/** What became of many mutated documents. */
export interface Mutated {
  readonly documents: number
  readonly unreadable: number
  readonly verdicts: Readonly<Record<'pass' | 'fail' | 'refused', number>>
  /** Every document that crashed the core, gave no number, or passed though a rule calls that impossible. */
  readonly wrong: readonly {
    readonly seed: number
    readonly check: string
    readonly by: readonly string[]
    readonly why: string
  }[]
}

const airframe = { tag: 'mutant', board: '', parts: [] }

/** The evidence of every check that passes on a sound airframe of a type. */
export const soundDocuments = async (type: string, seed: number): Promise<Evidence[]> => {
  const sheet: Sheet = { ...sheetOf(type), leavesOut: {}, asks: ['sensors.sixPoses'] }
  const rig = rigOf({ type, board: `FB-${seed}`, seed, faults: [] }, demoShop(drawnAt))
  rig.skip(60)
  const bench = new Bench(rig)
  const documents: Evidence[] = []
  for (const check of checks.filter((one) => isNeeded(one, sheet))) {
    const { evidence, verdict } = await bench.take(
      check,
      { airframe, place: demoPlace, sheet },
      { answer: ({ questions }, felt) => lookAt(questions, bench.look(), airframe, felt) },
    )
    if (verdict === 'pass' && evidence !== null) documents.push(evidence)
  }
  return documents
}

const names = Object.keys(mutations)

/** One document bent once to three times, and by what. */
export const bent = (document: Evidence, random: Random): { readonly document: Evidence; readonly by: string[] } => {
  const by = Array.from({ length: 1 + random.below(3) }, () => names[random.below(names.length)] ?? '')
  return { document: by.reduce((now, name) => mutations[name]?.(now, random) ?? now, document), by }
}

/** What is wrong with what the core makes of a document; null where it is unreadable, refused, failed, or passes for a reason. */
export const wrongWith = (
  document: unknown,
): { readonly verdict: 'pass' | 'fail' | 'refused' | 'unreadable'; readonly why: string | null } => {
  const parsed = evidenceSchema.safeParse(document)
  if (!parsed.success) return { verdict: 'unreadable', why: null }
  const check = checkById(parsed.data.check)
  if (check === undefined) return { verdict: 'unreadable', why: null }
  const found = evaluate(check, parsed.data)
  if (!findingsSchema.safeParse(found).success) return { verdict: found.verdict, why: 'findings that are none' }
  return { verdict: found.verdict, why: found.verdict === 'pass' ? impossible(parsed.data) : null }
}

export const mutate = async (seed: number, count: number): Promise<Mutated> => {
  // What was sampled can be bent in more ways than what was answered.
  const documents: Evidence[] = []
  for (const [i, type] of ['L4', 'N4', 'H6'].entries()) documents.push(...(await soundDocuments(type, seed + i)))
  const sound = documents.flatMap((d) => (d.segments.some((s) => Object.keys(s.streams).length > 0) ? [d, d, d] : [d]))
  const verdicts = { pass: 0, fail: 0, refused: 0 }
  const wrong: Mutated['wrong'][number][] = []
  let unreadable = 0
  for (const document of sound) {
    const { verdict, why } = wrongWith(document)
    if (verdict !== 'pass' || why !== null)
      wrong.push({ seed, check: document.check, by: [], why: `sound: ${verdict}, ${String(why)}` })
  }
  for (let i = 0; i < count; i++) {
    const own = seed + 2 * i
    const random = randomFrom(own)
    const { document, by } = bent(sound[random.below(sound.length)] as Evidence, random)
    try {
      const { verdict, why } = wrongWith(document)
      if (verdict === 'unreadable') unreadable += 1
      else verdicts[verdict] += 1
      if (why !== null) wrong.push({ seed: own, check: document.check, by, why })
    } catch (error) {
      wrong.push({
        seed: own,
        check: document.check,
        by,
        why: `crashed: ${error instanceof Error ? error.message : String(error)}`,
      })
    }
  }
  return { documents: count, unreadable, verdicts, wrong }
}

export const putTogether = (parts: readonly Mutated[]): Mutated => {
  const sum = (of: (part: Mutated) => number) => parts.reduce((total, part) => total + of(part), 0)
  return {
    documents: sum((p) => p.documents),
    unreadable: sum((p) => p.unreadable),
    verdicts: { pass: sum((p) => p.verdicts.pass), fail: sum((p) => p.verdicts.fail), refused: sum((p) => p.verdicts.refused) },
    wrong: parts.flatMap((p) => p.wrong),
  }
}
