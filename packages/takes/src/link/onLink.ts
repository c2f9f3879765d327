import type { Change } from '@taraf/contract'
import { type LinkStep } from '@taraf/core/atLink'
import type { BoardLink } from './boardLink'

const calibrateMs = 8_000

/** Who does what a link cannot: takes the battery out and puts it in, and keeps on the card what was changed. */
export interface BesideLink {
  readonly battery: (wanted: 'off' | 'on') => Promise<void>
  readonly keep: (change: Change) => Promise<void>
}
const nobody = () => Promise.reject(new Error('these steps want somebody at the bench and a card, and have neither'))

/** Goes through steps of the core at a linked board, each answer handed back; to the end, so that what a step tried is put back. */
export const onLink = async <T>(
  link: BoardLink,
  steps: Generator<LinkStep, T, never>,
  beside: BesideLink = { battery: nobody, keep: nobody },
): Promise<T> => {
  let answer: unknown
  for (;;) {
    const step = steps.next(answer as never)
    if (step.done === true) return step.value
    answer = await doStep(link, step.value, beside)
  }
}

const doStep = (link: BoardLink, step: LinkStep, beside: BesideLink): Promise<unknown> => {
  if ('waitS' in step) return link.passed(step.waitS)
  if ('restart' in step) return link.restart()
  if ('battery' in step) return beside.battery(step.battery)
  if ('keep' in step) return beside.keep(step.keep)
  return step.ask === 'calibrate' ? link.ask(step, calibrateMs) : link.ask(step)
}
