import type { Column, Evidence, SheetPart } from '@taraf/contract'

/** The same for what comes by radio: plain arithmetic on the received rows, apart from the core. */
type Rule = (document: Evidence) => string | null

const controls = ['throttle', 'roll', 'pitch', 'yaw'] as const
const labels = { throttle: 'throttle-up', roll: 'roll-right', pitch: 'pitch-forward', yaw: 'yaw-right' } as const

interface Heard {
  readonly t: readonly number[]
  readonly quality: readonly number[]
  readonly channel: (n: number) => readonly number[] | null
  readonly numbers: readonly number[]
}

/** The rows that were received. */
const heardIn = ({ segments }: Evidence, label: string): Heard | null => {
  const radio = segments.find((s) => s.label === label)?.streams.radio as Record<string, Column> | undefined
  if (radio?.t === undefined) return null
  const rows = Array.from(radio.t, (_, i) => i).filter((i) => (radio.quality?.[i] ?? 1) > 0)
  const of = (column: Column) => rows.map((i) => column[i] as number)
  const numbers = Array.from({ length: 16 }, (_, i) => i + 1).filter((n) => radio[`ch${n}`] !== undefined)
  return {
    t: of(radio.t),
    quality: radio.quality === undefined ? rows.map(() => 1) : of(radio.quality),
    channel: (n) => (radio[`ch${n}`] === undefined ? null : of(radio[`ch${n}`] as Column)),
    numbers,
  }
}

const middleOf = (x: readonly number[]): number => [...x].sort((a, b) => a - b)[x.length >> 1] ?? NaN
const meanOf = (x: readonly number[]): number => x.reduce((sum, v) => sum + v, 0) / x.length
const rmsAbout = (x: readonly number[], at: number): number => Math.sqrt(meanOf(x.map((v) => (v - at) ** 2)))
const said = ({ board }: Evidence, name: string): number => Number(board.settings?.[name] ?? 0)
const limitOf = ({ limits }: SheetPart, name: string, min: number, max: number) => ({
  min: limits?.[name]?.min ?? min,
  max: limits?.[name]?.max ?? max,
})

const order: Rule = (document) => {
  const strength = said(document, 'radio.strengthChannel')
  const seen = new Set<number>()
  for (const control of controls) {
    const heard = heardIn(document, labels[control])
    const wanted = said(document, `radio.${control}.channel`)
    if (heard === null || heard.t.length < 10) return `${control} was not heard`
    const reach = heard.numbers
      .filter((n) => n !== strength)
      .map((n) => {
        const us = heard.channel(n) ?? []
        const start = middleOf(us.slice(0, 10))
        const farthest = us.reduce((most, v) => (Math.abs(v - start) > Math.abs(most) ? v - start : most), 0)
        return { n, farthest }
      })
    const best = reach.reduce((a, b) => (Math.abs(b.farthest) > Math.abs(a.farthest) ? b : a), { n: 0, farthest: 0 })
    if (best.n !== wanted || Math.abs(best.farthest) < 100) return `${control} is not on channel ${wanted}`
    if (seen.has(wanted)) return `channel ${wanted} twice`
    seen.add(wanted)
    const falls = said(document, `radio.${control}.reverse`) === 1
    if (best.farthest > 0 === falls) return `${control} goes the other way`
    const other = reach.find(({ n, farthest }) => n !== wanted && Math.abs(farthest) > 0.4 * Math.abs(best.farthest) + 5)
    if (other !== undefined) return `channel ${other.n} moves with ${control}`
  }
  return null
}

const ends: Rule = (document) => {
  const beyond = limitOf(document.sheet, 'radio.beyondGate', 5, 75)
  const gates = [document.board.settings?.['radio.lowGate'] ?? 1060, document.board.settings?.['radio.highGate'] ?? 1940] as const
  for (const control of controls) {
    const us = heardIn(document, control)?.channel(said(document, `radio.${control}.channel`)) ?? []
    const turned = said(document, `radio.${control}.reverse`) === 1
    const [low, high] = turned ? [3000 - Number(gates[1]), 3000 - Number(gates[0])] : gates.map(Number)
    const inBand = (from: number, to: number) => us.filter((v) => v >= from && v <= to).length
    // Held for half a second: some rows are there, give or take the trembling of a hand.
    if (inBand(Number(low) - beyond.max - 16, Number(low) - beyond.min + 16) < 8) return `low end of ${control}`
    if (inBand(Number(high) + beyond.min - 16, Number(high) + beyond.max + 16) < 8) return `high end of ${control}`
  }
  return null
}

