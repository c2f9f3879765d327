/** Leases that are numbered, so that a board can refuse an older one; and which image ran on a board when it was seen last. */
export const fences = {
  name: '0005_fences',
  up: `
ALTER TABLE benches ADD COLUMN lease_no bigint NOT NULL DEFAULT 0;
ALTER TABLE airframes ADD COLUMN board_runs jsonb;
`,
}
