import type { HandAct, Settings } from '@taraf/contract'
import type { Airframe, Firmware } from '../airframe'
import type { DriveBuild, EscSettings } from '../drive/drive'
import type { Random } from '../random'
import type { Rig } from '../rig'

export const faultStations = [
  'intake',
  'board',
  'sensors',
  'orientation',
  'radio',
  'switches',
  'escs',
  'motors',
  'arming',
  'failsafe',
  'power',
  'fitOut',
  'hover',
] as const
export type FaultStation = (typeof faultStations)[number]

/** Where a fault is put in: an airframe and the settings with which it comes, and the source of its size. */
export interface Site {
  readonly airframe: Airframe
  readonly settings: Settings
  readonly random: Random
  /**
   * A value beyond a limit by at least three deviations of its measurement, and by at most `most` of the limit itself:
   * a fault is seen or not seen for a reason, never by chance.
   */
  readonly beyond: (limit: number, deviation: number, most?: number) => number
}

/** What repairs a fault: acts of the hands, settings of the board or an ESC, an image, or the board's own calibration. */
export interface Mend {
  readonly acts?: readonly HandAct[]
  readonly settings?: Settings
  readonly escs?: { readonly outputs: readonly number[]; readonly settings: Partial<EscSettings> }
  readonly image?: Firmware
  readonly calibrate?: 'gyro'
}

/** One named fault: where it sits, how it shows, what must catch it, what repairs it, and how often it comes. */
export interface Fault {
  readonly id: string
  readonly station: FaultStation
  readonly where: string
  readonly shows: string
  /** The check that must catch it. */
  readonly caughtBy: string
  readonly remedy: string
  /** Chance that an airframe comes with it. */
  readonly likelihood: number
  /** False where the airframe cannot have it, because it lacks the part. */
  readonly fits?: (airframe: Airframe) => boolean
  readonly inject: (site: Site) => void
  /** Whether it is still there: by what the rig does or truly is, never by a note that it was put in. */
  readonly isIn: (rig: Rig) => boolean
  readonly mend: (rig: Rig) => Mend
}

/** A setting that is not as it should be. `right` is what repairs it. */
export const wrongSettings = (
  fault: Pick<Fault, 'id' | 'station' | 'where' | 'shows' | 'caughtBy'> & Partial<Pick<Fault, 'likelihood' | 'remedy' | 'fits'>>,
  wrong: Settings,
  right: Settings,
): Fault => ({
  likelihood: 0.02,
  remedy: `write ${Object.keys(right).join(', ')}`,
  ...fault,
  inject: ({ settings }) => void Object.assign(settings, wrong),
  isIn: ({ board }) => Object.entries(right).some(([name, value]) => Math.abs(board.settings.get(name) - value) > 1e-9),
  mend: () => ({ settings: right }),
})

/** Something of the drive on one output, as `is` finds it; one act of the hands at that output repairs it. */
export const oneDrive = (
  fault: Omit<Fault, 'inject' | 'isIn' | 'mend'>,
  act: 'reseat esc' | 'replace esc' | 'replace motor',
  spoil: (drive: DriveBuild, site: Site) => void,
  is: (drive: DriveBuild, rig: Rig) => boolean,
): Fault => ({
  ...fault,
  inject: (site) => {
    const drive = driveAt(site, someOutput(site))
    if (drive !== null) spoil(drive, site)
  },
  isIn: (rig) => outputsWhere(rig, (drive) => is(drive, rig)).length > 0,
  mend: (rig) => ({ acts: outputsWhere(rig, (drive) => is(drive, rig)).map((output) => ({ act, output })) }),
})

/** Whether its ESCs understand numbers, and tell how fast their motors turn. */
export const isDigital = ({ drives }: Airframe): boolean =>
  drives.some((drive) => drive?.esc.understands.includes('DShot300') === true)

/** What is wired to an output. */
export const driveAt = ({ airframe }: Pick<Site, 'airframe'>, output: number): DriveBuild | null =>
  airframe.drives[output - 1] ?? null
/** The outputs whose drive is so. */
export const outputsWhere = ({ airframe }: Pick<Rig, 'airframe'>, is: (drive: DriveBuild) => boolean): number[] =>
  airframe.drives.flatMap((drive, i) => (drive !== null && is(drive) ? [i + 1] : []))
/** The outputs that something is wired to. */
export const wiredOutputs = (airframe: Airframe): number[] => outputsWhere({ airframe }, () => true)
/** One of them, by chance. */
export const someOutput = ({ airframe, random }: Site): number => {
  const wired = wiredOutputs(airframe)
  return wired[random.below(wired.length)] ?? 1
}
