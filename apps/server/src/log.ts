import { pino, type DestinationStream, type Logger } from 'pino'

/** What an error is logged as: errors of the database carry connections, and those carry passwords. */
interface Emitter {
  readonly type: string
  readonly message: string
  readonly code?: unknown
  readonly stack?: string
  readonly cause?: Emitter
}

const secretIn = /(\w+:\/\/[^:@\s/]*:)[^@\s]+@/g

export const tellError = (error: unknown, depth = 0): Emitter => {
  if (!(error instanceof Error)) return { type: typeof error, message: plain(String(error)) }
  const { name, message, stack } = error
  const code: unknown = 'code' in error ? error.code : undefined
  const cause: unknown = error.cause ?? ('original' in error ? error.original : undefined)
  return {
    type: name,
    message: plain(message),
    ...(code === undefined ? {} : { code }),
    ...(stack === undefined ? {} : { stack: plain(stack) }),
    ...(cause instanceof Error && depth < 3 ? { cause: tellError(cause, depth + 1) } : {}),
  }
}

/** Text without the passwords of addresses in it. */
const plain = (text: string): string => text.replace(secretIn, '$1***@')

/** The log: structured, and without anything that opens a door. */
export const openLog = (level: string, to?: DestinationStream): Logger => {
  const options = {
    level,
    serializers: { err: (error: unknown) => tellError(error), details: (details: unknown[]) => details.map((d) => tellError(d)) },
  }
  return to === undefined ? pino(options) : pino(options, to)
}
