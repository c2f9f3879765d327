/** What the command in hover is called, that something is held against. */
export const hoverWords = {
  hover: 'Command in hover that it is held against',
  hoverFrom: 'Known from',
  hoverVolts: 'At mid-pack voltage',
} as const
