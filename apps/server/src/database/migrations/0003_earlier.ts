/** Takes of one check are looked up over all airframes of a type. */
export const earlier = {
  name: '0003_earlier',
  up: `
CREATE INDEX job_entries_takes ON job_entries ((body->'body'->>'check'), job_id)
  WHERE body->'body'->>'kind' = 'take';
`,
}
