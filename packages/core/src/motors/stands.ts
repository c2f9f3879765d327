import type { Column, Evidence, Finding, Remedy, Segment, Settings, SheetPart, StreamName, Want, WantOf } from '@taraf/contract'
import { judgedAs, type Check } from '../check'
import { outputWords, tellsSpeeds } from '../escs/read'
import { outputsOf } from '../geometry'
import { planOf } from '../plan'
import { commandAt } from './commandAt'

/** From this command on every sound motor turns (common practice); told it for so long and still at rest, one is driven no longer. */
const leastShare = 0.1
export const standsS = 1.2
/** An armed board has its motors turning already, or starts them at once: nothing rises gently there. */
const armedStandsS = 0.4
/** As good as still, whatever pole count the speed is told by. */
const stillRpm = 60
/** A command never falls within a step that a hand keeps: slower than this share of what it was, for so long, a motor has lost its step. */
const keptShare = 0.7
const slipsS = 0.1
const badReply = 0.5

/** A motor that does not do what it is told: it never turned, it turned and lost its step, or its ESC says nothing where others do. */
export interface Standing {
  readonly output: number
  readonly how: 'stands' | 'stutters' | 'silent'
}
/** What a column says in a row; undefined where there is none. */
type Row = (column: string) => number | undefined
type TurnWant = Pick<WantOf<'turn'>, 'outputs' | 'runUpS' | 'riseS'>

/** Watches, row by row of what the ESCs tell, for a motor that is told to turn and does not: by a hand's step, or by an armed board. */
export class StandWatch {
  private began: number | null = null
  private commands: Row | null = null
  private readonly since = new Map<number, { readonly how: Standing['how']; readonly t: number }>()
  private readonly most = new Map<number, number>()

  /**
   * @param want the step that turns outputs; null where an armed board does, whose commands are told by `outputs`
   * @param fitted every output that has an ESC
   * @param marginS so much longer than it must: while a take runs the two streams come in blocks, one before the other, and what is seen
   * then must be in the evidence too
   */
  constructor(
    private readonly want: TurnWant | null,
    private readonly fitted: readonly number[],
    private readonly marginS = 0,
  ) {}

  /** The step begins, or begins again: what turned before has come to rest. */
  begin(): void {
    this.began = null
    this.commands = null
    this.since.clear()
    this.most.clear()
  }

  /** Takes a row of one of the two streams that it watches; the others say nothing to it. */
  push(stream: StreamName, t: number, row: Row): Standing | null {
    if (stream === 'outputs') this.commands = row
    if (stream !== 'escs') return null
    this.began ??= t
    for (const output of this.want?.outputs.map((one) => one.output) ?? this.fitted) {
      const how = this.shareOf(output, t - this.began) < leastShare ? null : this.howIs(output, row)
      const before = this.since.get(output)
      if (how === null) this.since.delete(output)
      else if (before?.how !== how) this.since.set(output, { how, t })
      else if (t - before.t >= this.lastsS(how)) return { output, how }
    }
    return null
  }

  /** What an output is told, of full. */
  private shareOf(output: number, since: number): number {
    if (this.want === null) return this.commands?.(`o${output}`) ?? 0
    const { outputs, runUpS, riseS } = this.want
    const share = outputs.find((one) => one.output === output)?.share ?? 0
    return commandAt(share, since + runUpS, riseS)
  }

  private lastsS(how: Standing['how']): number {
    if (how === 'stutters') return slipsS
    return (how === 'stands' && this.want === null ? armedStandsS : standsS) + this.marginS
  }

  private howIs(output: number, told: Row): Standing['how'] | null {
    const isSilent = (one: number) => (told(`err${one}`) ?? 1) > badReply
    if (isSilent(output)) return this.fitted.some((other) => other !== output && !isSilent(other)) ? 'silent' : null
    const rpm = told(`rpm${output}`) ?? 0
    // What an armed board asks falls and rises: there a motor is only known to stand.
    if (this.want === null) return rpm < stillRpm ? 'stands' : null
    const most = Math.max(rpm, this.most.get(output) ?? 0)
    this.most.set(output, most)
    if (most < stillRpm) return 'stands'
    return rpm < keptShare * most ? 'stutters' : null
  }
}

/** Watches a step in which motors turn for one that does not; null where none does, or nobody tells how they turn. */
export const standWatchOf = (want: Want, sheet: SheetPart, settings: Settings | undefined, marginS = 0): StandWatch | null => {
  if (!tellsSpeeds(settings)) return null
  if (want.kind === 'turn') return new StandWatch(want, outputsOf(sheet))
  const isArmed = 'permit' in want && want.permit === 'armed-bench' && watched.every((name) => want.streams.includes(name))
  return isArmed ? new StandWatch(null, outputsOf(sheet), marginS) : null
}
const watched = ['outputs', 'escs'] as const

/** What stood in a segment although it was told to turn, or null. */
const stoodIn = ({ streams }: Segment, watching: StandWatch): Standing | null => {
  const { escs, outputs } = streams
  if (escs === undefined) return null
  const rowOf = (stream: object, i: number) => (column: string) =>
    (stream as Readonly<Record<string, Column | undefined>>)[column]?.[i]
  let told = 0
  for (let i = 0; i < escs.t.length; i++) {
    const t = escs.t[i] as number
    for (; outputs !== undefined && told < outputs.t.length && (outputs.t[told] as number) <= t; told++)
      watching.push('outputs', outputs.t[told] as number, rowOf(outputs, told))
    const stood = watching.push('escs', t, rowOf(escs, i))
    if (stood !== null) return stood
  }
  return null
}

const said = {
  stands: 'told to turn, the motor stands at',
  stutters: 'told to turn, the motor lost its step at',
  silent: 'told to turn, the ESC says nothing at',
} as const

/**
 * The finding of a take that was stopped because a motor stood although it was told to turn, or null. It says so whatever check turned
 * it, and names what repairs it: what the take did not come to is not asked for. A check that proves how motors turn fails; any other proves nothing.
 */
export const stoppedBy = (check: Check, evidence: Evidence): Finding[] | null => {
  const { sheet, board } = evidence
  for (const want of planOf(check, sheet, board.settings)) {
    const segment = evidence.segments.find(({ label }) => label === want.label)
    const watching = segment === undefined ? null : standWatchOf(want, sheet, board.settings)
    const stood = segment === undefined || watching === null ? null : stoodIn(segment, watching)
    if (stood === null) continue
    const remedy = notTurning(stood)
    if (check.provesTurning === true) return [judgedAs(`turns${stood.output}`, stood.how, 'turns', remedy)]
    return [{ key: 'refused', value: `${said[stood.how]} output ${stood.output}`, unit: '', verdict: 'refused', remedy }]
  }
  return null
}

/** What repairs a motor that does not turn as it is told. */
export const notTurning = ({ output, how }: Standing): Remedy => ({
  by: 'work',
  act: `Battery out. ${
    {
      stands: `Turn the bell at output ${output} by hand: one that is locked or rubs is replaced. If it is free, look at its three leads, then replace its ESC.`,
      stutters: `The motor at output ${output} loses its step: look at its three leads for a cold joint, then replace its ESC, then the motor.`,
      silent: `The ESC at ${outputWords([output])} says nothing, and the others do: push its plug home and look at its wire. If it stays silent, replace that ESC.`,
    }[how]
  }`,
  work: {
    stands: ['replace motor', 'replace ESC'] as const,
    stutters: ['replace ESC', 'replace motor'] as const,
    silent: ['reseat ESC plug', 'replace ESC'] as const,
  }[how].slice(),
  outputs: [output],
})
