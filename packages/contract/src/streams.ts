/** What there is to know of one stream: every other place that names streams or their columns reads this table. */
export interface StreamEntry {
  /** In the order in which they lie in a block of Bench Link; units are those of the evidence format. */
  readonly columns: readonly string[]
  /** Rows a second; null where there is one for each thing that arrives. */
  readonly rateHz: number | null
  /** Rows follow each other without a gap: one over 50 ms, or 1 % lost, makes a take refused. */
  readonly continuous: boolean
  /** Samples of the chain of the sensors: they carry the stage that they were taken at. */
  readonly staged?: true
  /** Columns of what an airframe does not have may be left out of evidence. */
  readonly sparse?: true
}

const numbered = <Name extends string>(name: Name, count: number): `${Name}${number}`[] =>
  Array.from({ length: count }, (_, i) => `${name}${i + 1}` as const)
const imu = ['ax', 'ay', 'az', 'gx', 'gy', 'gz'] as const

export const streams = {
  imu: { columns: imu, rateHz: 200, continuous: true, staged: true },
  attitude: { columns: ['roll', 'pitch', 'yaw'], rateHz: 200, continuous: true },
  imuBurst: { columns: imu, rateHz: 4000, continuous: true, staged: true },
  mag: { columns: ['mx', 'my', 'mz'], rateHz: 50, continuous: false },
  radio: { columns: [...numbered('ch', 16), 'quality'], rateHz: null, continuous: false, sparse: true },
  outputs: { columns: [...numbered('o', 12), 'command'], rateHz: 200, continuous: true, sparse: true },
  escs: { columns: [...numbered('rpm', 12), ...numbered('err', 12)], rateHz: 50, continuous: false, sparse: true },
  power: { columns: ['volts', 'amps', 'mah'], rateHz: 20, continuous: false },
  baro: { columns: ['height'], rateHz: 25, continuous: false },
  fix: { columns: ['fixed', 'satellites', 'dilution'], rateHz: 5, continuous: false },
  /** What the meter of the bench reads: in the battery's lead, and at the board's own rail. */
  meter: { columns: ['volts', 'amps', 'rail'], rateHz: 20, continuous: false },
} as const satisfies Record<string, StreamEntry>

export type StreamName = keyof typeof streams
export const streamNames = Object.keys(streams) as [StreamName, ...StreamName[]]

/** Streams that come with every sense block. */
export const senseStreams = ['imu', 'attitude'] as const
/** Streams that a board sends beside its sense blocks, each in blocks of its own. */
export const besideNames = ['mag', 'radio', 'outputs', 'escs', 'power', 'baro', 'fix', 'meter'] as const
export type BesideName = (typeof besideNames)[number]
export const isBeside = (name: StreamName): name is BesideName => (besideNames as readonly string[]).includes(name)

/** The quantities of a sense block, in the order in which their columns lie in it. */
export const senseColumns = [...streams.imu.columns, ...streams.attitude.columns] as const
export type SenseColumn = (typeof senseColumns)[number]
