import { typeFacts } from '../sound'
import type { Rig } from '../rig'
import { wrongSettings, type Fault } from './fault'

/** Volts that the board reads for a volt at the plug, and amperes for an ampere. */
const voltError = ({ board: { settings: s }, airframe: { power } }: Rig): number => {
  const pin = 1 / power.trueVoltRatio
  return (s.isOn('power.voltDivides') ? pin / s.get('power.voltScale') : pin * s.get('power.voltScale')) - 1
}
const ampError = ({ board: { settings: s }, airframe: { power } }: Rig): number => {
  const pin = power.trueMvPerAmp / 1000
  return (s.isOn('power.ampDivides') ? pin / s.get('power.ampScale') : pin * s.get('power.ampScale')) - 1
}
const round = (value: number) => Math.round(value * 1e5) / 1e5

export const powerFaults: readonly Fault[] = [
  {
    id: 'power.voltScale',
    station: 'power',
    where: 'scale of the voltage sensor',
    shows: 'the board reads over 1 % beside the meter',
    caughtBy: 'power.voltage',
    remedy: 'write scale x meter / reading, or its inverse where the setting divides',
    likelihood: 0.06,
    inject: ({ settings, beyond, random }) =>
      void (settings['power.voltScale'] = 11 * (1 + (random.uniform() < 0.5 ? -1 : 1) * beyond(0.02, 0.001, 3))),
    isIn: (rig) => Math.abs(voltError(rig)) > 0.01,
    mend: (rig) => ({ settings: { 'power.voltScale': round(rig.board.settings.get('power.voltScale') / (1 + voltError(rig))) } }),
  },
  {
    id: 'power.voltDivides',
    station: 'power',
    where: 'way in which the voltage scale works',
    shows: 'a scale written the wrong way round: the correction makes it worse',
    caughtBy: 'power.voltage',
    remedy: 'write the scale the way that the setting uses it',
    likelihood: 0.02,
    inject: ({ settings }) => void Object.assign(settings, { 'power.voltDivides': 1, 'power.voltScale': 0.085 }),
    isIn: (rig) => Math.abs(voltError(rig)) > 0.01,
    mend: (rig) => ({ settings: { 'power.voltScale': round(rig.board.settings.get('power.voltScale') * (1 + voltError(rig))) } }),
  },
  {
    id: 'power.ampScale',
    station: 'power',
    where: 'scale of the current sensor',
    shows: 'the charge put back differs by over 5 % from what the board counted',
    caughtBy: 'power.current',
    remedy: 'write scale x counted / charged where it divides',
    likelihood: 0.06,
    inject: ({ settings, beyond }) =>
      void Object.assign(settings, { 'power.ampDivides': 1, 'power.ampScale': 0.025 * (1 + beyond(0.09, 0.005, 2)) }),
    isIn: (rig) => Math.abs(ampError(rig)) > 0.05,
    mend: (rig) => ({ settings: { 'power.ampScale': round(rig.board.settings.get('power.ampScale') * (1 + ampError(rig))) } }),
  },
  wrongSettings(
    {
      id: 'power.ampOffset',
      station: 'power',
      where: 'offset of the current sensor',
      shows: 'current is read with nothing connected',
      caughtBy: 'power.current',
    },
    { 'power.ampOffset': -0.8 },
    { 'power.ampOffset': 0 },
  ),
  {
    ...wrongSettings(
      {
        id: 'power.cells',
        station: 'power',
        where: 'cell count',
        shows: 'volts for a cell are wrong: warnings never come',
        caughtBy: 'power.pack',
      },
      { 'power.cells': 3 },
      {},
    ),
    remedy: 'write power.cells',
    isIn: ({ airframe, board }) => board.settings.get('power.cells') !== airframe.power.pack.cells,
    mend: ({ airframe }) => ({ settings: { 'power.cells': airframe.power.pack.cells } }),
  },
  wrongSettings(
    {
      id: 'power.warnLate',
      station: 'power',
      where: 'voltage warnings',
      shows: 'the two warnings come too close together to get home',
      caughtBy: 'power.warnings',
    },
    { 'power.warnCell': 3.32 },
    { 'power.warnCell': 3.5 },
  ),
  {
    id: 'power.otherPack',
    station: 'power',
    where: 'the pack: cells of another make with high resistance',
    shows: 'the volts sag far under load',
    caughtBy: 'power.pack',
    remedy: 'hand over with the pack that the sheet names',
    likelihood: 0.01,
    inject: ({ airframe: { power } }) => void (power.pack.cellResistance = 0.02),
    isIn: ({ airframe: { power } }) => power.pack.cellResistance > 0.012,
    mend: () => ({ acts: [{ act: 'change pack' }] }),
  },
]

