/** The tables of the first slice, and the guards of the record: append-only, chained, evidence hashed. */
export const record = {
  name: '0001_record',
  up: `
CREATE TABLE people (
  id uuid PRIMARY KEY,
  login text NOT NULL UNIQUE CHECK (login = lower(login) AND login <> ''),
  name text NOT NULL CHECK (name <> ''),
  role text NOT NULL CHECK (role IN ('technician', 'lead', 'reader')),
  password_hash text NOT NULL
);
CREATE TABLE sessions (
  sid varchar PRIMARY KEY,
  sess json NOT NULL,
  expire timestamp(6) NOT NULL
);
CREATE INDEX sessions_expire ON sessions (expire);
CREATE TABLE sign_in_tries (key varchar(255) PRIMARY KEY, points integer NOT NULL DEFAULT 0, expire bigint);
CREATE TABLE requests (
  person_id uuid NOT NULL REFERENCES people,
  key text NOT NULL CHECK (length(key) BETWEEN 8 AND 100),
  fingerprint bytea NOT NULL,
  status integer,
  body jsonb,
  at timestamptz NOT NULL DEFAULT now(),
  PRIMARY KEY (person_id, key)
);
CREATE INDEX requests_at ON requests (at);

CREATE TABLE sheets (
  id uuid PRIMARY KEY,
  type text NOT NULL,
  version integer NOT NULL CHECK (version >= 1),
  body jsonb NOT NULL CHECK (body->>'type' = type AND (body->>'version')::int = version),
  UNIQUE (type, version)
);
CREATE TABLE airframes (
  id uuid PRIMARY KEY,
  tag text NOT NULL UNIQUE CHECK (tag <> ''),
  sheet_id uuid NOT NULL REFERENCES sheets,
  board text NOT NULL UNIQUE,
  board_settings jsonb,
  touched_at timestamptz NOT NULL DEFAULT now()
);
CREATE TABLE jobs (
  id uuid PRIMARY KEY,
  airframe_id uuid NOT NULL REFERENCES airframes,
  sheet_id uuid NOT NULL REFERENCES sheets,
  number integer NOT NULL CHECK (number >= 1),
  opened_by uuid NOT NULL REFERENCES people,
  opened_at timestamptz NOT NULL DEFAULT now(),
  closed_at timestamptz,
  overall text NOT NULL DEFAULT 'open' CHECK (overall IN ('open', 'fail', 'stale', 'ready', 'passed', 'failed')),
  standings jsonb NOT NULL DEFAULT '{}',
  length integer NOT NULL DEFAULT 0 CHECK (length >= 0),
  UNIQUE (airframe_id, number)
);
CREATE UNIQUE INDEX jobs_one_open ON jobs (airframe_id) WHERE closed_at IS NULL;
CREATE INDEX jobs_overall ON jobs (overall);

-- One row a link of the chain. The body is made from the text that was hashed, so the two cannot differ.
CREATE TABLE job_entries (
  job_id uuid NOT NULL REFERENCES jobs,
  seq integer NOT NULL CHECK (seq >= 1),
  canonical text NOT NULL,
  body jsonb GENERATED ALWAYS AS (canonical::jsonb) STORED,
  prev_hash bytea NOT NULL CHECK (length(prev_hash) = 32),
  hash bytea NOT NULL CHECK (length(hash) = 32),
  request_key text,
  PRIMARY KEY (job_id, seq),
  UNIQUE (job_id, request_key),
  CHECK (canonical::jsonb->>'job' = job_id::text AND (canonical::jsonb->>'seq')::int = seq),
  CHECK (canonical::jsonb->'body'->>'kind' IN ('take', 'change', 'aside', 'signature', 'handover'))
);
CREATE TABLE evidence (
  job_id uuid NOT NULL,
  seq integer NOT NULL,
  data bytea NOT NULL,
  sha256 bytea NOT NULL CHECK (sha256 = sha256(data)),
  PRIMARY KEY (job_id, seq),
  FOREIGN KEY (job_id, seq) REFERENCES job_entries
);

CREATE FUNCTION refuse_rewrite() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  RAISE EXCEPTION '% on % is refused: the record is append-only', TG_OP, TG_TABLE_NAME USING ERRCODE = 'insufficient_privilege';
END $$;
CREATE TRIGGER append_only BEFORE UPDATE OR DELETE ON job_entries FOR EACH STATEMENT EXECUTE FUNCTION refuse_rewrite();
CREATE TRIGGER append_only_truncate BEFORE TRUNCATE ON job_entries FOR EACH STATEMENT EXECUTE FUNCTION refuse_rewrite();
CREATE TRIGGER append_only BEFORE UPDATE OR DELETE ON evidence FOR EACH STATEMENT EXECUTE FUNCTION refuse_rewrite();
CREATE TRIGGER append_only_truncate BEFORE TRUNCATE ON evidence FOR EACH STATEMENT EXECUTE FUNCTION refuse_rewrite();

CREATE FUNCTION check_chain() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE head job_entries;
BEGIN
  SELECT * INTO head FROM job_entries WHERE job_id = NEW.job_id ORDER BY seq DESC LIMIT 1;
  IF head.canonical::jsonb->'body'->>'kind' = 'handover' THEN
    RAISE EXCEPTION 'job % is handed over: nothing can be added', NEW.job_id USING ERRCODE = 'check_violation';
  END IF;
  IF NEW.seq <> coalesce(head.seq, 0) + 1 OR NEW.prev_hash <> coalesce(head.hash, decode(repeat('00', 32), 'hex')) THEN
    RAISE EXCEPTION 'entry % of job % does not follow the head of its chain', NEW.seq, NEW.job_id USING ERRCODE = 'check_violation';
  END IF;
  IF NEW.hash <> sha256(NEW.prev_hash || convert_to(NEW.canonical, 'UTF8')) THEN
    RAISE EXCEPTION 'entry % of job % has a wrong hash', NEW.seq, NEW.job_id USING ERRCODE = 'check_violation';
  END IF;
  RETURN NEW;
END $$;
CREATE TRIGGER check_chain BEFORE INSERT ON job_entries FOR EACH ROW EXECUTE FUNCTION check_chain();

-- A sheet never changes once a job card uses it.
CREATE FUNCTION refuse_used_sheet() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF EXISTS (SELECT 1 FROM jobs WHERE sheet_id = OLD.id) THEN
    RAISE EXCEPTION 'sheet % version % is used: make a new version', OLD.type, OLD.version USING ERRCODE = 'check_violation';
  END IF;
  RETURN CASE TG_OP WHEN 'DELETE' THEN OLD ELSE NEW END;
END $$;
CREATE TRIGGER used_sheet BEFORE UPDATE OR DELETE ON sheets FOR EACH ROW EXECUTE FUNCTION refuse_used_sheet();

CREATE TABLE benches (
  id uuid PRIMARY KEY,
  name text NOT NULL UNIQUE,
  address text NOT NULL,
  held_by uuid REFERENCES people,
  held_job uuid UNIQUE REFERENCES jobs,
  held_since timestamptz,
  server_id text,
  lease_until timestamptz,
  CHECK ((held_by IS NULL) = (held_job IS NULL) AND (held_by IS NULL) = (held_since IS NULL))
);

GRANT SELECT, INSERT ON job_entries, evidence TO taraf_server;
GRANT SELECT, INSERT, UPDATE ON people, sheets, airframes, jobs, benches TO taraf_server;
GRANT SELECT, INSERT, UPDATE, DELETE ON sessions, sign_in_tries, requests TO taraf_server;
`,
} as const
