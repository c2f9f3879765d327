import { isDatabaseAway } from './database'

test.each([
  ['a connection that was refused', Object.assign(new Error('connect'), { code: 'ECONNREFUSED' })],
  ['one that broke while it was used', new Error('Client has encountered a connection error and is not queryable')],
  ['one that ended', new Error('Connection terminated unexpectedly')],
  ['a postmaster that is gone', Object.assign(new Error('terminating connection'), { code: '57P01' })],
  ['one that starts', Object.assign(new Error('the database system is starting up'), { code: '57P03' })],
  ['the same, as Sequelize wraps it', Object.assign(new Error(), { parent: Object.assign(new Error('x'), { code: '08006' }) })],
  ['the same, as a cause', new Error('failed', { cause: Object.assign(new Error('x'), { code: 'EPIPE' }) })],
])('%s is the database being away', (_what, error) => expect(isDatabaseAway(error)).toBe(true))

test.each([
  ['a value that cannot be kept', Object.assign(new Error('out of range'), { code: '22003' })],
  ['a mistake of ours', new TypeError('x is not a function')],
  ['no error at all', 'ECONNREFUSED'],
])('%s is not', (_what, error) => expect(isDatabaseAway(error)).toBe(false))
