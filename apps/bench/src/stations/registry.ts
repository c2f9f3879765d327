import { orientation } from './orientation'
import type { Panel } from './panel'
import { sensors } from './sensors'

/** The panel of every check, by its id. */
export const panels: Readonly<Record<string, Panel>> = { ...sensors, ...orientation }
