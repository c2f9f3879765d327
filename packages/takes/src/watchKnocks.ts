import { senseColumn, type SenseTell } from '@taraf/contract'
import { KnockWatch } from '@taraf/core/watches'
import type { Cancel, Clock } from './clock'
import type { BoardLink } from './link/boardLink'

/** Tells of each knock that the board of a link feels while its motors stand. */
export const watchKnocks = (link: BoardLink, clock: Clock, knocked: () => void): Cancel => {
  const watch = new KnockWatch()
  const look = (block: SenseTell) => {
    if (link.state?.motors !== 'still') return watch.pause()
    const [ax, ay, az] = [senseColumn(block, 'ax'), senseColumn(block, 'ay'), senseColumn(block, 'az')]
    let felt = false
    for (let i = 0; i < ax.length; i++)
      felt = watch.push([ax[i] as number, ay[i] as number, az[i] as number], clock.nowMs() / 1000) || felt
    if (felt) knocked()
  }
  link.on('block', look)
  return () => link.off('block', look)
}
