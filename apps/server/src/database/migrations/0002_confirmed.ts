/** Confirmations of props are links of the chain too. */
export const confirmed = {
  name: '0002_confirmed',
  up: `
ALTER TABLE job_entries DROP CONSTRAINT job_entries_canonical_check;
ALTER TABLE job_entries ADD CONSTRAINT job_entries_kind
  CHECK (canonical::jsonb->'body'->>'kind' IN ('take', 'change', 'confirmed', 'aside', 'signature', 'handover'));
`,
}
