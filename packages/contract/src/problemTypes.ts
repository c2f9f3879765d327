import type { Problem } from './problem'

/**
 * Every error of the server as data (RFC 9457): a stable type, its status and what the technician can do about it.
 * `detail` of a problem says what happened this time.
 */
export const problemTypes = {
  'sign-in-needed': { status: 401, title: 'Not signed in', todo: 'Sign in and repeat it.' },
  'sign-in-wrong': { status: 401, title: 'Name or password is wrong', todo: 'Check both and try again.' },
  'too-many-tries': { status: 429, title: 'Too many tries', todo: 'Wait until the time named has passed, then try again.' },
  'not-allowed': { status: 403, title: 'Your role cannot do this', todo: 'Ask a technician or a lead to do it.' },
  'cross-site': {
    status: 403,
    title: 'The request came from another site',
    todo: 'Open Taraf at its own address and repeat it.',
  },
  'not-found': { status: 404, title: 'Not found', todo: 'Go back to the list of airframes and choose again.' },
  malformed: {
    status: 400,
    title: 'Taraf does not understand the request',
    todo: 'Reload the page; if it happens again, report the field named.',
  },
  'key-needed': { status: 400, title: 'The request carries no idempotency key', todo: 'Reload the page and repeat it.' },
  'key-reused': {
    status: 422,
    title: 'The idempotency key belongs to another request',
    todo: 'Reload the page and repeat it.',
  },
  'in-progress': { status: 409, title: 'The same request is still being worked on', todo: 'Wait for it to end.' },
  'bench-held': { status: 409, title: 'Somebody else holds the bench', todo: 'Ask them to let go of it, or link another bench.' },
  'bench-busy': { status: 409, title: 'The bench is busy', todo: 'Wait for what it is doing, or stop that first.' },
  'bench-elsewhere': { status: 409, title: 'Another server serves this bench', todo: 'Wait a few seconds and repeat it.' },
  'not-linked': { status: 409, title: 'No bench is linked to this job card', todo: 'Link the bench on the job card first.' },
  'link-lost': { status: 503, title: 'The link to the board is lost', todo: 'Check the cable; the link comes back by itself.' },
  'wrong-board': {
    status: 409,
    title: 'Another board is on this bench',
    todo: 'Put the airframe of this job card on the bench, or open the card of the one that is there.',
  },
  'job-closed': { status: 409, title: 'The job card is handed over', todo: 'Open a new job card for further work.' },
  'job-open': { status: 409, title: 'The airframe has an open job card', todo: 'Go on with that one.' },
  'needs-first': { status: 409, title: 'Other checks come first', todo: 'Do these first.' },
  'battery-first': { status: 409, title: 'The battery is not in', todo: 'Plug the battery in, props off, then repeat it.' },
  'props-first': {
    status: 409,
    title: 'Props are not confirmed off',
    todo: 'Take props and nuts off and confirm it for this battery connection.',
  },
  'no-such-remedy': { status: 409, title: 'There is no such remedy', todo: 'Look at the newest take and choose from there.' },
  'no-take': { status: 409, title: 'No take is running', todo: 'Start a take.' },
  'board-refused': { status: 502, title: 'The board refused', todo: 'Do what the detail says, then repeat it.' },
  'write-differs': {
    status: 502,
    title: 'The board did not keep what was written',
    todo: 'Compare the values named and write again.',
  },
  'cannot-sign': { status: 409, title: 'This signature cannot be given', todo: 'Do what the detail says, then sign again.' },
  'no-hands': { status: 404, title: 'This bench has no simulated hands', todo: 'Do it at the airframe itself.' },
  'hands-cannot': { status: 409, title: 'This cannot be done now', todo: 'Do what the detail says first.' },
  'database-away': {
    status: 503,
    title: 'The database does not answer',
    todo: 'Nothing is lost. Wait until it is back and repeat it.',
  },
  'sheet-wrong': {
    status: 422,
    title: 'The build sheet contradicts itself',
    todo: 'Correct the field named and send it again. Nothing was changed.',
  },
  'file-wrong': {
    status: 422,
    title: 'The file cannot be taken',
    todo: 'Correct what the detail names and choose the file again. Nothing was changed.',
  },
  'airframe-wrong': {
    status: 422,
    title: 'These airframes cannot be registered',
    todo: 'Correct what the detail names and send it again. Nothing was changed.',
  },
  'image-wrong': {
    status: 422,
    title: 'This image cannot be written to this board',
    todo: 'Choose an image that the sheet approves for this target. The board is as it was.',
  },
  parked: { status: 409, title: 'The job card is parked', todo: 'Take it up again first.' },
  'in-loader': {
    status: 409,
    title: 'The board waits in its loader',
    todo: 'Write an image to it: open the check "Firmware". What was written before is kept.',
  },
  'too-large': { status: 413, title: 'The request is too large', todo: 'Send less at once.' },
  busy: { status: 503, title: 'The server has too much to do', todo: 'Wait a few seconds and repeat it.' },
  fault: {
    status: 500,
    title: 'Taraf made a mistake',
    todo: 'Repeat it; if it happens again, report the time and what you did.',
  },
} as const

export type ProblemType = keyof typeof problemTypes

export const makeProblem = (type: ProblemType, detail: string, instance?: string): Problem => ({
  type: `/problems/${type}`,
  ...problemTypes[type],
  detail,
  ...(instance === undefined ? {} : { instance }),
})
