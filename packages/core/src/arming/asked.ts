/** What the questions of this station are called, and how they are answered. */
export const armedAnswers = {
  light: 'armedLight',
  turns: 'turned evenly',
  stutters: 'stuttered',
  stands: 'stood',
} as const
