const full = new Intl.DateTimeFormat('en-GB', { dateStyle: 'medium', timeStyle: 'short' })

/** A moment as people at the bench write it. */
export const dateWords = (iso: string): string => full.format(new Date(iso))

const time = new Intl.DateTimeFormat('en-GB', { timeStyle: 'short' })
const day = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short' })

/** The time of a moment today, the day of an earlier one. */
export const timeWords = (iso: string, now = new Date()): string => {
  const at = new Date(iso)
  return at.toDateString() === now.toDateString() ? time.format(at) : day.format(at)
}
