import { type Column, type Evidence, type Finding, type Remedy, type Segment, type Settings, type WantOf } from '@taraf/contract'
import { judgedAs, type Check } from '../check'
import { outputWords } from '../escs/read'
import { outputsOf } from '../geometry'
import { planOf } from '../plan'
import { commandAt } from './commandAt'

/** From this command on every sound motor turns (common practice); told it for so long and still at rest, one is driven no longer. */
const leastShare = 0.1
export const standsS = 1.2
/** As good as still, whatever pole count the speed is told by. */
const stillRpm = 60
/** A command never falls within a step: slower than this share of what it was, for so long, a motor has lost its step. */
const keptShare = 0.7
const slipsS = 0.1
const badReply = 0.5

/** A motor that does not do what it is told: it never turned, it turned and lost its step, or its ESC says nothing where others do. */
export interface Standing {
  readonly output: number
  readonly how: 'stands' | 'stutters' | 'silent'
}
const lastsS = { stands: standsS, silent: standsS, stutters: slipsS } as const

/** Watches, row by row of what the ESCs tell, for a motor that is told to turn and does not. */
export class StandWatch {
  private began: number | null = null
  private readonly since = new Map<number, { readonly how: Standing['how']; readonly t: number }>()
  private readonly most = new Map<number, number>()

  /** @param fitted every output that has an ESC */
  constructor(
    private readonly want: Pick<WantOf<'turn'>, 'outputs' | 'runUpS' | 'riseS'>,
    private readonly fitted: readonly number[],
  ) {}

  /** @param told what a column of `escs` says in this row; undefined where there is none */
  push(t: number, told: (column: string) => number | undefined): Standing | null {
    this.began ??= t
    const { outputs, runUpS, riseS } = this.want
    const since = t - this.began + runUpS
    for (const { output, share } of outputs) {
      const how = commandAt(share, since, riseS) < leastShare ? null : this.howIs(output, told)
      const before = this.since.get(output)
      if (how === null) this.since.delete(output)
      else if (before?.how !== how) this.since.set(output, { how, t })
      else if (t - before.t >= lastsS[how]) return { output, how }
    }
    return null
  }

  private howIs(output: number, told: (column: string) => number | undefined): Standing['how'] | null {
    const isSilent = (one: number) => (told(`err${one}`) ?? 1) > badReply
    if (isSilent(output)) return this.fitted.some((other) => other !== output && !isSilent(other)) ? 'silent' : null
    const rpm = told(`rpm${output}`) ?? 0
    const most = Math.max(rpm, this.most.get(output) ?? 0)
    this.most.set(output, most)
    if (most < stillRpm) return 'stands'
    return rpm < keptShare * most ? 'stutters' : null
  }
}

/** Whether the board asks the ESCs how fast they turn. */
export const tellsSpeeds = (settings: Settings | undefined): boolean => settings?.['esc.replies'] !== 0

/** What stood in a segment although it was told to turn, or null. */
const stoodIn = ({ streams }: Segment, want: WantOf<'turn'>, fitted: readonly number[]): Standing | null => {
  const { escs } = streams
  if (escs === undefined) return null
  const watching = new StandWatch(want, fitted)
  const columns = escs as Readonly<Record<string, Column | undefined>>
  for (let i = 0; i < escs.t.length; i++) {
    const stood = watching.push(escs.t[i] as number, (column) => columns[column]?.[i])
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
 * it, and names what mends it: what the take did not come to is not asked for. A check that proves how motors turn fails; any other proves nothing.
 */
export const stoppedBy = (check: Check, evidence: Evidence): Finding[] | null => {
  if (!tellsSpeeds(evidence.board.settings)) return null
  for (const want of planOf(check, evidence.sheet, evidence.board.settings)) {
    const segment = evidence.segments.find(({ label }) => label === want.label)
    const stood = want.kind !== 'turn' || segment === undefined ? null : stoodIn(segment, want, outputsOf(evidence.sheet))
    if (stood === null) continue
    const remedy = notTurning(stood)
    if (check.provesTurning === true) return [judgedAs(`turns${stood.output}`, stood.how, 'turns', remedy)]
    return [{ key: 'refused', value: `${said[stood.how]} output ${stood.output}`, unit: '', verdict: 'refused', remedy }]
  }
  return null
}

/** What mends a motor that does not turn as it is told. */
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
