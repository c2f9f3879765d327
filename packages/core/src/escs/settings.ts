import type { Evidence, Finding, Remedy, SheetPart } from '@taraf/contract'
import { defineCheck, refusal, shown, verdictOf } from '../check'
import { hasMotors } from '../sheetHas'
import { want } from '../take'
import { escSetting, escSettingNames, escValueWords, settingsWanted } from './names'
import { escsIn, outputWords, readEscs, someSilent, type EscRead } from './read'

const again = {
  kind: 'reports',
  label: 'again',
  ask: 'Leave it: every ESC is read once more.',
  of: ['escs'],
  state: { battery: true },
} as const

/** Which way a motor turns is looked at by turning it, and is kept over a power cycle where it is written. */
const settingsRead = escSettingNames.filter((name) => name !== 'reverse')

/** What each ESC is set to, against the sheet and against the others; what differs is written, and read again after the battery was off. */
export const settings = defineCheck({
  id: 'escs.settings',
  version: 1,
  station: 'escs',
  title: 'ESC settings',
  proves: 'Every ESC is set as the build sheet wants it, like the others, and keeps that with the battery off.',
  words: (sheet) =>
    Object.fromEntries([
      ...[...escSettingNames, ...Object.keys(settingsWanted(sheet))].map((name) => [name, escSetting(name).words]),
      ...Object.keys(sheet.escs?.reasons ?? {}).map((name) => [`${name}Off`, `${escSetting(name).words} is off, because`]),
      ['kept', 'With the battery off'],
    ]) as Record<string, string>,
  needs: ['escs.found'],
  reads: { settings: [], parts: ['ESC'], acts: [], image: false, escs: settingsRead },
  appliesTo: hasMotors,
  stages: null,
  *take(soFar) {
    yield readEscs
    const remedy = soFar.findings().find((f) => f.remedy?.by === 'escs')?.remedy
    if (remedy?.by === 'escs')
      // Written, read back, and the battery out and in again within the same act.
      yield* want.escs({
        label: 'write',
        ask: remedy.act,
        outputs: remedy.escs.outputs,
        settings: remedy.escs.settings ?? {},
      })
    else {
      yield* want.state({ label: 'battery-out', ask: 'Take the battery out.', state: { battery: false } })
      yield* want.state({ label: 'battery-in', ask: 'Put the battery in again. Props stay off.', state: { battery: true } })
    }
    yield again
  },
  evaluate: (evidence) => settingsFindings(evidence),
})

type Escs = ReadonlyMap<number, EscRead>

const settingsFindings = (evidence: Evidence): Finding[] => {
  const { sheet } = evidence
  const first = escsIn(evidence, readEscs.label)
  const silent = someSilent(first)
  if (silent !== null) return silent
  const before = first as Escs
  if (!evidence.segments.some((s) => s.label === again.label)) {
    // Before the battery was off, what they say shows what is to be written; that all is right it does not prove.
    const found = compared(sheet, before, null)
    return verdictOf(found) === 'pass' ? refusal('they were not read again after the battery was off', 'Run it again.') : found
  }
  const last = escsIn(evidence, again.label)
  const gone = someSilent(last)
  if (gone !== null) return gone
  const after = last as Escs
  const found = compared(sheet, after, before)
  const wrote = compared(sheet, before, null)
  const now = new Map(found.map((f) => [f.key, f.verdict]))
  return [
    // What was wrong before the write stays on the card.
    ...wrote.flatMap((f) =>
      f.verdict === 'fail' && now.get(f.key) === 'pass' ? [shown(`${f.key}Before`, f.value, f.unit)] : [],
    ),
    ...found,
    keptFinding(sheet, before, after),
  ]
}

/** What an ESC had of itself before the battery was off, and has no longer. What the take wrote in between is no loss. */
const keptFinding = (sheet: SheetPart, before: Escs, after: Escs): Finding => {
  const ought = oughtIn(sheet, before)
  const lost = [...before].flatMap(([output, esc]) => {
    const now = after.get(output)?.settings ?? {}
    const others = Object.entries(esc.settings ?? {}).filter(([name, value]) => now[name] !== value && now[name] !== ought(name))
    return others.length === 0 ? [] : [output]
  })
  const finding = { key: 'kept', unit: '', limit: { equals: 'all' } }
  return lost.length === 0
    ? { ...finding, value: 'all', verdict: 'pass' }
    : { ...finding, value: `not all: ${outputWords(lost)}`, verdict: 'fail', remedy: forgets(lost) }
}

