import type { EscSettings } from '../drive/drive'
import { soundEsc } from '../sound'
import { driveAt, isDigital, oneDrive, outputsWhere, someOutput, wiredOutputs, wrongSettings, type Fault } from './fault'

/** One setting of one ESC, or of all, that is not as the sheet wants it. */
const escSetting = (id: string, where: string, shows: string, name: keyof EscSettings, wrong: number, all: boolean): Fault => {
  const right = soundEsc().settings[name]
  return {
    id,
    station: 'escs',
    where,
    shows,
    caughtBy: 'escs.settings',
    remedy: `write ${name} ${right} to the ESCs named`,
    likelihood: 0.02,
    inject: (site) => {
      for (const output of all ? wiredOutputs(site.airframe) : [someOutput(site)]) {
        const esc = driveAt(site, output)?.esc
        if (esc === undefined) continue
        esc.settings = { ...esc.settings, [name]: wrong }
        esc.saved = { ...esc.saved, [name]: wrong }
      }
    },
    isIn: (rig) => outputsWhere(rig, ({ esc }) => esc.settings[name] !== right || esc.saved[name] !== right).length > 0,
    mend: (rig) => ({
      escs: { outputs: outputsWhere(rig, ({ esc }) => esc.settings[name] !== right), settings: { [name]: right } },
    }),
  }
}

export const escFaults: readonly Fault[] = [
  oneDrive(
    {
      id: 'escs.missing',
      station: 'escs',
      where: 'plug of one ESC, not home or with a bent pin',
      shows: 'one ESC fewer than fitted is found',
      caughtBy: 'escs.found',
      remedy: 'reseat the plug of that output',
      likelihood: 0.03,
    },
    'reseat esc',
    ({ esc }) => void (esc.plug = 'silent'),
    ({ esc }) => esc.plug === 'silent',
  ),
  escSetting('escs.brake', 'brake of one ESC', 'its rotor stops dead instead of coasting', 'brake', 1, false),
  escSetting(
    'escs.lowVoltageCut',
    'low-voltage cut-off of all ESCs',
    'it cuts the motors of a craft that flies',
    'cutCellV',
    3.2,
    true,
  ),
  escSetting('escs.timing', 'timing advance of one ESC', 'it differs from its neighbours', 'timingDeg', 30, false),
  escSetting(
    'escs.noLockedRotor',
    'locked-rotor limit of all ESCs',
    'the protection is off without a reason',
    'lockedRotorS',
    0,
    true,
  ),
  escSetting('escs.switching', 'switching frequency of one ESC', 'it differs from its neighbours', 'switchingKHz', 48, false),
  wrongSettings(
    {
      id: 'escs.signalType',
      station: 'escs',
      where: 'signal type on the board',
      shows: 'a type that no ESC here understands: all silent, errors on all',
      caughtBy: 'escs.signal',
      fits: isDigital,
    },
    { 'esc.signal': 6 },
    { 'esc.signal': 4 },
  ),
  oneDrive(
    {
      id: 'escs.oldEsc',
      station: 'escs',
      where: 'one ESC of an older make',
      shows: 'it understands analogue signals only and is silent on the digital one',
      caughtBy: 'escs.signal',
      remedy: 'replace the ESC',
      likelihood: 0.01,
      fits: isDigital,
    },
    'replace esc',
    ({ esc }) => void (esc.understands = ['PWM', 'OneShot125']),
    ({ esc }) => !esc.understands.includes('DShot300'),
  ),
  oneDrive(
    {
      id: 'escs.wontLearn',
      station: 'escs',
      where: 'memory of one analogue ESC',
      shows: 'it was taught the range, and keeps its own',
      caughtBy: 'escs.range',
      remedy: 'replace the ESC',
      likelihood: 0.05,
      fits: (airframe) => !isDigital(airframe),
    },
    'replace esc',
    ({ esc }, { random }) => void Object.assign(esc, { learns: false, range: { low: random.between(0.08, 0.14), high: 0.9 } }),
    ({ esc }) => !esc.learns,
  ),
  oneDrive(
    {
      id: 'escs.replyErrors',
      station: 'escs',
      where: 'signal lead of one ESC along a power lead',
      shows: 'over 1 % of its replies are bad',
      caughtBy: 'escs.data',
      remedy: 'replace the ESC and its lead',
      likelihood: 0.02,
      fits: isDigital,
    },
    'replace esc',
    ({ esc }, site) => void (esc.replyErrors = site.beyond(0.01, 0.001, 3)),
    ({ esc }) => esc.replyErrors > 0.01,
  ),
  oneDrive(
    {
      id: 'escs.forgets',
      station: 'escs',
      where: 'memory of one ESC',
      shows: 'what was written is gone after the battery was off',
      caughtBy: 'escs.settings',
      remedy: 'replace the ESC',
      likelihood: 0.005,
    },
    'replace esc',
    ({ esc }) => void Object.assign(esc, { keepsSettings: false, saved: { ...esc.saved, timingDeg: 22 } }),
    ({ esc }) => !esc.keepsSettings,
  ),
  {
    ...wrongSettings(
      {
        id: 'escs.poles',
        station: 'escs',
        where: 'pole count on the board',
        shows: 'speeds are wrong by the ratio of the counts',
        caughtBy: 'escs.data',
        fits: isDigital,
      },
      { 'esc.poles': 12 },
      {},
    ),
    remedy: 'write esc.poles',
    isIn: ({ airframe, board }) => airframe.drives.some((d) => d !== null && d.motor.poles !== board.settings.get('esc.poles')),
    mend: ({ airframe }) => ({ settings: { 'esc.poles': airframe.drives.find((d) => d !== null)?.motor.poles ?? 14 } }),
  },
]
