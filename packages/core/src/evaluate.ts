import { evidence, type Evidence, type Finding, type Findings, type FindingsError } from '@taraf/contract'
import { firstIssue } from '@taraf/contract/firstIssue'
import { refusal, verdictOf, type Check } from './check'
import { checkById, checks } from './checks'
import { stoppedBy } from './motors/stands'
import { unproved, unsaid, type Unproved } from './guards'

/** Runs a check on its evidence, behind the guards that every check shares. */
export const evaluate = (check: Check, evidence: Evidence): Findings => {
  const found = stoppedBy(check, evidence) ?? findingsBehind(unproved(check, evidence)) ?? check.evaluate(evidence)
  const findings = findingsBehind(unsaid(found)) ?? found
  return { format: 'taraf-findings/1', check: check.id, version: check.version, verdict: verdictOf(findings), findings }
}
const findingsBehind = (wrong: Unproved | null): Finding[] | null => (wrong === null ? null : refusal(wrong.why, wrong.act))

/** Findings of an evidence document as text, or an error that names the file, the place in it and what was expected. */
export const evaluateDocument = (file: string, text: string): Findings | FindingsError => {
  const failed = (error: string): FindingsError => ({ format: 'taraf-findings/1', error: `${file}: ${error}` })
  let json: unknown
  try {
    json = JSON.parse(text)
  } catch (error) {
    return failed(`not a whole JSON document (${error instanceof Error ? error.message : String(error)})`)
  }
  const parsed = evidence.safeParse(json)
  if (!parsed.success) return failed(firstIssue(parsed.error))
  const check = checkById(parsed.data.check)
  if (check === undefined)
    return failed(`check: expected one of ${checks.map((c) => c.id).join(', ')}, found "${parsed.data.check}"`)
  try {
    return evaluate(check, parsed.data)
  } catch (error) {
    return failed(`could not be judged (${error instanceof Error ? error.message : String(error)})`)
  }
}
