import { outputsOf } from '@taraf/core'
import { wanted } from '../board/wanted'
import type { Panel } from '../panel'
import { DataLive } from './DataLive'
import { SettingsTable } from './SettingsTable'
import { SignalLine } from './SignalLine'

const flat = () => false

export const escs: Readonly<Record<string, Panel>> = {
  'escs.found': {
    Live: wanted(
      ({ sheet }) => [{ label: 'ESCs, each at its output', value: outputsOf(sheet).join(', ') }],
      'With the battery in, every ESC is asked who it is. Nothing turns.',
      'ESC',
    ),
    turned: flat,
  },
  'escs.settings': {
    Result: ({ take }) => <SettingsTable findings={take.body.findings} />,
    turned: flat,
  },
  'escs.signal': {
    Live: wanted(
      ({ sheet }) => [{ label: 'the ESCs understand', value: (sheet.escs?.understands ?? []).join(', ') }],
      'One command, with its reply, must be over before the next one begins.',
    ),
    Result: SignalLine,
    turned: flat,
  },
  'escs.data': { Live: DataLive, turned: flat },
}
