import { z } from 'zod'
import { finding, limit, sensorName, verdict, work, type Finding, type Remedy } from './findings'
import { entry, unchangedKinds, type Change, type Entry, type EntryBody, type Runs } from './job'
import { settings } from './sheet'

/**
 * Entries as they were ever written. A format is never changed once it was used: its schema stays here, with what makes it today's. What
 * is hashed is always the text as it was written.
 */
const remedy1 = z.strictObject({
  act: z.string().min(1),
  settings: settings.optional(),
  calibrate: sensorName.optional(),
  work: z.array(work).min(1).optional(),
  socket: z.int().optional(),
  part: z.string().optional(),
  image: z.string().optional(),
})
const finding1 = z.strictObject({ ...finding.shape, limit: limit.optional(), remedy: remedy1.optional() })
const change1 = z.discriminatedUnion('what', [
  z.strictObject({
    what: z.literal('settings'),
    settings: z.array(z.strictObject({ name: z.string(), from: z.number().nullable(), to: z.number() })).min(1),
  }),
  z.strictObject({
    what: z.literal('firmware'),
    from: z.string(),
    to: z.string(),
    meansOther: z.array(z.string()).optional(),
  }),
  z.strictObject({ what: z.literal('act'), act: z.enum(['knock', 'remount']) }),
  z.strictObject({ what: z.literal('part'), part: z.string().min(1), act: z.enum(['replaced', 'fastened']) }),
])
const entry1 = z.strictObject({
  job: z.string(),
  seq: z.int().min(1),
  at: z.iso.datetime({ offset: true }),
  by: z.string(),
  body: z.discriminatedUnion('kind', [
    z.strictObject({
      kind: z.literal('take'),
      check: z.string(),
      checkVersion: z.int().min(1),
      verdict,
      findings: z.array(finding1),
      evidenceSha256: z.hex().length(64).nullable(),
      bench: z.string(),
      board: z.string(),
    }),
    z.strictObject({
      kind: z.literal('change'),
      change: change1,
      cause: z.string().min(1),
      remedyOf: z.strictObject({ seq: z.int().min(1), act: z.string().min(1) }).optional(),
    }),
    ...unchangedKinds,
  ]),
})

/** An entry of any format as one of today's. Throws a ZodError where it is of none. */
export const readEntry = (json: unknown): Entry =>
  typeof json === 'object' && json !== null && !('format' in json) ? fromFirst(entry1.parse(json)) : entry.parse(json)

const fromFirst = ({ body, ...where }: z.infer<typeof entry1>): Entry => ({
  format: 2,
  ...where,
  body: bodyFromFirst(body, where.seq),
})

const bodyFromFirst = (body: z.infer<typeof entry1>['body'], seq: number): EntryBody => {
  switch (body.kind) {
    case 'take':
      // When it began was not kept: what stands before it was taken as known to it.
      return { ...body, began: seq - 1, findings: body.findings.map(findingFromFirst) }
    case 'change':
      return { ...body, change: changeFromFirst(body.change) }
    default:
      return body
  }
}

const findingFromFirst = ({ remedy, ...rest }: z.infer<typeof finding1>): Finding =>
  remedy === undefined ? rest : { ...rest, remedy: remedyFromFirst(remedy) }

const remedyFromFirst = ({ act, settings, calibrate, image, work, socket, part }: z.infer<typeof remedy1>): Remedy => {
  if (settings !== undefined) return { by: 'settings', act, settings }
  if (calibrate !== undefined) return { by: 'calibration', act, calibrate }
  if (image !== undefined) return { by: 'image', act, image }
  if (work !== undefined)
    return { by: 'work', act, work, ...(socket === undefined ? {} : { socket }), ...(part === undefined ? {} : { part }) }
  return { by: 'technician', act }
}

const changeFromFirst = (change: z.infer<typeof change1>): Change => {
  switch (change.what) {
    case 'firmware':
      return {
        ...change,
        what: 'image',
        from: runsFromWords(change.from),
        to: runsFromWords(change.to) ?? { name: '', version: '' },
      }
    case 'act':
      return { what: change.act }
    default:
      return change
  }
}

const runsFromWords = (words: string): Runs | null => {
  const [name = '', version = ''] = words.split(' ')
  return words === 'none' || words === '' ? null : { name, version }
}
