/** Intake and board: parts and lots, batch notes, images, photos, open items, sheets with their makers, heat clocks. */
export const intake = {
  name: '0004_intake',
  up: `
ALTER TABLE job_entries DROP CONSTRAINT job_entries_kind;
ALTER TABLE job_entries ADD CONSTRAINT job_entries_kind CHECK (canonical::jsonb->'body'->>'kind' IN
  ('take', 'change', 'confirmed', 'aside', 'item', 'closed', 'parked', 'resumed', 'signature', 'handover'));

ALTER TABLE sheets ADD COLUMN made_by uuid REFERENCES people;
ALTER TABLE sheets ADD COLUMN made_at timestamptz NOT NULL DEFAULT now();

CREATE TABLE airframe_parts (
  airframe_id uuid NOT NULL REFERENCES airframes,
  place integer NOT NULL CHECK (place >= 0),
  part text NOT NULL CHECK (part <> ''),
  model text NOT NULL CHECK (model <> ''),
  serial text,
  lot text,
  PRIMARY KEY (airframe_id, place)
);
CREATE INDEX airframe_parts_part ON airframe_parts (part);
CREATE UNIQUE INDEX airframe_parts_serial ON airframe_parts (part, model, serial) WHERE serial IS NOT NULL;

CREATE TABLE batch_notes (
  id uuid PRIMARY KEY,
  part text NOT NULL,
  lot_from text NOT NULL,
  lot_to text NOT NULL,
  defect text NOT NULL,
  inspection text NOT NULL,
  by uuid NOT NULL REFERENCES people,
  at timestamptz NOT NULL DEFAULT now()
);

CREATE TABLE images (
  sha256 bytea PRIMARY KEY CHECK (sha256 = sha256(data)),
  file text NOT NULL,
  target text NOT NULL,
  name text NOT NULL,
  version text NOT NULL,
  features jsonb NOT NULL,
  data bytea NOT NULL,
  by uuid NOT NULL REFERENCES people,
  at timestamptz NOT NULL DEFAULT now()
);
CREATE TABLE photos (
  job_id uuid NOT NULL REFERENCES jobs,
  sha256 bytea NOT NULL CHECK (sha256 = sha256(data)),
  data bytea NOT NULL,
  by uuid NOT NULL REFERENCES people,
  at timestamptz NOT NULL DEFAULT now(),
  PRIMARY KEY (job_id, sha256)
);
CREATE TRIGGER append_only BEFORE UPDATE OR DELETE ON photos FOR EACH STATEMENT EXECUTE FUNCTION refuse_rewrite();
CREATE TRIGGER append_only_truncate BEFORE TRUNCATE ON photos FOR EACH STATEMENT EXECUTE FUNCTION refuse_rewrite();

-- What the settings of a target are called and may be, as its boards said it last, by the version of their firmware.
CREATE TABLE board_settings (
  target text NOT NULL,
  version text NOT NULL,
  settings jsonb NOT NULL,
  at timestamptz NOT NULL DEFAULT now(),
  PRIMARY KEY (target, version)
);

ALTER TABLE benches ADD COLUMN power_id text;
ALTER TABLE benches ADD COLUMN power_since timestamptz;

GRANT SELECT, INSERT ON photos, images, batch_notes TO taraf_server;
GRANT SELECT, INSERT, UPDATE ON board_settings TO taraf_server;
GRANT SELECT, INSERT, UPDATE, DELETE ON airframe_parts TO taraf_server;
`,
} as const
