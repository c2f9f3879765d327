import type { Finding, Settings, Work } from '@taraf/contract'

/** What a finding's remedy has Taraf write; undefined where it is another one, or none. */
export const writes = (finding: Finding | undefined): Settings | undefined =>
  finding?.remedy?.by === 'settings' ? finding.remedy.settings : undefined

/** What work on the airframe a finding's remedy names. */
export const workOf = (finding: Finding | undefined): readonly Work[] | undefined =>
  finding?.remedy?.by === 'work' ? finding.remedy.work : undefined
