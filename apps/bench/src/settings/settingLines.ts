import type { BoardSetting, Settings } from '@taraf/contract'

export interface Line {
  readonly setting: BoardSetting
  /** What the sheet says, where it says something. */
  readonly sheet: number | undefined
  readonly differs: boolean
}

const isSame = (a: number, b: number) => Math.abs(a - b) <= 1e-6 * Math.max(1, Math.abs(b))

/** Settings beside what the sheet says of each, those that a search leaves; what differs comes first within its group. */
export const linesOf = (settings: readonly BoardSetting[], sheet: Settings, search: string): Line[] => {
  const sought = search.trim().toLowerCase()
  const [other, same]: [Line[], Line[]] = [[], []]
  for (const setting of settings) {
    if (sought !== '' && !setting.name.toLowerCase().includes(sought)) continue
    const wanted = sheet[setting.name]
    const differs = wanted !== undefined && !isSame(setting.saved, wanted)
    ;(differs ? other : same).push({ setting, sheet: wanted, differs })
  }
  return other.concat(same)
}
