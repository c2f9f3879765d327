import { randomUUID } from 'node:crypto'
import type { FlashMap, ImageTell, ImageView, Problem } from '@taraf/contract'
import { flashByTarget, goodFirmware, imageHex } from '@taraf/demo'
import { eventually, makeWorld, type Client, type World } from '../../tests/world'

jest.setTimeout(120_000)
let world: World
let ines: Client
let maud: Client
let job: string
let good: ImageView
const rig = () => world.rigs.sound
const upload = <Body = Problem>(hex: string | Buffer, file = 'image.hex') =>
  ines.upload<Body>(`/images?file=${encodeURIComponent(file)}`, Buffer.from(hex))

beforeAll(async () => {
  world = await makeWorld({ leavesOut: [], type: 'L4', withBoard: true })
  ines = await world.signIn('ines')
  maud = await world.signIn('maud')
  rig().airframe.board.firmware = { ...goodFirmware, version: '3.0.1' }
  job = await ines.begin('T-001', world.benches.sound)
})
afterAll(() => world.end())

const watch = async () => {
  const live = await ines.live({ job, bench: world.benches.sound })
  return { ...live, tells: () => live.told.filter((t): t is ImageTell => t.tell === 'image') }
}

describe('images that the shop keeps', () => {
  test('a whole one is kept by the hash of its bytes, whoever sends it again', async () => {
    const { status, body } = await upload<ImageView>(imageHex('TIDEBOARD-4', goodFirmware), 'shoreline 3.2.0.hex')
    expect(status).toBe(201)
    expect(body).toMatchObject({ target: 'TIDEBOARD-4', name: 'shoreline', version: '3.2.0', bytes: 96 * 1024, by: 'Ines' })
    good = body
    expect((await upload<ImageView>(imageHex('TIDEBOARD-4', goodFirmware))).body.sha256).toBe(good.sha256)
    expect((await ines.get<ImageView[]>('/images')).body).toHaveLength(1)
  })

  test.each<[string, () => string | Buffer, RegExp]>([
    [
      'one bit flipped',
      () => {
        const hex = Buffer.from(imageHex('TIDEBOARD-4', goodFirmware))
        hex[5_000] = (hex[5_000] as number) ^ 1
        return hex
      },
      /line \d+: /,
    ],
    ['cut off', () => imageHex('TIDEBOARD-4', goodFirmware).slice(0, 40_000), /line|end/],
    ['for a target that nobody knows', () => imageHex('TIDEBOARD-4', goodFirmware).replace(/^:[^\n]*\n/, ''), /TIDEBOARD-4/],
    ['a photo', () => Buffer.from([0xff, 0xd8, 0xff, 0xe0, 0, 16]), /line 1/],
  ])('%s is refused with the place, and nothing is kept', async (_what, hex, why) => {
    const { status, body } = await upload(hex())
    expect(status).toBe(422)
    expect(body.type).toBe('/problems/file-wrong')
    expect(body.detail).toMatch(why)
    expect((await ines.get<ImageView[]>('/images')).body).toHaveLength(1)
  })

  test('one of 50 MB is not even read', async () => {
    const { status, body } = await upload(Buffer.alloc(50_000_000, 0x30))
    expect(status).toBe(413)
    expect(body.type).toBe('/problems/too-large')
  })
})