const centre: Rule = (document) => {
  const { max } = limitOf(document.sheet, 'radio.centre', 0, 3)
  for (const control of ['roll', 'pitch', 'yaw'] as const) {
    const us = heardIn(document, control)?.channel(said(document, `radio.${control}.channel`)) ?? []
    const near = us.filter((v) => Math.abs(v - 1500) < max + 60)
    if (near.length < 20) return `${control} was hardly at rest`
    if (Math.abs(middleOf(near) - 1500) > max + 12) return `centre of ${control}`
    if (!us.some((v) => v > 1700) || !us.some((v) => v < 1300)) return `${control} was not at both ends`
  }
  return null
}

const steadiness: Rule = (document) => {
  const heard = heardIn(document, 'rest')
  if (heard === null || heard.t.length < 50) return 'nothing was heard'
  const strength = said(document, 'radio.strengthChannel')
  const used = new Set(
    Object.entries(document.board.settings ?? {}).flatMap(([name, value]) =>
      /^(radio\.(throttle|roll|pitch|yaw)|switch\.[^.]+)\.(channel|withChannel)$/.test(name) && Number(value) > 0
        ? [Number(value)]
        : [],
    ),
  )
  const { max } = limitOf(document.sheet, 'radio.noise', 0, 2)
  for (const n of used) {
    const us = n === strength ? null : heard.channel(n)
    if (us !== null && rmsAbout(us, middleOf(us)) > max * 1.02 + 0.01) return `channel ${n} shakes`
  }
  const steps = heard.t.slice(1).map((at, i) => at - (heard.t[i] as number))
  const usual = middleOf(steps)
  const gaps = limitOf(document.sheet, 'radio.gaps', 0, 0).max
  if (steps.filter((s) => s > 2.6 * usual).length > gaps) return 'a gap'
  const missing = steps.reduce((sum, s) => sum + Math.max(0, Math.round(s / usual) - 1), 0)
  return (100 * missing) / (missing + heard.t.length) > limitOf(document.sheet, 'radio.lost', 0, 1).max + 0.1
    ? 'frames lost'
    : null
}

const link: Rule = (document) => {
  const heard = ['heard', 'transmitter-on', 'power-on'].map((label) => heardIn(document, label))
  if (heard.some((h) => h === null || h.t.length < 10)) return 'it was not heard three times'
  const [first, second, third] = heard as [Heard, Heard, Heard]
  if (100 * meanOf(first.quality) < limitOf(document.sheet, 'radio.quality', 80, 100).min - 0.5) return 'a weak link'
  const events = (label: string) => document.segments.find((s) => s.label === label)?.events ?? []
  if (!events('transmitter-off').some((e) => e.what === 'loss')) return 'no loss was told'
  if (!events('power-off').some((e) => e.what === 'link' && e.link === 'lost')) return 'the cable stayed in'
  if ((third.t[0] as number) >= (second.t[second.t.length - 1] as number)) return 'the board stayed on'
  const wanted = document.sheet.settings?.['radio.kind']
  return wanted !== undefined && said(document, 'radio.kind') !== wanted ? 'another kind' : null
}

const table: Rule = (document) => {
  const { sheet } = document
  const margin = limitOf(sheet, 'switches.margin', 25, Infinity).min
  const settings = document.board.settings ?? {}
  const edges = (channel: number): number[] =>
    Object.entries(settings).flatMap(([name, value]) => {
      const found = /^switch\.([^.]+)\.(channel|withChannel)$/.exec(name)
      if (found === null || Number(value) !== channel) return []
      const [low, high] = found[2] === 'channel' ? ['low', 'high'] : ['withLow', 'withHigh']
      return [low, high].flatMap((side) => {
        const at = settings[`switch.${found[1]}.${side}`]
        return at === undefined ? [] : [Number(at)]
      })
    })
  for (const { name, channel, positions } of sheet.switches ?? []) {
    const us = heardIn(document, `switch-${channel}`)?.channel(channel) ?? []
    const levels: number[] = []
    for (const v of [...us].sort((a, b) => a - b)) if (v - (levels.at(-1) ?? -Infinity) > 50) levels.push(v)
    if (levels.length < positions) return `${name} was not at all of its positions`
    // Where it stood most of the time, well within: no edge is there.
    const most = middleOf(us)
    if (edges(channel).some((edge) => Math.abs(edge - most) < margin - 10)) return `an edge at ${name}`
  }
  const arm = settings['switch.arm.channel']
  return arm === undefined || Number(arm) === 0 ? 'it can never be armed' : null
}

const gestures: Rule = ({ board: { settings = {} }, sheet }) =>
  Object.entries(settings).some(([name, value]) => name.startsWith('gesture.') && Number(value) !== (sheet.settings?.[name] ?? 0))
    ? 'a gesture is on'
    : null

export const onAir: Readonly<Record<string, Rule>> = {
  'radio.order': order,
  'radio.ends': ends,
  'radio.centre': centre,
  'radio.steadiness': steadiness,
  'radio.link': link,
  'switches.table': table,
  'switches.gestures': gestures,
}
