import { fileURLToPath } from 'node:url'
import { availableParallelism } from 'node:os'
import type { Evidence, FlashMap } from '@taraf/contract'
import type { Image } from '@taraf/core/intelHex'
import workerpool, { type Pool } from 'workerpool'
import type { JudgedCsv, Known, Named } from '../files/airframesCsv'
import { ProblemError } from '@taraf/contract'
import type { PackedEvidence } from '../files/packEvidence'
import type { ReadFile } from '../files/settingsFile'
import type { Read } from './fileWork'

const mostMs = 20_000
/** A password is never too much to read: what takes so long is the machine. */
const mostPasswordMs = 60_000
const mostMb = 384
const mostWaitingFiles = 12
const mostWaitingEvidence = 200
const mostWaitingPasswords = 500

export interface PasswordWork {
  hash(password: string): Promise<string>
  verify(hash: string, password: string): Promise<boolean>
}

/** Reading what people send. Each throws a problem where it is wrong, takes too long, or too many wait already. */
export interface FileWork {
  named(bytes: Buffer): Promise<Named>
  /** The text of an `ImportPreview`. */
  preview(bytes: Buffer, known: Known): Promise<string>
  register(bytes: Buffer, known: Known): Promise<JudgedCsv>
  settings(bytes: Buffer): Promise<ReadFile>
  picture(bytes: Buffer): Promise<Uint8Array>
  image(file: string, bytes: Buffer, flash: readonly { target: string; flash: FlashMap }[]): Promise<Image>
}

export interface EvidenceWork {
  pack(evidence: Evidence): Promise<PackedEvidence>
}

/** The processes that heavy work is done in: stopping motors never waits behind it. */
export interface Work {
  readonly passwords: PasswordWork
  readonly files: FileWork
  readonly evidence: EvidenceWork
  close(): Promise<void>
}

/** Processes rather than threads: what a decoder takes and gives back of memory holds up every thread of its process. */
const pool = (name: string, processes: number, mostWaiting: number) =>
  workerpool.pool(fileURLToPath(new URL('./process.mjs', import.meta.url)), {
    workerType: 'process',
    // One takes a second to start: those that are there stay.
    minWorkers: 1,
    maxWorkers: processes,
    maxQueueSize: mostWaiting,
    forkArgs: [`./${name}.ts`],
    forkOpts: { serialization: 'advanced', execArgv: [`--max-old-space-size=${mostMb}`] },
  })

const tooMuchToRead = () => new ProblemError('file-wrong', `It takes more than ${mostMs / 1000} s or too much memory to read.`)
const tooMuchToDo = () => new ProblemError('busy', 'The server has too much to do just now.', 5)

/** Has a function of a worker do its work on what it is given. */
export type AskWorker = <T>(name: string, given: unknown) => Promise<T>

const asks =
  (pool: Pool, ms: number, beyond: () => ProblemError): AskWorker =>
  async <T>(name: string, given: unknown): Promise<T> => {
    try {
      return (await pool.exec(name, [given]).timeout(ms)) as T
    } catch (error) {
      if (!(error instanceof Error)) throw error
      if (/queue/i.test(error.message)) throw new ProblemError('busy', 'Too much of this is being worked at already.', 5)
      if (error instanceof workerpool.Promise.TimeoutError || error instanceof workerpool.TerminateError) throw beyond()
      throw error
    }
  }

/** The work as a server asks for it, whoever does it. */
export const workBy = (passwords: AskWorker, files: AskWorker, evidence: AskWorker, close: () => Promise<void>): Work => {
  const read = async <T>(name: string, given: unknown): Promise<T> => {
    const result = await files<Read<T>>(name, given)
    if ('problem' in result) throw new ProblemError(result.problem.type, result.problem.detail)
    return result.value
  }
  return {
    passwords: {
      hash: (password) => passwords('hashPassword', password),
      verify: (hash, password) => passwords('verifyPassword', { hash, password }),
    },
    files: {
      named: (bytes) => read('named', { bytes }),
      preview: (bytes, known) => read('preview', { bytes, known }),
      register: (bytes, known) => read('register', { bytes, known }),
      settings: (bytes) => read('settings', { bytes }),
      picture: (bytes) => read('picture', { bytes }),
      image: (file, bytes, flash) => read('image', { file, bytes, flash }),
    },
    evidence: {
      pack: async (document) => {
        const { data, sha256 } = await evidence<PackedEvidence>('pack', document)
        return { data: Buffer.from(data), sha256: Buffer.from(sha256) }
      },
    },
    close,
  }
}

export const openWork = (): Work => {
  const passwords = pool('passwordWork', Math.min(4, Math.max(2, availableParallelism() - 1)), mostWaitingPasswords)
  const files = pool('fileWork', 1, mostWaitingFiles)
  const evidence = pool('evidenceWork', 1, mostWaitingEvidence)
  return workBy(
    asks(passwords, mostPasswordMs, tooMuchToDo),
    asks(files, mostMs, tooMuchToRead),
    asks(evidence, mostMs, tooMuchToRead),
    async () => void (await Promise.all([passwords.terminate(true), files.terminate(true), evidence.terminate(true)])),
  )
}
