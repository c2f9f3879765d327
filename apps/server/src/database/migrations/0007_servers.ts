/** Which servers there are, and what each of them takes now; a tag is one whatever its case. */
export const servers = {
  name: '0007_servers',
  up: `
CREATE TABLE servers (
  id text PRIMARY KEY,
  address text NOT NULL,
  host text NOT NULL,
  alive_until timestamptz NOT NULL
);
-- A take from its start to its end. One whose server is gone was ended by that.
CREATE TABLE running_takes (
  job_id uuid PRIMARY KEY REFERENCES jobs,
  server_id text NOT NULL,
  by uuid NOT NULL REFERENCES people,
  check_id text NOT NULL,
  check_version integer NOT NULL,
  began integer NOT NULL,
  bench text NOT NULL,
  board text NOT NULL,
  request_key text,
  at timestamptz NOT NULL DEFAULT now()
);
ALTER TABLE requests ADD COLUMN server_id text;
DO $$
DECLARE double text;
BEGIN
  SELECT string_agg(tag, ' and ') INTO double FROM airframes GROUP BY lower(tag) HAVING count(*) > 1 LIMIT 1;
  IF double IS NOT NULL THEN
    RAISE EXCEPTION 'two airframes have one tag, apart from its case: %. Give one of them another tag, then start again', double;
  END IF;
END $$;
CREATE UNIQUE INDEX airframes_tag ON airframes (lower(tag));
CREATE INDEX job_entries_request ON job_entries (request_key) WHERE request_key IS NOT NULL;
GRANT SELECT, INSERT, UPDATE, DELETE ON servers, running_takes TO taraf_server;
`,
} as const
