import type { Finding, Firmware, SheetFirmware } from '@taraf/contract'
import { defineCheck, refusal, reportsOf } from '../check'
import { want } from '../take'
import { compareVersions, validate } from 'compare-versions'

export interface FirmwareWorth {
  readonly word: 'approved' | 'known bad' | 'too old' | 'not approved' | 'another firmware' | 'wrong image'
  readonly why: string
}

/** Whether two versions are one, however they are written; a board may say anything. */
const isSameVersion = (a: string, b: string): boolean => validate(a) && validate(b) && compareVersions(a, b) === 0

/** What firmware is worth to a sheet. What lacks a feature that the sheet needs is the wrong image, whatever its version. */
export const worthOf = ({ name, version, features, sha256 }: Firmware, wanted: SheetFirmware): FirmwareWorth => {
  if (name !== wanted.name) return { word: 'another firmware', why: `the sheet wants ${wanted.name}` }
  // 3.3 and 3.3.0 are one version, however they are written.
  const bad = wanted.bad?.find((b) => isSameVersion(b.version, version))
  if (bad !== undefined) return { word: 'known bad', why: bad.reason }
  const approved = wanted.approved.map((a) => a.version)
  if (!validate(version)) return { word: 'not approved', why: `"${version}" is no version` }
  if (!approved.some((a) => isSameVersion(a, version))) {
    const oldest = [...approved].sort(compareVersions)[0] as string
    return compareVersions(version, oldest) < 0
      ? { word: 'too old', why: `the oldest approved is ${oldest}` }
      : { word: 'not approved', why: `approved: ${approved.join(', ')}` }
  }
  const pinned = wanted.approved.find((a) => isSameVersion(a.version, version))?.sha256
  if (pinned !== undefined && sha256 !== undefined && sha256 !== pinned)
    return { word: 'wrong image', why: `the sheet pins ${pinned.slice(0, 12)}, and this one is ${sha256.slice(0, 12)}` }
  const missing = (wanted.features ?? []).filter((f) => !features.includes(f))
  return missing.length > 0
    ? { word: 'wrong image', why: `it was built without ${missing.join(', ')}` }
    : { word: 'approved', why: 'the sheet names it' }
}

/** The approved version to write: the newest. */
export const wantedVersion = ({ approved }: SheetFirmware): string =>
  approved.map((a) => a.version).sort(compareVersions)[approved.length - 1] as string

/** A version that a sheet approves and calls bad at once, however either is written; or null. */
export const approvedAndBad = ({ approved, bad = [] }: SheetFirmware): string | null =>
  bad.find((b) => approved.some((a) => isSameVersion(a.version, b.version)))?.version ?? null

/** What runs on the board against what the sheet approves. What is right is left alone. */
export const firmware = defineCheck({
  id: 'board.firmware',
  version: 2,
  station: 'board',
  title: 'Firmware',
  proves: 'The board runs an image that the sheet approves, with all that the sheet needs built in.',
  words: { firmware: 'Firmware it runs', features: 'Built with' },
  needs: ['board.asReceived'],
  reads: { settings: [], parts: ['board'], acts: [], image: true },
  appliesTo: (sheet) => sheet.board?.firmware !== undefined,
  stages: null,
  *take() {
    yield* want.reports({ label: 'asked', ask: 'Leave the cable in. The board says what it runs.', of: ['identity'] })
  },
  evaluate: (evidence): Finding[] => {
    const { identity } = reportsOf(evidence)
    const wanted = evidence.sheet.board?.firmware
    if (identity === undefined) return refusal('the board was not asked what it runs', 'Run it again.')
    if (wanted === undefined) return refusal('the sheet does not say what is approved', 'Add the firmware to the build sheet.')
    const both = approvedAndBad(wanted)
    if (both !== null)
      return refusal(`the sheet approves ${both} and calls it bad`, 'Delete it from one of the two lists of the build sheet.')
    const image = wantedVersion(wanted)
    const limit = { equals: wanted.approved.map((a) => a.version).join(' or ') }
    if (identity.firmware === null)
      return [
        {
          key: 'firmware',
          value: 'none: the board waits in its loader',
          unit: '',
          limit,
          verdict: 'fail',
          remedy: { by: 'image', act: `Write image ${image}; what was written before it was cut off is kept.`, image },
        },
      ]
    const { word, why } = worthOf(identity.firmware, wanted)
    const value = `${identity.firmware.name} ${identity.firmware.version}, ${word}`
    const shown: Finding = { key: 'features', value: identity.firmware.features.join(', '), unit: '', verdict: 'shown' }
    return word === 'approved'
      ? [{ key: 'firmware', value, unit: '', limit, verdict: 'pass' }, shown]
      : [
          {
            key: 'firmware',
            value,
            unit: '',
            limit,
            verdict: 'fail',
            remedy: { by: 'image', act: `Write image ${image}: ${why}.`, image },
          },
          shown,
        ]
  },
})
