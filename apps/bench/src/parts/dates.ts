const full = new Intl.DateTimeFormat('en-GB', { dateStyle: 'medium', timeStyle: 'short' })

/** A moment as people at the bench write it. */
export const dateWords = (iso: string): string => full.format(new Date(iso))
