import type { SheetPart } from '@taraf/contract'
import { limitReasons } from '../limitReasons'
import { limits, type LimitName } from '../limits'

/** What is wrong with a limit that a sheet sets: the place, and what is wrong there. */
export interface WrongLimit {
  readonly place: string
  readonly why: string
}

interface Known {
  readonly min?: number
  readonly max?: number
  readonly unit: string
}
const sides = ['min', 'max'] as const

/** Limits of a sheet that no check can apply as they are said: unknown, by the side that there is none of, or that no value meets. */
export const limitsAgainst = (own: NonNullable<SheetPart['limits']>): WrongLimit[] =>
  Object.entries(own).flatMap(([name, said]): WrongLimit[] => {
    const place = `limits["${name}"]`
    if (!Object.hasOwn(limits, name))
      return [{ place, why: `there is no limit of this name; there are ${Object.keys(limits).join(', ')}` }]
    const has: Known = limits[name as LimitName]
    const side = sides.find((s) => said[s] !== undefined && has[s] === undefined)
    if (side !== undefined) {
      const other = side === 'min' ? 'max' : 'min'
      const why = `this limit has no ${side}, only a ${other}: write ${said[side]} as that, or leave it out`
      return [{ place: `${place}.${side}`, why }]
    }
    const [low, high] = [said.min ?? has.min, said.max ?? has.max]
    return low !== undefined && high !== undefined && low > high
      ? [{ place, why: `no value is from ${low} to ${high}: one of them is the shop’s where the sheet does not say it` }]
      : []
  })

/** A limit of a part, and the one of the whole that holds that part: what is judged by the first alone is between them. */
const partOf = [['smooth.atTurning', 'smooth.whole']] as const

/** Limits of a sheet that never decide: the whole, which holds what they judge, may be no more than they let pass. */
export const limitsThatDecideNothing = (own: NonNullable<SheetPart['limits']>): WrongLimit[] =>
  partOf.flatMap(([part, whole]): WrongLimit[] => {
    const [most, ofWhole] = [part, whole].map((name) => own[name]?.max ?? limits[name].max) as [number, number]
    const place = `limits["${own[part] === undefined ? whole : part}"].max`
    return most < ofWhole
      ? []
      : [{ place, why: `${part} is ${most} and ${whole}, which holds it, ${ofWhole}: write less for ${part}` }]
  })

/** Limits of a sheet that make no sense for any type: too wide to find anything, or narrower than anything can be measured. */
export const limitsBeyondSense = (own: NonNullable<SheetPart['limits']>): WrongLimit[] =>
  Object.entries(own).flatMap(([name, said]): WrongLimit[] => {
    if (!Object.hasOwn(limits, name)) return []
    const { unit }: Known = limits[name as LimitName]
    const [least, most] = limitReasons[name as LimitName].sense
    return sides.flatMap((side): WrongLimit[] => {
      const value = said[side]
      return value === undefined || (value >= least && value <= most)
        ? []
        : [{ place: `limits["${name}"].${side}`, why: `${value} is beyond sense: write ${least} to ${most} ${unit}`.trimEnd() }]
    })
  })
