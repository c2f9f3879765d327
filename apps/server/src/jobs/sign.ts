import type { Person } from '@taraf/contract'
import { checks, openItems, outcomeOf, parkedFor, recordLines, signatureInForce } from '@taraf/core'
import { ProblemError } from '@taraf/contract'
import type { LockedJob } from '../record/cards'

/**
 * Signs a job card over the head of its chain: the technician first, then a lead who is somebody else. The second
 * signature hands over. Whatever is appended between them voids the first.
 */
export const sign = async (job: LockedJob, role: 'technician' | 'lead', person: Person, requestKey: string): Promise<void> => {
  const head = job.entries.at(-1)
  if (head === undefined) throw new ProblemError('cannot-sign', 'Nothing has been taken on this job card yet.')
  const parked = parkedFor(job.entries)
  if (parked !== null) throw new ProblemError('cannot-sign', `The job card is parked: ${parked}`)
  const blocking = openItems(job.entries).filter((item) => item.blocks)
  if (blocking.length > 0)
    throw new ProblemError(
      'cannot-sign',
      `Still open: ${blocking
        .slice(0, 4)
        .map((item) => item.words.replace(/\.$/, ''))
        .join('; ')}${blocking.length > 4 ? `; and ${blocking.length - 4} more` : ''}.`,
    )
  const first = signatureInForce(job.entries)
  if (role === 'technician') {
    if (person.role === 'reader') throw new ProblemError('cannot-sign', `${person.name} is a reader and cannot sign.`)
    if (first !== null) throw new ProblemError('cannot-sign', 'The technician has signed already; the lead signs next.')
    await job.append(person.id, { kind: 'signature', role, over: head.hash }, requestKey)
    return
  }
  if (person.role !== 'lead') throw new ProblemError('cannot-sign', `${person.name} is no lead.`)
  if (first === null)
    throw new ProblemError('cannot-sign', 'The technician signs first, over everything that is on the card now.')
  if (first.by === person.id)
    throw new ProblemError('cannot-sign', 'The lead must be somebody other than the technician who signed.')
  const second = await job.append(person.id, { kind: 'signature', role, over: head.hash }, requestKey)
  await job.append(person.id, {
    kind: 'handover',
    outcome: outcomeOf(job.standings),
    airframe: { tag: job.tag, board: job.board, sheetType: job.sheet.type, sheetVersion: job.sheet.version },
    checks: recordLines(checks, job.sheet, job.standings, job.entries),
    signatures: [
      { role: 'technician', by: first.by, seq: first.seq },
      { role: 'lead', by: person.id, seq: second.seq },
    ],
  })
}
