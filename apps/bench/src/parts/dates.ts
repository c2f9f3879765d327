import { intlFormat } from 'date-fns/intlFormat'
import { isSameDay } from 'date-fns/isSameDay'

const written = { locale: 'en-GB' }

/** A moment as people at the bench write it. */
export const dateWords = (iso: string): string => intlFormat(iso, { dateStyle: 'medium', timeStyle: 'short' }, written)

/** The time of a moment today, the day of an earlier one. */
export const timeWords = (iso: string, now = new Date()): string =>
  intlFormat(iso, isSameDay(iso, now) ? { timeStyle: 'short' } : { day: 'numeric', month: 'short' }, written)
