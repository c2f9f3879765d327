import {
  ask as askSchema,
  benchLinkVersion,
  type Ask,
  type AskName,
  type AnswerOf,
  type RefusalType,
  senseColumns,
  type SenseColumn,
  type SenseTell,
  type ImuStage,
} from '@taraf/contract'
import { decode, encode } from '@taraf/contract/wire'
import type { Rig, Sample } from '@taraf/rig'
import type { WebSocket } from 'ws'

const mostMalformed = 20
const mostUnreadBytes = 512 * 1024

/**
 * The board's end of one Bench Link: answers asks in order and tells samples. It closes on a peer that keeps sending
 * what cannot be understood, or that stops reading.
 */
export class BoardLink {
  private stream: { stage: ImuStage; rows: number; seq: number; block: Sample[] } | null = null
  private waiting: { id: number } | null = null
  private malformed = 0

  constructor(
    private readonly socket: WebSocket,
    private readonly rig: Rig,
    private readonly bootedAtMs: () => number,
    private readonly restart: () => number,
  ) {
    socket.on('message', (bytes: Buffer, binary: boolean) => this.take(bytes, binary))
    socket.on('error', () => socket.terminate())
  }

  get stage(): ImuStage {
    return this.stream?.stage ?? 'body'
  }

  /** Takes a sample of the rig into the running block, and answers a calibration that has ended. */
  sampled(sample: Sample): void {
    this.endCalibration()
    if (this.stream === null) return
    this.stream.block.push(sample)
    if (this.stream.block.length < this.stream.rows) return
    this.send(senseOf(this.stream.stage, this.stream.seq, this.stream.block))
    this.stream.seq += 1
    this.stream.block = []
  }

  close(code: number, reason: string): void {
    this.socket.close(code, reason)
  }

  private take(bytes: Buffer, binary: boolean): void {
    if (!binary) return this.notUnderstood(null, 'a text frame; Bench Link speaks CBOR in binary frames')
    let item: unknown
    try {
      item = decode(bytes)
    } catch (error) {
      return this.notUnderstood(null, `not CBOR: ${error instanceof Error ? error.message : String(error)}`)
    }
    const parsed = askSchema.safeParse(item)
    if (parsed.success) return this.answer(parsed.data)
    const issue = parsed.error.issues[0]
    this.notUnderstood(idOf(item), `${issue?.path.join('.') || 'message'}: ${issue?.message ?? 'unreadable'}`)
  }

  private answer(ask: Ask): void {
    switch (ask.ask) {
      case 'hello':
        return ask.version === benchLinkVersion
          ? this.reply(ask, {
              version: benchLinkVersion,
              speaker: 'simulated board',
              bootedAtMs: this.bootedAtMs(),
              state: this.rig.state(),
            })
          : this.refuse(ask.id, 'version', `version ${ask.version} is not spoken here, version ${benchLinkVersion} is`)
      case 'identity':
        return this.reply(ask, this.rig.plan.identity)
      case 'settings.list':
        return this.reply(ask, { settings: this.rig.list() })
      case 'settings.write': {
        const wrong = this.rig.write(ask.values)
        return wrong === null ? this.reply(ask, {}) : this.refuse(ask.id, 'out-of-range', `${wrong}; nothing was written`)
      }
      case 'settings.save':
        this.rig.save()
        return this.reply(ask, {})
      case 'sense':
        this.stream = { stage: ask.stage, rows: ask.rows, seq: 0, block: [] }
        return this.reply(ask, {})
      case 'calibrate':
        if (this.waiting !== null) return this.refuse(ask.id, 'busy', 'a calibration is running')
        this.waiting = { id: ask.id }
        return this.rig.calibrate()
      case 'restart':
        this.reply(ask, { backInMs: this.restart() })
        return this.close(1012, 'restarting')
    }
  }

  private endCalibration(): void {
    if (this.waiting === null) return
    const result = this.rig.calibrationResult()
    if (result === null) return
    const { id } = this.waiting
    this.waiting = null
    if (result === 'moving')
      return this.refuse(id, 'moving', 'the airframe moved while the gyro was measured; nothing was changed')
    this.send({ id, answer: { values: result } })
  }

  private reply<Name extends AskName>(ask: Ask & { ask: Name }, answer: AnswerOf<Name>): void {
    this.send({ id: ask.id, answer })
  }

  private refuse(id: number | null, type: RefusalType, detail: string): void {
    this.send({ id, refusal: { type, detail } })
  }

  private notUnderstood(id: number | null, detail: string): void {
    this.malformed += 1
    this.refuse(id, 'malformed', detail)
    if (this.malformed >= mostMalformed) this.close(1008, 'too much that cannot be understood')
  }

  private send(message: unknown): void {
    if (this.socket.bufferedAmount > mostUnreadBytes) return this.socket.terminate()
    this.socket.send(encode(message))
  }
}

const idOf = (item: unknown): number | null =>
  typeof item === 'object' && item !== null && 'id' in item && Number.isSafeInteger(item.id) && Number(item.id) >= 0
    ? Number(item.id)
    : null

const senseOf = (stage: ImuStage, seq: number, block: readonly Sample[]): SenseTell => {
  const columns: Record<SenseColumn, (s: Sample) => number> = {
    ax: (s) => s.force[0],
    ay: (s) => s.force[1],
    az: (s) => s.force[2],
    gx: (s) => s.rate[0],
    gy: (s) => s.rate[1],
    gz: (s) => s.rate[2],
    roll: (s) => s.attitude.roll,
    pitch: (s) => s.attitude.pitch,
    yaw: (s) => s.attitude.yaw,
  }
  const values = Float32Array.from(senseColumns.flatMap((name) => block.map(columns[name])))
  return { tell: 'sense', seq, stage, t: Float64Array.from(block, (s) => s.t), values }
}
