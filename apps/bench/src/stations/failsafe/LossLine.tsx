import { CommandLine, type CommandLineProps } from '../../parts/CommandLine'

/** What each phase of a loss is called on the line. */
const phaseWords: Readonly<Record<string, string>> = {
  none: 'sticks',
  notice: 'missing',
  wait: 'waits',
  act: 'acts',
  end: 'ended',
  recover: 'returns',
}

export interface LossLineProps extends Omit<CommandLineProps, 'marks'> {
  /** When each phase began, s, in order. */
  readonly phases: readonly { readonly t: number; readonly phase: string }[]
}

/** One loss of signal on a line of time: its phases, and the command against that of hover. */
export const LossLine = ({ phases, ...rest }: LossLineProps) => (
  <CommandLine {...rest} marks={phases.map(({ t, phase }) => ({ t, words: phaseWords[phase] ?? phase }))} />
)
