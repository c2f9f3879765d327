/** What there is to know of one stream: every other place that names streams or their columns reads this table. */
export interface StreamEntry {
  /** In the order in which they are in a block of Bench Link; units are those of the evidence format. */
  readonly columns: readonly string[]
  /** Rows a second; null where there is one for each thing that arrives. */
  readonly rateHz: number | null
  /** Rows follow each other without a gap: one over 50 ms, or 1 % lost, makes a take refused. */
  readonly continuous: boolean
  /** Samples of the chain of the sensors: they carry the stage that they were taken at. */
  readonly staged?: true
  /** Columns of what an airframe does not have may be left out of evidence. */
  readonly sparse?: true
  /** Fewer rows a second than this are another stream, or most of one lost; null where it may be still. */
  readonly leastHz: number | null
  /** The longest that may be between two rows, s, and the share of rows that may be missing. */
  readonly longestGapS: number | null
  readonly lostShare: number
  /** A live sensor trembles: rows that say the same over and over are frozen, and one of these columns that does is dead. */
  readonly trembles?: readonly string[]
  /** What each column can say at all, by its name without a number: what lies outside was not measured. */
  readonly spans: Readonly<Record<string, Span>>
}
export type Span = readonly [least: number, most: number]

const numbered = <Name extends string>(name: Name, count: number): `${Name}${number}`[] =>
  Array.from({ length: count }, (_, i) => `${name}${i + 1}` as const)
const imu = ['ax', 'ay', 'az', 'gx', 'gy', 'gz'] as const
const same = <const Names extends readonly string[]>(names: Names, span: Span): Record<string, Span> =>
  Object.fromEntries(names.map((name) => [name, span]))
/** A sensor of the largest range on the market (from memory): 32 g and 4000 deg/s. */
const imuSpans = { ...same(['ax', 'ay', 'az'], [-320, 320]), ...same(['gx', 'gy', 'gz'], [-70, 70]) }
const whole = { longestGapS: 0.05, lostShare: 0.01 }
/** A turn may be counted on past the half; a little over it is rounding. */
const turnSpan: Span = [-2 * Math.PI - 0.01, 2 * Math.PI + 0.01]

export const streams = {
  imu: {
    columns: imu,
    rateHz: 200,
    continuous: true,
    staged: true,
    leastHz: 90,
    ...whole,
    trembles: ['ax', 'ay', 'az'],
    spans: imuSpans,
  },
  attitude: {
    columns: ['roll', 'pitch', 'yaw'],
    rateHz: 200,
    continuous: true,
    leastHz: 40,
    ...whole,
    spans: { roll: turnSpan, pitch: [-Math.PI / 2 - 0.01, Math.PI / 2 + 0.01], yaw: turnSpan },
  },
  imuBurst: {
    columns: imu,
    rateHz: 4000,
    continuous: true,
    staged: true,
    leastHz: 1900,
    ...whole,
    trembles: ['ax', 'ay', 'az'],
    spans: imuSpans,
  },
  mag: {
    columns: ['mx', 'my', 'mz'],
    rateHz: 50,
    continuous: false,
    leastHz: 9,
    longestGapS: 0.25,
    lostShare: 0.01,
    trembles: ['mx', 'my', 'mz'],
    // The widest range on the market, from memory; the Earth's own field is 65 uT at most.
    spans: same(['mx', 'my', 'mz'], [-5000, 5000]),
  },
  radio: {
    columns: [...numbered('ch', 16), 'quality'],
    rateHz: null,
    continuous: false,
    sparse: true,
    leastHz: 10,
    longestGapS: null,
    lostShare: 1,
    spans: { ch: [0, 3000], quality: [0, 1] },
  },
  outputs: {
    columns: [...numbered('o', 12), 'command'],
    rateHz: 200,
    continuous: true,
    sparse: true,
    leastHz: 40,
    ...whole,
    spans: { o: [0, 1], command: [0, 1] },
  },
  escs: {
    columns: [...numbered('rpm', 12), ...numbered('err', 12)],
    rateHz: 50,
    continuous: false,
    sparse: true,
    leastHz: 4,
    longestGapS: 0.5,
    lostShare: 0.1,
    spans: { rpm: [0, 200_000], err: [0, 1] },
  },
  power: {
    columns: ['volts', 'amps', 'mah'],
    rateHz: 20,
    continuous: false,
    leastHz: 4,
    longestGapS: 0.5,
    lostShare: 0.1,
    spans: { volts: [-0.5, 120], amps: [-20, 1000], mah: [-1, 1e6] },
  },
  baro: {
    columns: ['height'],
    rateHz: 25,
    continuous: false,
    leastHz: 4,
    longestGapS: 0.5,
    lostShare: 0.05,
    trembles: ['height'],
    spans: { height: [-1000, 10_000] },
  },
  fix: {
    columns: ['fixed', 'satellites', 'dilution'],
    rateHz: 5,
    continuous: false,
    leastHz: 0.8,
    longestGapS: 2.5,
    lostShare: 0.2,
    spans: { fixed: [0, 1], satellites: [0, 100], dilution: [0, 100] },
  },
  /** What the meter of the bench reads: in the battery's lead, and at the board's own rail. */
  meter: {
    columns: ['volts', 'amps', 'rail'],
    rateHz: 20,
    continuous: false,
    leastHz: 4,
    longestGapS: 0.5,
    lostShare: 0.05,
    // Nothing feeds a battery on this bench: current the other way is a meter clipped on the wrong way round.
    spans: { volts: [-0.5, 120], amps: [-0.2, 1000], rail: [-0.5, 60] },
  },
} as const satisfies Record<string, StreamEntry>

export type StreamName = keyof typeof streams
export const streamNames = Object.keys(streams) as [StreamName, ...StreamName[]]

/** Streams that come with every sense block. */
export const senseStreams = ['imu', 'attitude'] as const
/** Streams that a board sends beside its sense blocks, each in blocks of its own. */
export const besideNames = ['mag', 'radio', 'outputs', 'escs', 'power', 'baro', 'fix', 'meter'] as const
export type BesideName = (typeof besideNames)[number]
export const isBeside = (name: StreamName): name is BesideName => (besideNames as readonly string[]).includes(name)

/** The quantities of a sense block, in the order in which their columns are in it. */
export const senseColumns = [...streams.imu.columns, ...streams.attitude.columns] as const
export type SenseColumn = (typeof senseColumns)[number]

/** Streams that a board logs of a flight row by row, in the order of their columns in it. */
export const flightStreams = ['outputs', 'attitude', 'imu', 'power'] as const satisfies readonly StreamName[]
/** Columns of a row of that log; its imu is in stage body. */
export const flightColumns: readonly string[] = flightStreams.flatMap((name) => streams[name].columns)
