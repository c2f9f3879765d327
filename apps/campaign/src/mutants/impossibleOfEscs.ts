import type { Column, Evidence } from '@taraf/contract'

/** Rules for the ESCs by which a pass is impossible, written apart from the core. */

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

export const ofEscs: Readonly<Record<string, Rule>> = {
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
