import type { Random } from '@taraf/rig'
import type { JumpClock } from '@taraf/takes'
import type { Fate, Traffic } from './network'
import type { Part } from './part'

/** What can go wrong at a message: of the message itself, or of a part that it is from or for. */
const ofMessage = ['late', 'lost', 'twice', 'overtaken', 'cut'] as const
const ofPart = ['end', 'stop', 'slow', 'date', 'part'] as const
type What = (typeof ofMessage)[number] | (typeof ofPart)[number]

/** One thing that goes wrong: at the n-th message of a kind after a moment of a history. */
export interface Strike {
  readonly fromMs: number
  readonly traffic: Traffic
  /** So many messages of its traffic pass by first. */
  after: number
  readonly what: What
  /** It strikes who the message is for, not who it is from. */
  readonly atReceiver: boolean
  readonly forMs: number
}

/** What a strike does to parts. */
export interface Struck {
  end(part: Part, forMs: number): void
  stop(part: Part, forMs: number): void
  slow(part: Part, forMs: number): void
  date(part: Part, byMs: number): void
  part(a: Part, b: Part, forMs: number): void
}

const traffics: readonly Traffic[] = ['web', 'live', 'peer', 'ask', 'ask', 'samples', 'samples', 'database', 'database']
const mostStrikes = 6
const mostMs = { end: 6_000, stop: 8_000, slow: 4_000, part: 10_000, late: 3_000, lost: 500 } as const

/** @param windowMs the time in which things go wrong */
export const drawStrikes = (random: Random, windowMs: number): Strike[] => {
  const one = <T>(of: readonly T[]) => of[random.below(of.length)] as T
  return Array.from({ length: random.below(mostStrikes + 1) }, () => {
    const traffic = one(traffics)
    const what = random.uniform() < 0.5 ? one(ofMessage) : one(ofPart)
    const most = what in mostMs ? mostMs[what as keyof typeof mostMs] : 0
    return {
      fromMs: random.between(500, windowMs),
      traffic,
      after: random.below(traffic === 'samples' ? 200 : 12),
      what,
      atReceiver: random.uniform() < 0.5,
      // Short ones are as likely as long ones.
      forMs: what === 'date' ? random.between(-7_200_000, 7_200_000) : most * random.uniform() ** 3 + 20,
    }
  })
}

/** Lets strikes fall as their messages come. */
export class Strikes {
  fallen = 0
  private isOver = false
  /** From whom samples are lost, and until when, ms. */
  private losing: { readonly from: Part; readonly untilMs: number } | null = null

  constructor(
    private readonly time: JumpClock,
    private readonly strikes: Strike[],
    private readonly struck: Struck,
    /** Is told each message and what becomes of it; null where nobody follows the history. */
    private readonly told: ((words: string) => void) | null,
  ) {}

  /** From now on everything goes well. */
  end(): void {
    this.isOver = true
  }

  fate = (traffic: Traffic, from: Part, to: Part, about: () => string): Fate => {
    const fate = this.isOver ? 'arrives' : this.strike(traffic, from, to)
    if (this.told !== null && (traffic !== 'samples' || fate !== 'arrives'))
      this.told(`${traffic} ${from.name} -> ${to.name}: ${about()}${fate === 'arrives' ? '' : ` [${JSON.stringify(fate)}]`}`)
    return fate
  }

  private strike(traffic: Traffic, from: Part, to: Part): Fate {
    const nowMs = this.time.nowMs()
    if (traffic === 'samples' && this.losing?.from === from && nowMs < this.losing.untilMs) return 'lost'
    for (const [i, strike] of this.strikes.entries()) {
      if (strike.traffic !== traffic || nowMs < strike.fromMs || strike.after-- > 0) continue
      this.strikes.splice(i, 1)
      this.fallen += 1
      return this.fall(strike, from, to)
    }
    return 'arrives'
  }

  private fall({ what, traffic, atReceiver, forMs }: Strike, from: Part, to: Part): Fate {
    const part = atReceiver ? to : from
    this.told?.(`strike: ${what} ${what === 'late' || part === undefined ? '' : part.name} ${Math.round(forMs)} ms`)
    switch (what) {
      case 'late':
        return { lateMs: forMs }
      case 'lost':
        // One block of samples is a hundredth of a second: what is lost for longer has to be found.
        if (traffic === 'samples') this.losing = { from, untilMs: this.time.nowMs() + forMs }
        return what
      case 'twice':
      case 'overtaken':
      case 'cut':
        return what
      case 'part':
        this.struck.part(from, to, forMs)
        return 'arrives'
      default:
        this.struck[what](part, forMs)
        return 'arrives'
    }
  }
}
