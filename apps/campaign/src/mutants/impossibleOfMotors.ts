import type { Column, Evidence, SheetPart } from '@taraf/contract'

/** Rules for motors that run by which a pass is impossible, written apart from the core. */

type Rule = (document: Evidence) => string | null
type Named = Readonly<Record<string, Column | undefined>>

const outputsOf = ({ sheet }: Evidence): number[] =>
  (sheet.geometry?.booms ?? []).flatMap((boom) => boom.motors.map((motor) => motor.output))
const streamsOf = ({ segments }: Evidence, label: string) => segments.find((s) => s.label === label)?.streams ?? {}
const averageOf = (x: Column, from = 0): number => {
  let sum = 0
  for (let i = from; i < x.length; i++) sum += x[i] as number
  return sum / (x.length - from)
}
const limitOf = ({ limits }: SheetPart, name: string, common: number): number => limits?.[name]?.max ?? common
const leastRpm = 290

/** The highest command at which a motor still stood, or null where it never came to turn, or turned all the while. */
const stoodAt = (document: Evidence, label: string, output: number): number | null => {
  const { escs, outputs } = streamsOf(document, label)
  const rpm = (escs as Named | undefined)?.[`rpm${output}`]
  const command = (outputs as Named | undefined)?.[`o${output}`]
  if (escs === undefined || outputs === undefined || rpm === undefined || command === undefined) return null
  let at = -1
  for (let i = 0; i < rpm.length; i++) if ((rpm[i] as number) < leastRpm) at = i
  if (at < 0 || at === rpm.length - 1) return null
  let most = 0
  for (let i = 0; i < command.length; i++)
    if ((outputs.t[i] as number) <= (escs.t[at] as number)) most = Math.max(most, command[i] as number)
  return most
}

/** The velocity of one frequency, mm/s rms, by correlation with a sine over the whole burst. */
const velocityOf = (burst: NonNullable<ReturnType<typeof streamsOf>['imuBurst']>, hz: number): number => {
  let squares = 0
  for (const axis of [burst.ax, burst.ay, burst.az]) {
    const mean = averageOf(axis)
    let [re, im] = [0, 0]
    for (let i = 0; i < axis.length; i++) {
      const a = 2 * Math.PI * hz * ((burst.t[i] as number) - (burst.t[0] as number))
      re += ((axis[i] as number) - mean) * Math.cos(a)
      im += ((axis[i] as number) - mean) * Math.sin(a)
    }
    squares += (2 * (re * re + im * im)) / axis.length ** 2
  }
  return (1000 * Math.sqrt(squares)) / (2 * Math.PI * hz)
}

const answered = (document: Evidence, item: string): unknown =>
  document.observations?.filter((o) => o.item === item).at(-1)?.answer

export const ofMotors: Readonly<Record<string, Rule>> = {
  'motors.start': (document) => {
    const most = limitOf(document.sheet, 'start.least', 0.07)
    const speeds: number[] = []
    for (const output of outputsOf(document)) {
      for (const label of ['rise', 'rise-again', 'fast']) {
        const at = stoodAt(document, label, output)
        if (at === null) return `output ${output} did not begin in ${label}`
        if (label !== 'fast' && at > most + 0.005) return `output ${output} stood at ${at.toFixed(3)}`
      }
      const rpm = (streamsOf(document, 'fast').escs as Named | undefined)?.[`rpm${output}`] ?? []
      speeds.push(averageOf(rpm, Math.max(0, rpm.length - 25)))
    }
    const apart = (Math.max(...speeds) - Math.min(...speeds)) / averageOf(speeds)
    return 100 * apart > limitOf(document.sheet, 'start.speeds', 6) + 1 ? `speeds apart by ${(100 * apart).toFixed(1)} %` : null
  },
  'motors.smooth': (document) => {
    for (const output of outputsOf(document)) {
      const { imuBurst, escs } = streamsOf(document, `output-${output}`)
      const rpm = (escs as Named | undefined)?.[`rpm${output}`]
      if (imuBurst === undefined || rpm === undefined) return `output ${output} has no burst`
      const hz = averageOf(rpm) / 60
      if (hz < leastRpm / 120) return `output ${output} stood`
      if (velocityOf(imuBurst, hz) > 1.5 * limitOf(document.sheet, 'smooth.atTurning', 0.9)) return `output ${output} shakes`
    }
    return null
  },
  'motors.heat': (document) => {
    const told = outputsOf(document).map((output) => answered(document, `heat${output}`))
    if (told.some((one) => one === undefined || one === false || one === '')) return 'one is hot, or was not told'
    if (told.every((one) => one === true)) return null
    const read = told.map(Number)
    // The hottest against the middle of the others lies no further than against the coldest.
    return read.some((one) => !Number.isFinite(one)) || Math.max(...read) > limitOf(document.sheet, 'heat.most', 60)
      ? 'a bell is too hot'
      : null
  },
  'motors.response': (document) => {
    const booms = document.sheet.geometry?.booms ?? []
    const seats = booms.flatMap(({ bearingDeg, motors }) =>
      motors.map(({ output }) => ({
        output,
        x: Math.cos((bearingDeg * Math.PI) / 180),
        y: Math.sin((bearingDeg * Math.PI) / 180),
      })),
    )
    const shareOf = (label: string, i: number): number => {
      const { outputs } = streamsOf(document, label)
      const told = Object.entries(document.board.settings ?? {}).find(
        ([name, value]) => /^output\.\d+\.position$/.test(name) && value === i + 1,
      )
      const output = told === undefined ? (seats[i]?.output ?? 0) : Number(told[0].split('.')[1])
      const column = (outputs as Named | undefined)?.[`o${output}`] ?? []
      const command = (outputs as Named | undefined)?.command ?? []
      const raised = Array.from(column).filter((_, row) => (command[row] ?? 0) >= 0.04)
      return raised.length === 0 ? NaN : averageOf(raised)
    }
    // What must push harder is on the side that is down, and behind a nose that is up.
    for (const [label, side] of [
      ['right-down', (seat: (typeof seats)[number]) => seat.y],
      ['left-down', (seat: (typeof seats)[number]) => -seat.y],
      ['nose-up', (seat: (typeof seats)[number]) => -seat.x],
      ['nose-down', (seat: (typeof seats)[number]) => seat.x],
    ] as const) {
      const lever = seats.reduce((sum, seat, i) => sum + side(seat) * (shareOf(label, i) - shareOf('level', i)), 0)
      if (!(lever > 0)) return `${label} is not pushed against`
    }
    return null
  },
  'motors.propPlan': (document) => {
    const booms = document.sheet.geometry?.booms ?? []
    const seats = booms.flatMap(({ motors }) => motors)
    const mirrored = document.board.settings?.['motors.mirrored'] === 1
    if (seats.some((_, i) => answered(document, `prop${i + 1}`) !== 'this one, whole')) return 'a prop is not right'
    for (const turn of ['clockwise', 'anticlockwise'] as const) {
      const wanted = seats.filter((seat) => (seat.turn === turn) !== mirrored).length
      if (answered(document, turn) !== wanted) return `not ${wanted} ${turn}`
    }
    return null
  },
}
