import type { Column, Evidence, Finding, Reports, Segment, Settings, SheetPart, WantOf } from '@taraf/contract'
import { outputsOf } from '../geometry'
import { whyLeftOut } from '../sheetHas'

export type EscRead = NonNullable<Reports['escs']>[number]

/** Battery in, props and nuts off: an ESC answers only then, and what answers can turn a motor. */
export const powered = { battery: true, props: 'off' } as const

/** Reads every ESC: the battery feeds them, the board asks them. */
export const readEscs = {
  kind: 'reports',
  label: 'asked',
  ask: 'Battery in, props and nuts off. Leave it: every ESC is read.',
  of: ['escs'],
  state: powered,
} as const satisfies WantOf<'reports'>

/** What each ESC of the sheet said in a segment, in the order of its outputs; null where it did not answer. */
export const escsIn = ({ sheet, segments }: Pick<Evidence, 'sheet' | 'segments'>, label: string): Map<number, EscRead | null> => {
  const read = segments.find((s) => s.label === label)?.reports?.escs ?? []
  return new Map(outputsOf(sheet).map((output) => [output, read.find((esc) => esc.output === output && esc.found) ?? null]))
}

/** Outputs in words: `output 3`, `outputs 1 and 2`, `outputs 1, 2 and 4`. */
export const outputWords = (outputs: readonly number[]): string => {
  const [last, ...before] = [...outputs].reverse()
  return before.length === 0 ? `output ${last ?? 0}` : `outputs ${before.reverse().join(', ')} and ${last ?? 0}`
}

/** Nothing is found of ESCs of which one does not answer. */
export const someSilent = (escs: ReadonlyMap<number, EscRead | null>): Finding[] | null => {
  const silent = [...escs].flatMap(([output, esc]) => (esc === null ? [output] : []))
  return silent.length === 0
    ? null
    : [
        {
          key: 'refused',
          value: `the ESC at ${outputWords(silent)} did not answer`,
          unit: '',
          verdict: 'refused',
          remedy: {
            by: 'work',
            act: `Battery out. Look at the plug at ${outputWords(silent)}, push it home, and run it again.`,
            work: ['reseat ESC plug', 'replace ESC'],
            outputs: silent,
          },
        },
      ]
}

/** A column that the ESC at an output tells, or undefined. */
export const ofOutput = (stream: Segment['streams']['escs'], name: 'rpm' | 'err', output: number): Column | undefined =>
  (stream as Readonly<Record<string, Column | undefined>> | undefined)?.[`${name}${output}`]

/** Whether the ESCs of a sheet say how fast they turn: a sheet of those that do not leaves out what asks them. */
export const escsTell = (sheet: SheetPart): boolean => whyLeftOut(sheet, 'escs.data') === null

/** Whether the board asks the ESCs how fast they turn. */
export const tellsSpeeds = (settings: Settings | undefined): boolean => settings?.['esc.replies'] !== 0
