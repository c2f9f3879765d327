import type { Evidence, Finding, Reports, Segment } from '@taraf/contract'
import { evaluate } from '../evaluate'
import { planOf } from '../plan'
import { escs } from '.'

const geometry = {
  booms: ['front right', 'rear right', 'rear left', 'front left'].map((name, i) => ({
    name,
    bearingDeg: 45 + 90 * i,
    radiusM: 0.125,
    motors: [{ tier: 'only' as const, output: i + 1, turn: i % 2 === 0 ? ('clockwise' as const) : ('anticlockwise' as const) }],
  })),
  body: { lengthM: 0.16, widthM: 0.07 },
  propDiameterM: 0.127,
}
const wanted = { timingDeg: 16, lockedRotorS: 2 }
const sheet = { geometry, escs: { understands: ['PWM', 'DShot300', 'DShot600'], settings: wanted } }
const sound = { reverse: 0, brake: 0, cutCellV: 0, ...wanted }
type Esc = NonNullable<Reports['escs']>[number]
const four = (change: (output: number) => Partial<Esc> & { set?: Record<string, number | undefined> } = () => ({})): Esc[] =>
  [1, 2, 3, 4].map((output) => {
    const { set = {}, ...esc } = change(output)
    return { output, found: true, firmware: '16.9', settings: { ...sound, ...set } as Record<string, number>, ...esc }
  })
const asked = (list: readonly Esc[], label = 'asked'): Segment => ({ label, streams: {}, reports: { escs: [...list] } })
const board = (settings: Record<string, number> = {}) => ({
  settings: { 'esc.signal': 1, 'esc.replies': 1, 'loop.rate': 0, ...settings },
  choices: { 'esc.signal': ['PWM', 'DShot300', 'DShot600', 'DShot1200'], 'loop.rate': ['4 kHz', '8 kHz', '1 kHz'] },
})
const judge = (id: string, segments: readonly Segment[], rest: Partial<Evidence> = {}) => {
  const check = escs.find((c) => c.id === id)
  if (check === undefined) throw new Error(`no check ${id}`)
  return evaluate(check, { format: 'taraf-evidence/1', check: id, sheet, board: board(), segments: [...segments], ...rest })
}
const failing = ({ findings }: { findings: readonly Finding[] }) =>
  findings.flatMap((f) => (f.verdict === 'fail' || f.verdict === 'refused' ? [f] : []))
const by = (found: { findings: readonly Finding[] }, key: string) => found.findings.find((f) => f.key === key)

describe('all found', () => {
  test('four that answer pass, and what they run is shown once', () => {
    const found = judge('escs.found', [asked(four())])
    expect(found.verdict).toBe('pass')
    expect(by(found, 'firmware')?.value).toBe('16.9')
  })
  test('a silent one, and one that the board does not even list, are named with their likely cause', () => {
    for (const list of [
      four((o) => (o === 3 ? { found: false, firmware: null, settings: null } : {})),
      four().filter((e) => e.output !== 3),
    ]) {
      const found = judge('escs.found', [asked(list)])
      expect(failing(found).map((f) => f.key)).toEqual(['esc3'])
      expect(failing(found)[0]?.remedy).toMatchObject({ by: 'work', work: ['reseat ESC plug', 'replace ESC'], outputs: [3] })
    }
  })
  test('all silent is what they have in common', () => {
    const found = judge('escs.found', [asked(four(() => ({ found: false })))])
    expect(failing(found)).toHaveLength(4)
    expect(failing(found)[0]?.remedy?.act).toMatch(/what they share/)
  })
  test('one more than the sheet has is told; one that runs another version is shown', () => {
    const more = judge('escs.found', [asked([...four(), { output: 6, found: true, firmware: '16.9', settings: sound }])])
    expect(failing(more).map(({ key, value }) => [key, value])).toEqual([['beside', 'output 6']])
    const other = judge('escs.found', [asked(four((o) => (o === 2 ? { firmware: '16.7' } : {})))])
    expect(by(other, 'firmware')?.value).toContain('output 2: 16.7')
  })
  test('an answer without a list proves nothing', () => {
    expect(judge('escs.found', [{ label: 'asked', streams: {} }]).verdict).toBe('refused')
  })
})

