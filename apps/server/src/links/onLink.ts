import type { LinkStep } from '@taraf/core'
import type { BenchLink } from './benchLink'

const calibrateMs = 8_000

/** Whoever takes the battery out and puts it in where a step wants that. */
export type BatteryHand = (wanted: 'off' | 'on') => Promise<void>
const nobody: BatteryHand = () => Promise.reject(new Error('these steps want the battery out and in, and nobody is asked'))

/** Goes through steps of the core at a linked board, each answer handed back; to the end, so that what a step tried is put back. */
export const onLink = async <T>(link: BenchLink, steps: Generator<LinkStep, T, never>, battery = nobody): Promise<T> => {
  let answer: unknown
  for (;;) {
    const step = steps.next(answer as never)
    if (step.done === true) return step.value
    answer = await doStep(link, step.value, battery)
  }
}

const doStep = (link: BenchLink, step: LinkStep, battery: BatteryHand): Promise<unknown> => {
  if ('waitS' in step) return link.passed(step.waitS)
  if ('restart' in step) return link.restart()
  if ('battery' in step) return battery(step.battery)
  return step.ask === 'calibrate' ? link.ask(step, calibrateMs) : link.ask(step)
}