describe('writing one to a board', () => {
  test('is refused for another target, and without a reason', async () => {
    // Where images are in its flash is the sheet's to say: without one that does, none for that target is taken in.
    const older = imageHex('TIDEBOARD-3', goodFirmware)
    expect((await upload(older)).body.type).toBe('/problems/file-wrong')
    const plain = (await world.db.sheets.findOne({ rejectOnEmpty: true })).get({ plain: true })
    const board = { target: 'TIDEBOARD-3', sockets: [], flash: flashByTarget['TIDEBOARD-3'] as FlashMap }
    await world.db.sheets.create({ ...plain, id: randomUUID(), type: 'O4', body: { ...plain.body, type: 'O4', board } })
    const { body: other } = await upload<ImageView>(older)
    expect(other.target).toBe('TIDEBOARD-3')
    expect((await ines.post(`/jobs/${job}/image`, { sha256: other.sha256, reason: 'try it' })).body.type).toBe(
      '/problems/image-wrong',
    )
    expect((await ines.post(`/jobs/${job}/image`, { sha256: good.sha256, reason: '' })).status).toBe(400)
    expect(rig().board.loader.loading).toBe(false)
  })

  test('too old fails with the image to write', async () => {
    await ines.take(job, 'board.asReceived')
    const { body } = await ines.take(job, 'board.firmware')
    expect(body).toMatchObject({
      verdict: 'fail',
      findings: [{ key: 'firmware', value: 'shoreline 3.0.1, too old', remedy: { image: '3.2.0' } }, {}],
    })
  })

  test('refused in the middle by the board, whose link stays up: the card says by itself that it waits in its loader', async () => {
    const { tells, socket } = await watch()
    const { loader } = rig().board
    const write = loader.write.bind(loader)
    Object.assign(loader, { write: () => 'address' })
    expect((await ines.post(`/jobs/${job}/image`, { sha256: good.sha256, reason: 'too old' })).status).toBe(202)
    await eventually(() => tells().at(-1)?.phase === 'failed')
    Object.assign(loader, { write })
    await eventually(async () => (await ines.job(job)).standings['board.firmware']?.state === 'stale')
    expect((await ines.job(job)).entries.at(-1)?.body).toMatchObject({
      change: { what: 'image', from: { version: '3.0.1' }, to: { name: 'none' } },
      cause: 'Found changed on the board.',
    })
    socket.close()
  })

  test('cut off by the cable it stays in its loader, says so, takes nothing else, and goes on to its end', async () => {
    const { tells, socket } = await watch()
    const cut = rig().board.loader
    const write = cut.write.bind(cut)
    let blocks = 0
    // The cable comes out in the middle of a block: half of it is in the flash.
    Object.assign(cut, {
      write: (address: number, data: Uint8Array) => {
        blocks += 1
        if (blocks === 40) {
          write(address, data.subarray(0, 300))
          setImmediate(() => void ines.post(`/hands/${world.benches.sound}`, { act: 'cable', in: false }))
        }
        return blocks >= 40 ? 'address' : write(address, data)
      },
    })
    expect((await ines.post(`/jobs/${job}/image`, { sha256: good.sha256, reason: 'too old' })).status).toBe(202)
    await eventually(() => tells().at(-1)?.phase === 'failed', 20_000)
    Object.assign(cut, { write })
    await ines.post(`/hands/${world.benches.sound}`, { act: 'cable', in: true })
    await ines.untilLinked(job)
    expect(rig().board.loader.loading).toBe(true)
    expect((await ines.post(`/jobs/${job}/takes`, { check: 'board.loop' })).status).toBe(409)
    // A board in its loader has no standing firmware: the card says so by itself.
    await eventually(async () => (await ines.job(job)).standings['board.firmware']?.state === 'stale')
    expect((await ines.job(job)).entries.at(-1)?.body).toMatchObject({ change: { what: 'image', to: { name: 'none' } } })
    const waits = await ines.take(job, 'board.firmware')
    expect(waits.body).toMatchObject({ verdict: 'fail', findings: [{ value: 'none: the board waits in its loader' }] })

    blocks = 0
    Object.assign(cut, { write: (address: number, data: Uint8Array) => ((blocks += 1), write(address, data)) })
    const before = tells().length
    expect((await ines.post(`/jobs/${job}/image`, { sha256: good.sha256, reason: 'too old' })).status).toBe(202)
    await eventually(
      () =>
        tells()
          .slice(before)
          .some((t) => t.phase === 'done' || t.phase === 'failed'),
      30_000,
    )
    expect(tells().at(-1)).toMatchObject({ phase: 'done' })
    // What was there before the cut was not written again.
    expect(blocks).toBe(96 - 39)
    expect(rig().board.identity.firmware?.version).toBe('3.2.0')
    socket.close()
  })

  test('the card says what it did: the firmware, and the setting that the update altered', async () => {
    const { entries, standings } = await ines.job(job)
    const changes = entries.flatMap(({ body }) => (body.kind === 'change' ? [body] : []))
    // What ran before is said, though the write was cut off and resumed from the loader, where the board says nothing of it.
    expect(changes.at(-2)).toMatchObject({
      change: { what: 'image', from: { name: 'shoreline', version: '3.0.1' }, to: { version: '3.2.0', sha256: good.sha256 } },
      cause: 'too old',
    })
    expect(changes.at(-1)).toMatchObject({ change: { what: 'settings' }, cause: expect.stringMatching(/update/) as unknown })
    expect(standings['board.firmware']?.state).toBe('stale')
    expect(standings['board.asReceived']?.state).toBe('pass')
    await ines.untilLinked(job)
    expect((await ines.take(job, 'board.firmware')).body).toMatchObject({ verdict: 'pass' })
    // The board does not say the hash of what it runs: linked again it is the same image, and no other change.
    await ines.remove(`/benches/${world.benches.sound}/hold`)
    const { length } = (await ines.job(job)).entries
    expect((await ines.post(`/benches/${world.benches.sound}/hold`, { job })).status).toBe(200)
    await ines.untilLinked(job)
    expect((await ines.job(job)).entries).toHaveLength(length)
  })

  test('a board that says another firmware than was written is on the card at once', async () => {
    const { tells, socket } = await watch()
    const { loader } = rig().board
    const end = loader.end.bind(loader)
    Object.assign(loader, { end: (hash: string) => (end(hash), { ...goodFirmware, version: '3.1.9' }) })
    expect((await ines.post(`/jobs/${job}/image`, { sha256: good.sha256, reason: 'once more' })).status).toBe(202)
    await eventually(() => tells().at(-1)?.phase === 'failed', 30_000)
    Object.assign(loader, { end })
    expect(tells().at(-1)?.detail).toMatch(/shoreline 3\.1\.9/)
    await eventually(async () => (await ines.job(job)).standings['board.firmware']?.state === 'stale')
    const changes = (await ines.job(job)).entries.flatMap(({ body }) => (body.kind === 'change' ? [body] : []))
    expect(changes.at(-1)).toMatchObject({
      change: { what: 'image', from: { version: '3.2.0' }, to: { version: '3.1.9' } },
      cause: 'Found changed on the board.',
    })
    socket.close()
  })

  test('whoever does not hold the bench cannot', async () => {
    expect((await maud.post(`/jobs/${job}/image`, { sha256: good.sha256, reason: 'because' })).body.type).toBe(
      '/problems/bench-held',
    )
  })
})