describe('settings', () => {
  const twice = (before: readonly Esc[], after = before) => judge('escs.settings', [asked(before), asked(after, 'again')])
  test('all alike and kept pass', () => {
    expect(twice(four()).verdict).toBe('pass')
  })
  test('before anything is written, one remedy writes all that differs, to those alone that it differs on', () => {
    const wrong = four((o) => (o === 2 ? { set: { timingDeg: 30, brake: 1 } } : o === 4 ? { set: { cutCellV: 3.2 } } : {}))
    const found = failing(judge('escs.settings', [asked(wrong)]))
    expect(found.map((f) => f.key).sort()).toEqual(['brake', 'cutCellV', 'timingDeg'])
    for (const { remedy } of found)
      expect(remedy).toMatchObject({ by: 'escs', escs: { outputs: [2, 4], settings: { brake: 0, cutCellV: 0, timingDeg: 16 } } })
    expect(by({ findings: found }, 'timingDeg')?.value).toEqual({
      'output 1': 16,
      'output 2': 30,
      'output 3': 16,
      'output 4': 16,
    })
  })
  test('what was written and kept passes, with what was there before', () => {
    const found = twice(
      four((o) => (o === 2 ? { set: { timingDeg: 30 } } : {})),
      four(),
    )
    expect(found.verdict).toBe('pass')
    expect(by(found, 'timingDegBefore')?.verdict).toBe('shown')
  })
  test('read once alone proves nothing: one that forgets reads right too', () => {
    expect(judge('escs.settings', [asked(four())]).verdict).toBe('refused')
  })
  test('what is wrong again after the write is an ESC that forgets', () => {
    const wrong = four((o) => (o === 2 ? { set: { timingDeg: 30 } } : {}))
    expect(failing(twice(wrong))[0]?.remedy).toMatchObject({ by: 'work', work: ['replace ESC'], outputs: [2] })
  })
  test('what only the battery took away is an ESC that forgets, whatever it was', () => {
    const found = twice(
      four((o) => (o === 3 ? { set: { reverse: 1 } } : {})),
      four(),
    )
    expect(failing(found).map(({ key, value }) => [key, value])).toEqual([['kept', 'not all: output 3']])
  })
  test('what the sheet does not name is as with the others; which way each turns may differ', () => {
    const found = judge('escs.settings', [asked(four((o) => ({ set: { switchingKHz: o === 1 ? 48 : 24, reverse: o % 2 } })))])
    expect(failing(found).map((f) => f.key)).toEqual(['switchingKHz'])
    expect(failing(found)[0]?.remedy).toMatchObject({ escs: { outputs: [1], settings: { switchingKHz: 24 } } })
  })
  test('what the sheet does not name and the take wrote as with the others is no loss', () => {
    const found = twice(
      four((o) => ({ set: { switchingKHz: o === 1 ? 48 : 24 } })),
      four(() => ({ set: { switchingKHz: 24 } })),
    )
    expect(failing(found)).toEqual([])
  })
  test('a protection that is off is listed with its reason, or fails without one', () => {
    const off = { ...sheet, escs: { ...sheet.escs, settings: { ...wanted, lockedRotorS: 0 } } }
    const list = four(() => ({ set: { lockedRotorS: 0 } }))
    expect(failing(judge('escs.settings', [asked(list)], { sheet: off })).map((f) => f.key)).toEqual(['lockedRotorSOff'])
    const meant = { ...off, escs: { ...off.escs, reasons: { lockedRotorS: 'the pump starts against its load' } } }
    const found = judge('escs.settings', [asked(list), asked(list, 'again')], { sheet: meant })
    expect(found.verdict).toBe('pass')
    expect(by(found, 'lockedRotorSOff')?.value).toBe('the pump starts against its load')
  })
  test('one that falls silent proves nothing', () => {
    const gone = four((o) => (o === 1 ? { found: false } : {}))
    expect(twice(gone).verdict).toBe('refused')
    expect(twice(four(), gone).verdict).toBe('refused')
  })
  test('a take writes where something differs, and has the battery out and in in any case', () => {
    const check = escs.find((c) => c.id === 'escs.settings')
    expect(check === undefined ? [] : planOf(check, sheet).map((w) => w.label)).toEqual([
      'asked',
      'battery-out',
      'battery-in',
      'again',
    ])
  })
})

describe('signal', () => {
  const signal = (settings: Record<string, number> = {}, own: object = {}, err: Readonly<Record<string, number>> = {}) =>
    judge('escs.signal', [asked(four()), replies(err)], { board: board(settings), sheet: { ...sheet, ...own } })
  const replies = (err: Readonly<Record<string, number>>): Segment => {
    const t = Array.from({ length: 150 }, (_, i) => i / 50)
    const column = (value: number) => t.map(() => value)
    const errors = Object.fromEntries([1, 2, 3, 4].map((o) => [`err${o}`, column(err[o] ?? 0.0005)]))
    const rpms = Object.fromEntries([1, 2, 3, 4].map((o) => [`rpm${o}`, column(0)]))
    return { label: 'replies', streams: { escs: { t, ...rpms, ...errors } } }
  }
  test('DShot300 with replies fits a loop of 4 kHz; the document may come without the replies', () => {
    const found = signal()
    expect(failing(found)).toEqual([])
    expect(by(found, 'frameUs')?.value).toBeCloseTo(16 / 0.3 + 30 + 21 / 0.375, 6)
    expect(by(found, 'frameUs')?.limit?.max).toBe(250)
    expect(judge('escs.signal', [asked(four())]).verdict).toBe('pass')
  })
  test('what does not fit is mended by the next that does', () => {
    const found = failing(signal({ 'loop.rate': 1 }))
    expect(found.map((f) => f.key)).toEqual(['frameUs'])
    expect(found[0]?.remedy).toMatchObject({ by: 'settings', settings: { 'esc.signal': 2 } })
  })
  test('a signal that the ESCs do not understand is mended by one that they do', () => {
    expect(failing(signal({ 'esc.signal': 3 }))[0]).toMatchObject({
      key: 'understood',
      remedy: { settings: { 'esc.signal': 1 } },
    })
  })
  test('DShot600 is for up to 7 in (common practice)', () => {
    const of = (propDiameterM: number) => failing(signal({ 'esc.signal': 2 }, { geometry: { ...geometry, propDiameterM } }))
    expect(of(0.178)).toEqual([])
    expect(of(0.2).map((f) => f.key)).toEqual(['wireLength'])
  })
  test('one ESC whose replies are all bad does not understand what the others do; all at once is left to their data', () => {
    const [one] = failing(signal({}, {}, { 2: 1 }))
    expect(one).toMatchObject({ key: 'silent', value: 'output 2', remedy: { work: ['replace ESC'], outputs: [2] } })
    expect(failing(signal({}, {}, { 1: 1, 2: 1, 3: 1, 4: 1 }))).toEqual([])
  })
  test('a board that does not say what it sends proves nothing', () => {
    expect(judge('escs.signal', [asked(four()), replies({})], { board: { settings: {} } }).verdict).toBe('refused')
  })
})
