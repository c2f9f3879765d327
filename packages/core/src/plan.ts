import type { Settings, SheetPart, Want } from '@taraf/contract'
import type { Check, FindingWords } from './check'
import { outputsOf } from './geometry'

const mostSteps = 80

/** What a take wants where nothing goes wrong, for a screen to show before it starts: the check's own steps, unanswered. */
export const planOf = (check: Pick<Check, 'take'>, sheet: SheetPart, settings: Settings = {}): Want[] => {
  const steps = check.take({ sheet, settings, findings: () => [] })
  const plan: Want[] = []
  let next = steps.next()
  while (next.done !== true && plan.length < mostSteps) {
    const { label } = next.value
    plan.push(next.value)
    next = steps.next({ segment: { label, streams: {} }, observations: [] })
  }
  return plan
}

/** What is asked of the technician where nothing is captured, or null where something is. */
export const questionsOf = (check: Pick<Check, 'take'>, sheet: SheetPart) => {
  const plan = planOf(check, sheet)
  return plan.every((w) => w.kind === 'answers') ? plan.flatMap((w) => (w.kind === 'answers' ? w.questions : [])) : null
}

/** What a finding of a check is called; the same with what a take found before it wrote, and the write itself. */
export const findingWords = (check: Check, key: string, sheet: SheetPart): string => {
  const plan = planOf(check, sheet)
  const turned = spins(plan) ? outputsOf(sheet) : []
  const asked = plan.flatMap((w) => (w.kind === 'answers' ? w.questions.map((q) => [q.id, q.words] as const) : []))
  const words: FindingWords = {
    write: 'Written to the board',
    ...Object.fromEntries(turned.map((output) => [`turns${output}`, `Motor at output ${output}`])),
    ...Object.fromEntries(asked),
    ...(typeof check.words === 'function' ? check.words(sheet) : check.words),
  }
  const plain = key.replace(/Before$/, '')
  const said = words[key] ?? words[plain] ?? plain
  return plain === key ? said : `${said}, before the write`
}

/** Whether a take turns motors. */
export const spins = (plan: readonly Want[]): boolean => plan.some((w) => w.kind === 'turn')

/** Whether a take wants the battery in before it starts, and props and nuts confirmed off for that very connection. */
export const wantsBattery = (plan: readonly Want[]): boolean =>
  !teaches(plan) && plan.some((w) => w.state?.battery === true && w.state.props === 'off')

/** Whether a take teaches ESCs: it begins without the battery, and has props confirmed off itself. */
export const teaches = (plan: readonly Want[]): boolean => plan.some((w) => 'permit' in w && w.permit === 'teach')

/** Whether a take only asks what a board answers in its loader too. */
export const answersInLoader = (plan: readonly Want[]): boolean =>
  plan.every((w) => w.kind === 'reports' && w.of[0] === 'identity')
