/** What is sent while a range is taught, and what a person does or hears meanwhile. */
export const teachWords = {
  high: 'High is on every output. Put the battery in now.',
  upper: 'Still high: the ESCs learn the upper end. Leave everything as it is.',
  lower: 'Low: the ESCs learn the lower end. Leave everything as it is.',
} as const
export type TeachPhase = keyof typeof teachWords
