import type { Finding, SheetPart } from '@taraf/contract'
import { modeName } from '@taraf/core'

export interface SwitchCell {
  /** Where the position was measured, us; null where it was not. */
  readonly us: number | null
  readonly mode: string | null
}
export interface SwitchColumns {
  readonly name: string
  readonly channel: number
  readonly positions: readonly SwitchCell[]
  /** The functions that hang on it: in which positions each is on, by the sheet's plan; null where nothing was measured. */
  readonly functions: readonly { readonly name: string; readonly band: string; readonly on: readonly (boolean | null)[] }[]
}

/** The switches of a sheet as tables: positions across, functions down, with what a take measured. */
export const switchColumns = ({ switches = [], switchPlan = [] }: SheetPart, findings: readonly Finding[]): SwitchColumns[] => {
  const valueOf = (key: string) => findings.find((f) => f.key === key)?.value
  return switches.map(({ name, channel, positions }) => {
    const cells = Array.from({ length: positions }, (_, p): SwitchCell => {
      const [us, mode] = [valueOf(`${name} ${p + 1}`), valueOf(`${name} ${p + 1} mode`)]
      return { us: typeof us === 'number' ? us : null, mode: typeof mode === 'string' ? mode : null }
    })
    const bands = switchPlan.flatMap((row) =>
      [row, ...(row.with === undefined ? [] : [row.with])]
        .filter((band) => band.channel === channel)
        .map(({ from, to }) => ({ name: row.function, from, to, both: row.with !== undefined })),
    )
    return {
      name,
      channel,
      positions: cells,
      functions: bands.map(({ name: of, from, to, both }) => ({
        name: both ? `${modeName(of)}, one of two` : modeName(of),
        band: `${from} to ${to}`,
        on: cells.map(({ us }) => (us === null ? null : us >= from && us <= to)),
      })),
    }
  })
}
