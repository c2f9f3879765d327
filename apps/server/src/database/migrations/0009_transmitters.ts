/** What job cards say of transmitters, behind its own index: most entries name none. */
export const transmitters = {
  name: '0009_transmitters',
  up: `
CREATE INDEX job_entries_transmitter ON job_entries ((body->>'at'))
  WHERE (body->'body'->'change'->>'what' = 'transmitter' OR body->'body'->>'check' = 'radio.link');
`,
} as const
