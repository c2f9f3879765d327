import { arming } from './arming'
import { board } from './board'
import { escs } from './escs'
import { failsafe } from './failsafe'
import { hover } from './hover'
import { intake } from './intake'
import { motors } from './motors'
import { orientation } from './orientation'
import type { Panel } from './panel'
import { radio } from './radio'
import { sensors } from './sensors'
import { switches } from './switches'

/** The panel of every check, by its id. */
export const panels: Readonly<Record<string, Panel>> = {
  ...intake,
  ...board,
  ...sensors,
  ...orientation,
  ...radio,
  ...switches,
  ...escs,
  ...motors,
  ...arming,
  ...failsafe,
  ...hover,
}