export const fitOutFaults: readonly Fault[] = [
  {
    id: 'fitOut.cameraTurned',
    station: 'fitOut',
    where: 'camera',
    shows: 'the picture is upside down',
    caughtBy: 'fitOut.picture',
    remedy: 'turn the camera',
    likelihood: 0.03,
    fits: ({ fitOut }) => fitOut.videoFitted,
    inject: ({ airframe }) => void (airframe.fitOut.camera = 'upside down'),
    isIn: ({ airframe }) => airframe.fitOut.camera === 'upside down',
    mend: () => ({ acts: [{ act: 'turn camera' }] }),
  },
  {
    id: 'fitOut.cameraBlurred',
    station: 'fitOut',
    where: 'lens of the camera',
    shows: 'the picture is not sharp',
    caughtBy: 'fitOut.picture',
    remedy: 'replace the camera or set its lens',
    likelihood: 0.02,
    fits: ({ fitOut }) => fitOut.videoFitted,
    inject: ({ airframe }) => void (airframe.fitOut.camera = 'blurred'),
    isIn: ({ airframe }) => airframe.fitOut.camera === 'blurred',
    mend: () => ({ acts: [{ act: 'replace', part: 'camera' }] }),
  },
  wrongSettings(
    {
      id: 'fitOut.videoChannel',
      station: 'fitOut',
      where: 'channel of the video transmitter',
      shows: 'no picture on the channel of the sheet',
      caughtBy: 'fitOut.picture',
    },
    { 'video.channel': 5 },
    { 'video.channel': 1 },
  ),
  wrongSettings(
    {
      id: 'fitOut.videoPower',
      station: 'fitOut',
      where: 'power of the video transmitter',
      shows: 'more than the region allows',
      caughtBy: 'fitOut.picture',
    },
    { 'video.power': 600 },
    { 'video.power': 25 },
  ),
  {
    id: 'fitOut.sounder',
    station: 'fitOut',
    where: 'sounder',
    shows: 'silent when asked for',
    caughtBy: 'fitOut.sounder',
    remedy: 'replace the sounder',
    likelihood: 0.02,
    inject: ({ airframe }) => void (airframe.fitOut.sounder = false),
    isIn: ({ airframe }) => !airframe.fitOut.sounder,
    mend: () => ({ acts: [{ act: 'replace', part: 'sounder' }] }),
  },
  {
    id: 'fitOut.lights',
    station: 'fitOut',
    where: 'lights, front and rear exchanged',
    shows: 'the front shows red',
    caughtBy: 'fitOut.lights',
    remedy: 'exchange the lights',
    likelihood: 0.02,
    inject: ({ airframe }) => void (airframe.fitOut.lights = { front: 'red', rear: 'white', work: true }),
    isIn: ({ airframe }) => airframe.fitOut.lights.front !== 'white',
    mend: () => ({ acts: [{ act: 'replace', part: 'lights' }] }),
  },
  {
    id: 'fitOut.payload',
    station: 'fitOut',
    where: 'release of the payload',
    shows: 'it lets go without being told',
    caughtBy: 'fitOut.payload',
    remedy: 'replace the release',
    likelihood: 0.01,
    inject: ({ airframe }) => void (airframe.fitOut.payload = 'releases by itself'),
    isIn: ({ airframe }) => airframe.fitOut.payload !== 'works',
    mend: () => ({ acts: [{ act: 'replace', part: 'payload' }] }),
  },
  {
    id: 'hover.overweight',
    station: 'hover',
    where: 'payload heavier than the sheet says',
    shows: 'it hovers at more command than others of its type',
    caughtBy: 'hover.hop',
    remedy: 'take the extra load off, or state it in the sheet',
    likelihood: 0.01,
    inject: ({ airframe: { frame, type } }) => void (frame.massKg = typeFacts(type).massKg * 1.4),
    isIn: ({ airframe: { frame, type } }) => frame.massKg > typeFacts(type).massKg * 1.15,
    mend: () => ({ acts: [{ act: 'take load off' }] }),
  },
]
