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
  const lines = settings.flatMap((setting): Line[] => {
    if (sought !== '' && !setting.name.toLowerCase().includes(sought)) return []
    const wanted = sheet[setting.name]
    return [{ setting, sheet: wanted, differs: wanted !== undefined && !isSame(setting.saved, wanted) }]
  })
  return [...lines.filter((l) => l.differs), ...lines.filter((l) => !l.differs)]
}
