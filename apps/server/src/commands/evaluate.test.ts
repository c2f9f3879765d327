import { spawnSync } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'

jest.setTimeout(60_000)
const root = join(__dirname, '../../../..')
const folder = mkdtempSync(join(tmpdir(), 'taraf-evaluate-'))
afterAll(() => rmSync(folder, { recursive: true, force: true }))

/** Two placements of an airframe whose board leans by 2 deg to the right, on a level plate. */
const level = () => {
  const rows = 401
  const fill = (value: number) => new Array<number>(rows).fill(value)
  const lean = (2 * Math.PI) / 180
  // A live sensor trembles, here the same way in every row and its neighbour: the mean stays.
  const trembling = (value: number) =>
    fill(value).map((v, i) => (i === rows - 1 ? v : v + (i % 2 === 0 ? 1 : -1) * 1e-4 * ((i >> 1) % 7)))
  const imu = {
    stage: 'body',
    t: fill(0).map((_, i) => i / 200),
    ax: trembling(0),
    ay: trembling(-9.80665 * Math.sin(lean)),
    az: trembling(-9.80665 * Math.cos(lean)),
    gx: fill(0),
    gy: fill(0),
    gz: fill(0),
  }
  return {
    format: 'taraf-evidence/1',
    check: 'orientation.level',
    segments: [
      { label: 'first', streams: { imu } },
      { label: 'second', streams: { imu } },
    ],
  }
}
const file = (name: string, text: string) => {
  writeFileSync(join(folder, name), text)
  return join(folder, name)
}
const evaluate = (...files: string[]) => {
  const { stdout, status, stderr } = spawnSync('npm', ['run', '-s', 'evaluate', '--', ...files], { cwd: root, encoding: 'utf8' })
  return {
    status,
    stderr,
    lines: stdout
      .trim()
      .split('\n')
      .filter(Boolean)
      .map(
        (line) =>
          JSON.parse(line) as { verdict?: string; error?: string; findings: { key: string; value: unknown; remedy?: unknown }[] },
      ),
  }
}

describe('npm run -s evaluate', () => {
  test('prints one line of findings for a file, with the remedy, and exits 0', () => {
    const { lines, status } = evaluate(file('level.json', JSON.stringify(level())))
    expect(status).toBe(0)
    expect(lines).toHaveLength(1)
    expect(lines[0]).toMatchObject({ format: 'taraf-findings/1', check: 'orientation.level', version: 2, verdict: 'fail' })
    expect(lines[0]?.findings.find((f) => f.key === 'rollOffset')).toMatchObject({
      value: expect.closeTo(2, 6) as number,
      unit: 'deg',
      remedy: { settings: { 'level.roll': 2, 'level.pitch': 0 } },
    })
  })

  test('keeps the order given, tells errors in their place, goes on, and exits 1', () => {
    const good = file('good.json', JSON.stringify(level()))
    const { lines, status } = evaluate(
      good,
      file('cut.json', JSON.stringify(level()).slice(0, 300)),
      join(folder, 'missing.json'),
      good,
    )
    expect(status).toBe(1)
    expect(lines.map((l) => l.verdict ?? 'error')).toEqual(['fail', 'error', 'error', 'fail'])
    expect(lines[1]?.error).toContain('cut.json: not a whole JSON document')
    expect(lines[2]?.error).toContain('missing.json: cannot be read (ENOENT)')
  })

  test('without a file it says how it is called', () => {
    const { status, stderr } = evaluate()
    expect(status).toBe(1)
    expect(stderr).toContain('npm run -s evaluate -- FILE...')
  })
})
