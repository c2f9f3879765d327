import { Drive } from '../drive/drive'
import type { DriveBuild } from '../drive/drive'
import type { Rig } from '../rig'
import { typeFacts } from '../sound'
import { driveAt, isDigital, oneDrive, outputsWhere, someOutput, wiredOutputs, type Fault, type Site } from './fault'

/** Something of one motor that only another motor repairs. */
const badMotor = (
  fault: Pick<Fault, 'id' | 'where' | 'shows' | 'caughtBy' | 'likelihood'>,
  spoil: (drive: DriveBuild, site: Site) => void,
  is: (drive: DriveBuild, rig: Rig) => boolean,
): Fault => oneDrive({ station: 'motors', remedy: 'replace the motor', fits: isDigital, ...fault }, 'replace motor', spoil, is)

/** A prop that lies ready for a position and is as nobody wants it. */
const badProp = (is: 'wrong' | 'damaged', fault: Pick<Fault, 'id' | 'where' | 'shows' | 'remedy'>): Fault => ({
  station: 'motors',
  caughtBy: 'motors.propPlan',
  likelihood: 0.03,
  ...fault,
  inject: ({ airframe: { frame }, random }) => void (frame.propSet[random.below(frame.propSet.length)] = is),
  isIn: ({ airframe }) => airframe.frame.propSet.includes(is),
  mend: ({ airframe }) => ({
    acts: outputsWhere({ airframe }, ({ position }) => airframe.frame.propSet[position] === is).map((output) => ({
      act: 'lay prop' as const,
      output,
    })),
  }),
})

/** Outputs whose motor sits where the board does not think it does. */
const misplaced = ({ airframe, board }: Rig): number[] =>
  wiredOutputs(airframe).filter(
    (o) => board.settings.get(`output.${o}.position`) !== (airframe.drives[o - 1]?.position ?? -1) + 1,
  )
/** Outputs whose motor turns against the sheet. */
const reversed = (rig: Rig): number[] =>
  outputsWhere(rig, (drive) => new Drive(drive).turn !== rig.airframe.positions[drive.position]?.turn)

