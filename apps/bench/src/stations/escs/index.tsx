import { escSetting, escValueWords, limitFor, outputsOf, settingsWanted } from '@taraf/core'
import { wanted } from '../board/wanted'
import type { Panel } from '../panel'
import { RangeLive } from './RangeLive'
import { speedsLive } from './SpeedsLive'
import { settingRows } from './settingRows'
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
    Live: wanted(
      ({ sheet }) =>
        Object.entries(settingsWanted(sheet)).map(([name, value]) => ({
          label: escSetting(name).words,
          value: escValueWords(name, value),
        })),
      'What differs is written to the ESCs that it differs on, read back, and read again after the battery was off.',
    ),
    draws: ({ findings }) => settingRows(findings).length > 0,
    Result: ({ take }) => <SettingsTable findings={take.body.findings} />,
    turned: flat,
  },
  'escs.signal': {
    Live: wanted(
      ({ sheet }) => [{ label: 'the ESCs understand', value: (sheet.escs?.understands ?? []).join(', ') }],
      'One command, with its reply, must be over before the next one begins.',
    ),
    Result: SignalLine,
    draws: ({ findings }) => findings.some(({ key }) => key === 'frameUs'),
    turned: flat,
  },
  'escs.range': {
    Live: RangeLive,
    turned: flat,
  },
  'escs.data': {
    Live: speedsLive('escs.data', ({ sheet }) => `At most ${limitFor(sheet, 'escs.errors').max} % of the replies may be bad.`),
    turned: flat,
  },
}
