import type { ZodError } from 'zod'

/** The first issue as `place: what was expected`, the place written as in JavaScript. */
export const firstIssue = (error: ZodError): string => {
  const issue = error.issues[0]
  if (issue === undefined) return 'unreadable'
  return placeAndExpectation(issue, [])
}

type Issue = ZodError['issues'][number]

const placeAndExpectation = (issue: Issue, before: readonly PropertyKey[]): string => {
  const path = [...before, ...issue.path]
  // A union hides what its likeliest branch expected: the first that got further than the type of the whole.
  if (issue.code === 'invalid_union') {
    const branch = issue.errors.find((issues) => issues.some((i) => i.path.length > 0)) ?? issue.errors[0]
    const inner = branch?.[0]
    if (inner !== undefined) return placeAndExpectation(inner as Issue, path)
  }
  const place = path
    .map((p) => (typeof p === 'number' ? `[${p}]` : `.${String(p)}`))
    .join('')
    .replace(/^\./, '')
  return place === '' ? issue.message : `${place}: ${issue.message}`
}
