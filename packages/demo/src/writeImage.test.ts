import { sha256 } from '@noble/hashes/sha2.js'
import { bytesToHex } from '@noble/hashes/utils.js'
import { writeImage, type ImageProgress } from '@taraf/core'
import { answererOf, type Rig } from '@taraf/rig'
import fc from 'fast-check'
import { goodFirmware, imageBytes } from './images'
import { demoShop, rigOf } from './rigs'

const at = new Date('2026-11-02T09:00:00Z')
const fresh = (version = '3.0.1') => {
  const rig = rigOf({ type: 'N4', board: 'FB-1', seed: 3 }, demoShop(at))
  rig.airframe.board.firmware = { ...goodFirmware, version }
  return rig
}
const bytes = 20 * 1024 + 77
const image = imageBytes('TIDEBOARD-4', goodFirmware, bytes)
const hash = bytesToHex(sha256(image))

/** Writes, and stops after so many asks; a write that is cut off leaves only so many bytes of its block. */
const write = (rig: Rig, of = image, sha = hash, mostAsks = Infinity, bytesOfLast = 0) => {
  const ask = answererOf(rig)
  const told: ImageProgress[] = []
  const steps = writeImage(of, sha)
  let writes = 0
  for (let step = steps.next(), n = 0; ; n++) {
    if (step.done === true) return { end: step.value, told, writes }
    if (n >= mostAsks) {
      const cut = step.value.ask
      if (cut.ask === 'image.write') rig.board.loader.write(cut.address, cut.data.slice(0, bytesOfLast))
      return { end: null, told, writes }
    }
    told.push(step.value)
    if (step.value.ask.ask === 'image.write') writes += 1
    step = steps.next(ask(step.value.ask) as never)
  }
}

test('an image is written, read back and runs from the next start', () => {
  const rig = fresh()
  expect(write(rig).end).toMatchObject({ firmware: { version: '3.2.0' } })
  rig.restart()
  expect(rig.board.identity).toMatchObject({ loader: false, firmware: { version: '3.2.0' } })
})

test('cut off at any message and any byte, over restarts: never half accepted, and the next try ends it', () => {
  const asks = write(fresh()).told.length
  fc.assert(
    fc.property(
      fc.array(fc.tuple(fc.integer({ min: 1, max: asks - 1 }), fc.integer({ min: 0, max: 1024 }), fc.boolean()), {
        minLength: 1,
        maxLength: 3,
      }),
      (cuts) => {
        const rig = fresh()
        for (const [most, last, restarts] of cuts) {
          const { end } = write(rig, image, hash, most, last)
          if (restarts) rig.restart()
          const { loader, firmware } = rig.board.identity
          // Either nothing was begun and the old one runs, or it waits; the new one runs only once it is whole.
          if (end === null)
            expect(loader ? firmware : ['3.0.1', '3.2.0'].includes(firmware?.version ?? '')).toBe(loader ? null : true)
          if (end === null && firmware?.version === '3.2.0') throw new Error('it runs though it was cut off')
        }
        expect(write(rig).end).toMatchObject({ firmware: { version: '3.2.0' } })
        expect(rig.board.identity.loader).toBe(false)
      },
    ),
    { numRuns: 60 },
  )
})

test('what is right in the flash already is not written again', () => {
  const rig = fresh()
  const all = write(rig, image, hash, 12).writes
  expect(all).toBeGreaterThan(5)
  expect(write(rig).writes).toBe(21 - all)
})

test('what is left of a longer image is erased first', () => {
  const rig = fresh()
  const longer = imageBytes('TIDEBOARD-4', { ...goodFirmware, version: '3.1.2' }, 60 * 1024)
  write(rig, longer, bytesToHex(sha256(longer)), 55)
  expect(write(rig).end).toMatchObject({ firmware: { version: '3.2.0' } })
})

test('a flash that does not keep what is written is named, and the board stays in its loader', () => {
  const rig = fresh()
  const { loader } = rig.board
  const keep = loader.write.bind(loader)
  Object.assign(loader, {
    write: (address: number, data: Uint8Array) => {
      const worn = data.slice()
      worn[5] = (worn[5] as number) ^ 4
      return keep(address, address % 4096 === 0 ? worn : data)
    },
  })
  expect(write(rig).end).toMatchObject({ why: expect.stringMatching(/did not read back .* the flash is worn/) as unknown })
  expect(rig.board.identity.loader).toBe(true)
})

test('an image larger than the flash is not begun', () => {
  const rig = fresh()
  expect(write(rig, new Uint8Array(3 * 1024 * 1024), hash).end).toMatchObject({
    why: expect.stringMatching(/the board takes/) as unknown,
  })
  expect(rig.board.identity.loader).toBe(false)
})

test('progress never runs backwards within a phase', () => {
  const { told } = write(fresh())
  told.slice(1).forEach(({ phase, share }, i) => {
    const before = told[i]
    if (before?.phase === phase) expect(share).toBeGreaterThanOrEqual(before.share)
  })
  expect([...new Set(told.map((t) => t.phase))]).toEqual(['looking', 'writing', 'verifying', 'ending'])
})
