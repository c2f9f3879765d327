import type { BoardState } from '@taraf/contract'
import { Emitter } from '../src/link/emitter'
import type { BoardLink, LinkEvents } from '../src/link/boardLink'

const still: BoardState = {
  power: 'both',
  powerId: 'p1',
  motors: 'still',
  radio: 'none',
  mode: 'rate',
  refusing: [],
  lossPhase: 'none',
  permit: null,
}

/** A link whose board says what a test has it say. */
export class FakeLink extends Emitter<LinkEvents> {
  phase = 'up'
  detail = ''
  isOver = false
  state: BoardState = still

  constructor(public identity = { board: 'FB-1' }) {
    super()
  }

  is(change: Partial<BoardState>, phase = this.phase): void {
    this.state = { ...this.state, ...change }
    this.phase = phase
    this.tell('phase')
  }

  get asLink(): BoardLink {
    return this as unknown as BoardLink
  }
}
