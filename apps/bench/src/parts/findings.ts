import type { Finding, JobView, Remedy, StoredEntry, TakeBody } from '@taraf/contract'
import { boundFigure, figure } from './fixed'

export type TakeEntry = StoredEntry & { body: TakeBody }

export const takesOf = (job: JobView, check: string): TakeEntry[] =>
  job.entries.filter((e): e is TakeEntry => e.body.kind === 'take' && e.body.check === check).reverse()

/** The first finding that fails, once for each different remedy. */
export const remediesOf = (findings: readonly Finding[]): { key: string; remedy: Remedy }[] => {
  const seen = new Set<string>()
  return findings.flatMap(({ key, remedy, verdict }) => {
    if (remedy === undefined || verdict === 'pass' || seen.has(remedy.act)) return []
    seen.add(remedy.act)
    return [{ key, remedy }]
  })
}

/** Whether Taraf does it over the link. */
export const canDo = ({ by }: Remedy): boolean => by === 'settings' || by === 'calibration'

/** The record keeps names in the order of the alphabet; people say angles in this one. */
const angleOrder: readonly string[] = ['roll', 'pitch', 'yaw']

/** What a finding found, in figures or words. */
export const valueWords = ({ value, limit = {} }: Pick<Finding, 'value' | 'limit'>): string => {
  if (typeof value === 'string') return value.replace(/^(not )?so(?=$|:)/, (answer) => (answer === 'so' ? 'yes' : 'no'))
  const { min, max, equals } = limit
  if (typeof value === 'number')
    return figure(
      value,
      [min, max, equals].filter((one) => typeof one === 'number'),
    )
  const short = (part: number) => String(Number(part.toFixed(3)) + 0)
  if (Object.keys(value).length === 0) return 'nothing'
  if (!Array.isArray(value))
    return Object.entries(value)
      .sort(([a], [b]) => angleOrder.indexOf(a) - angleOrder.indexOf(b))
      .map(([name, part]) => `${name} ${Number(part.toFixed(2)) + 0}`)
      .join(', ')
  return value
    .map((part) => (typeof part === 'string' ? part : Array.isArray(part) ? part.map(short).join(' ') : short(part)))
    .join(', ')
}

export const limitWords = ({ limit, verdict, unit }: Finding): string => {
  if (limit === undefined) return verdict === 'shown' ? 'shown, not judged' : ''
  const { min, max, equals, within } = limit
  if (typeof equals === 'string' || typeof equals === 'number') return `wanted: ${equals}`
  if (Array.isArray(equals) || (typeof equals === 'object' && equals !== null && Object.keys(equals).length === 0))
    return `wanted: ${valueWords({ value: equals as Finding['value'] })}`
  if (typeof equals === 'object' && equals !== null)
    return `the board is set to ${valueWords({ value: equals as Record<string, number> })}${within === undefined ? '' : `; up to ${within} ${unit} off is the same`}`
  if (min !== undefined && max !== undefined) return `allowed ${boundFigure(min)} to ${boundFigure(max)}`
  if (max !== undefined) return `at most ${boundFigure(max)}`
  return min !== undefined ? `at least ${boundFigure(min)}` : ''
}