const forgets = (outputs: readonly number[]): Remedy => ({
  by: 'work',
  act: `The ESC at ${outputWords(outputs)} does not keep what it is set to once the battery is off. Battery out; replace it.`,
  work: ['replace ESC'],
  outputs: [...outputs],
})

/** What a setting is to be: as the sheet wants it, else as most have it; which way a motor turns is nothing of either. */
const oughtIn =
  (sheet: SheetPart, escs: Escs) =>
  (name: string): number | undefined =>
    settingsWanted(sheet)[name] ?? (name === 'reverse' ? undefined : usual(valuesOf(escs, name)))

/** Every setting, against the sheet where that names it and else against the others. `before` is what was read before a write of them. */
const compared = (sheet: SheetPart, escs: Escs, before: Escs | null): Finding[] => {
  const wanted = settingsWanted(sheet)
  const known = [...new Set([...escs.values()].flatMap((esc) => Object.keys(esc.settings ?? {})))]
  const names = [...new Set([...Object.keys(wanted), ...known])]
  if (known.length === 0) return refusal('the ESCs answer, and tell no settings', 'Run it again.')
  const ought = oughtIn(sheet, escs)
  const off = names.flatMap((name) => {
    const value = ought(name)
    const outputs = value === undefined ? [] : [...escs].flatMap(([o, e]) => (e.settings?.[name] === value ? [] : [o]))
    return outputs.length === 0 || value === undefined ? [] : [{ name, value, outputs }]
  })
  const unknown = off.filter(({ name }) => !known.includes(name)).map(({ name }) => name)
  const toWrite = off.filter(({ name }) => !unknown.includes(name))
  const outputs = [...new Set(toWrite.flatMap((one) => one.outputs))].sort((a, b) => a - b)
  const write: Remedy =
    before === null
      ? {
          by: 'escs',
          act: `Write to the ESC at ${outputWords(outputs)}: ${toWrite.map(({ name, value }) => `${escSetting(name).words.toLowerCase()} ${escValueWords(name, value)}`).join(', ')}.`,
          escs: { outputs, settings: Object.fromEntries(toWrite.map(({ name, value }) => [name, value])) },
        }
      : forgets(outputs)
  return names.flatMap((name): Finding[] => {
    const { unit } = escSetting(name)
    const values = valuesOf(escs, name)
    const same = new Set(values.values()).size === 1
    const value: Finding['value'] = same
      ? (values.values().next().value ?? 'not known')
      : Object.fromEntries([...values].map(([output, v]) => [`output ${output}`, v ?? -1]))
    const equals = ought(name)
    if (equals === undefined) return [shown(name, value, unit)]
    const fails = off.find((one) => one.name === name)
    const finding = { key: name, value, unit, limit: { equals } }
    const reason = sheet.escs?.reasons?.[name]
    return [
      fails === undefined
        ? { ...finding, verdict: wanted[name] === undefined && same ? 'shown' : 'pass' }
        : {
            ...finding,
            verdict: 'fail',
            remedy: unknown.includes(name)
              ? { by: 'technician', act: `These ESCs have no setting "${name}": correct the build sheet.` }
              : write,
          },
      ...(escSetting(name).protects && equals === 0 ? [offFinding(name, reason)] : []),
    ]
  })
}

/** A protection that is off says why; without a reason it is not meant. */
const offFinding = (name: string, reason: string | undefined): Finding =>
  reason !== undefined
    ? shown(`${name}Off`, reason, '')
    : {
        key: `${name}Off`,
        value: 'no reason',
        unit: '',
        verdict: 'fail',
        limit: { equals: 'a reason' },
        remedy: {
          by: 'technician',
          act: `${escSetting(name).words} is off: write into the build sheet what it is to be, or under escs.reasons why it is off.`,
        },
      }

const valuesOf = (escs: Escs, name: string): Map<number, number | undefined> =>
  new Map([...escs].map(([output, esc]) => [output, esc.settings?.[name]]))

/** The value that most have; of as many, the one that comes first. */
const usual = (values: ReadonlyMap<number, number | undefined>): number | undefined => {
  const counts = new Map<number, number>()
  for (const value of values.values()) if (value !== undefined) counts.set(value, (counts.get(value) ?? 0) + 1)
  return [...counts].sort((a, b) => b[1] - a[1])[0]?.[0]
}
