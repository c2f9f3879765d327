import { board } from './board'
import { intake } from './intake'
import { orientation } from './orientation'
import type { Panel } from './panel'
import { sensors } from './sensors'

/** The panel of every check, by its id. */
export const panels: Readonly<Record<string, Panel>> = { ...intake, ...board, ...sensors, ...orientation }