export const motorFaults: readonly Fault[] = [
  {
    id: 'motors.swapped',
    station: 'motors',
    where: 'two motor leads, each in the other output',
    shows: 'the wrong boom turns for two outputs',
    caughtBy: 'motors.order',
    remedy: 'write the output map found',
    likelihood: 0.04,
    inject: (site) => {
      const outputs = wiredOutputs(site.airframe)
      const at = site.random.below(outputs.length)
      const first = driveAt(site, outputs[at] ?? 0)
      const second = driveAt(site, outputs[(at + 1) % outputs.length] ?? 0)
      if (first === null || second === null) return
      ;[first.position, second.position] = [second.position, first.position]
      ;[first.drawnTurn, second.drawnTurn] = [second.drawnTurn, first.drawnTurn]
    },
    isIn: (rig) => misplaced(rig).length > 0,
    mend: (rig) => ({
      settings: Object.fromEntries(
        misplaced(rig).map((o) => [`output.${o}.position`, (rig.airframe.drives[o - 1]?.position ?? 0) + 1]),
      ),
    }),
  },
  {
    id: 'motors.reversed',
    station: 'motors',
    where: 'two of the three leads of one motor',
    shows: 'it turns against the sheet',
    caughtBy: 'motors.order',
    remedy: 'reverse it in the ESC or swap two of its leads, never both',
    likelihood: 0.06,
    inject: (site) => {
      const drive = driveAt(site, someOutput(site))
      if (drive !== null) drive.leadsSwapped = !drive.leadsSwapped
    },
    isIn: (rig) => reversed(rig).length > 0,
    mend: (rig) => ({ acts: reversed(rig).map((output) => ({ act: 'swap leads' as const, output })) }),
  },
  {
    id: 'motors.mirrored',
    station: 'motors',
    where: 'every motor: built to the other convention',
    shows: 'all turn against the sheet',
    caughtBy: 'motors.order',
    remedy: 'reverse all in the ESCs, or follow the other convention in the sheet',
    likelihood: 0.01,
    inject: ({ airframe }) => {
      for (const drive of airframe.drives) if (drive !== null) drive.leadsSwapped = true
    },
    isIn: (rig) => reversed(rig).length > 0,
    mend: (rig) => ({ escs: { outputs: reversed(rig), settings: { reverse: 1 } } }),
  },
  {
    id: 'motors.doubly',
    station: 'motors',
    where: 'one motor reversed in the ESC and by its leads',
    shows: 'it turns as before: two remedies undo each other',
    caughtBy: 'motors.order',
    remedy: 'take one of the two back',
    likelihood: 0.01,
    inject: (site) => {
      const drive = driveAt(site, someOutput(site))
      if (drive === null) return
      // It was drawn the other way: repaired twice, it is wrong again.
      drive.drawnTurn = drive.drawnTurn === 'clockwise' ? 'anticlockwise' : 'clockwise'
      drive.leadsSwapped = true
      drive.esc.settings = { ...drive.esc.settings, reverse: 1 }
      drive.esc.saved = { ...drive.esc.saved, reverse: 1 }
    },
    isIn: (rig) => reversed(rig).length > 0,
    mend: (rig) => ({ escs: { outputs: reversed(rig), settings: { reverse: 0 } } }),
  },
  oneDrive(
    {
      id: 'motors.startsLate',
      station: 'motors',
      where: 'start of one ESC',
      shows: 'it stutters where the others turn',
      caughtBy: 'motors.start',
      remedy: 'replace the ESC',
      likelihood: 0.015,
      fits: isDigital,
    },
    'replace esc',
    ({ esc }, { random }) => void (esc.startAt = random.between(0.085, 0.11)),
    ({ esc }) => esc.startAt > 0.07,
  ),
  badMotor(
    {
      id: 'motors.otherKv',
      where: 'one motor of another winding',
      shows: 'its speed differs by over 6 % at one command',
      caughtBy: 'motors.start',
      likelihood: 0.015,
    },
    (drive) => void (drive.motor.kv *= 0.86),
    (drive, rig) => Math.abs(drive.motor.kv / typeFacts(rig.airframe.type).motor.kv - 1) > 0.06,
  ),
  badMotor(
    {
      id: 'motors.unbalanced',
      where: 'bell of one motor, out of balance',
      shows: 'it shakes at its turning rate',
      caughtBy: 'motors.smooth',
      likelihood: 0.03,
    },
    (drive, { random }) => void (drive.motor.imbalance = random.between(8e-6, 2e-5)),
    (drive) => drive.motor.imbalance > 4e-6,
  ),
  badMotor(
    {
      id: 'motors.rough',
      where: 'bearing of one motor',
      shows: 'it grates: vibration over the whole range',
      caughtBy: 'motors.smooth',
      likelihood: 0.02,
    },
    (drive, { random }) => void (drive.motor.roughness = random.between(0.5, 1)),
    (drive) => drive.motor.roughness > 0.2,
  ),
  badMotor(
    {
      id: 'motors.hot',
      where: 'windings of one motor, partly burnt',
      shows: 'it is hotter than its neighbours after a run',
      caughtBy: 'motors.heat',
      likelihood: 0.015,
    },
    (drive) => void (drive.motor.noLoadAmps *= 4),
    (drive, rig) => drive.motor.noLoadAmps > 2 * typeFacts(rig.airframe.type).motor.noLoadAmps,
  ),
  badProp('wrong', {
    id: 'motors.wrongProp',
    where: 'the prop of one position, made for the other turn',
    shows: 'it pushes the wrong way',
    remedy: 'put the right prop on the position',
  }),
  badProp('damaged', {
    id: 'motors.damagedProp',
    where: 'a prop with a nick',
    shows: 'seen on its edge; it shakes and lifts less',
    remedy: 'replace the prop',
  }),
]
