/** How long the battery may be on with no air moving over the airframe before somebody should know (common practice). */
export const heatWarnS = 300

/** Minutes and seconds since the battery was connected, as the watch line shows them. */
export const sinceWords = (seconds: number): string =>
  `${Math.floor(seconds / 60)}:${String(Math.floor(seconds % 60)).padStart(2, '0')}`
