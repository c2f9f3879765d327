import type { Column, Evidence } from '@taraf/contract'

/** Rules for ESCs and motors by which a pass is impossible, written apart from the core. */

type Rule = (document: Evidence) => string | null

const outputsOf = ({ sheet }: Evidence): number[] =>
  (sheet.geometry?.booms ?? []).flatMap((boom) => boom.motors.map((motor) => motor.output))
const listOf = ({ segments }: Evidence, label: string) => segments.find((s) => s.label === label)?.reports?.escs
const averageOf = (x: Column): number => Array.from(x).reduce((sum, v) => sum + v, 0) / x.length

const answers = (document: Evidence, label: string): string | null => {
  const list = listOf(document, label)
  if (list === undefined) return 'nothing was read'
  const silent = outputsOf(document).find((output) => !list.some((esc) => esc.output === output && esc.found))
  return silent === undefined ? null : `output ${silent} is silent`
}

/** Bits a millisecond by name, and the longest pulse of what is no number of bits. */
const bits: Readonly<Record<string, number>> = { DShot150: 150, DShot300: 300, DShot600: 600, DShot1200: 1200 }
const pulses: Readonly<Record<string, number>> = { PWM: 2000, OneShot125: 250, MultiShot: 25 }

/** What was tapped last at each output is one motor each, where the board takes it to be, turning as the sheet has it there. */
const order: Rule = (document) => {
  const { sheet, board, observations = [] } = document
  const booms = sheet.geometry?.booms ?? []
  const seats = booms.flatMap(({ name, motors }) =>
    motors.map(({ tier, output, turn }) => ({ name: tier === 'only' ? name : `${name} ${tier}`, output, turn })),
  )
  const seen = new Set<string>()
  for (const { output } of seats) {
    const tapped = observations.filter((o) => o.segment === `output-${output}`).at(-1)
    if (tapped?.position === undefined || tapped.turn === undefined) return `nobody tapped output ${output}`
    if (seen.has(tapped.position)) return `${tapped.position} twice`
    seen.add(tapped.position)
    const told = board.settings?.[`output.${output}.position`]
    const seat = told === undefined ? seats.find((s) => s.output === output) : seats[told - 1]
    if (seat?.name !== tapped.position) return `output ${output} turns ${tapped.position}`
    if ((tapped.turn === seat.turn) === (board.settings?.['motors.mirrored'] === 1)) return `output ${output} turns the other way`
  }
  return null
}

export const ofEscs: Readonly<Record<string, Rule>> = {
  'motors.order': order,
  'escs.found': (document) => answers(document, 'asked'),
  'escs.settings': (document) => {
    const wrong = answers(document, 'asked') ?? answers(document, 'again')
    if (wrong !== null) return wrong
    const wanted = { brake: 0, cutCellV: 0, ...document.sheet.escs?.settings }
    for (const esc of listOf(document, 'again') ?? [])
      if (outputsOf(document).includes(esc.output))
        for (const [name, value] of Object.entries(wanted))
          if (esc.settings?.[name] !== value) return `${name} of output ${esc.output}`
    return null
  },
  'escs.signal': (document) => {
    const { board, sheet } = document
    const name = board.choices?.['esc.signal']?.[board.settings?.['esc.signal'] ?? -1] ?? ''
    if (sheet.escs?.understands.includes(name) !== true) return 'not understood'
    const rate = bits[name]
    const loop = /^(\d+(?:\.\d+)?) ?(k?)Hz$/.exec(board.choices?.['loop.rate']?.[board.settings?.['loop.rate'] ?? -1] ?? '')
    if (loop === null) return 'no loop'
    const period = 1e6 / (Number(loop[1]) * (loop[2] === 'k' ? 1000 : 1))
    const replies = board.settings?.['esc.replies'] === 1
    const whole =
      rate === undefined ? (pulses[name] ?? Infinity) : (16e3 + (replies ? 21e3 / 1.25 : 0)) / rate + (replies ? 30 : 0)
    return whole > period * 1.001 ? 'it does not fit' : null
  },
  'escs.data': (document) => {
    for (const output of outputsOf(document)) {
      const { escs, imuBurst } = document.segments.find((s) => s.label === `output-${output}`)?.streams ?? {}
      const errors = (escs as Readonly<Record<string, Column>> | undefined)?.[`err${output}`]
      const speeds = (escs as Readonly<Record<string, Column>> | undefined)?.[`rpm${output}`]
      if (errors === undefined || speeds === undefined || imuBurst === undefined) return `output ${output} told nothing`
      if (averageOf(errors) > 0.0105) return `output ${output} replies badly`
      if (averageOf(speeds) < 150) return `output ${output} stood`
    }
    return null
  },
}
