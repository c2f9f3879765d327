/** What the list of airframes shows, beside each airframe and behind an index: kept by triggers, whoever writes. */
export const listing = {
  name: '0008_listing',
  up: `
CREATE EXTENSION IF NOT EXISTS pg_trgm;
ALTER TABLE jobs ADD COLUMN listing jsonb;
ALTER TABLE airframes
  ADD COLUMN type text NOT NULL DEFAULT '',
  ADD COLUMN search text NOT NULL DEFAULT '',
  ADD COLUMN overall text NOT NULL DEFAULT 'none',
  ADD COLUMN rank smallint NOT NULL GENERATED ALWAYS AS (
    array_position(ARRAY['fail', 'stale', 'open', 'ready', 'failed', 'none', 'passed'], overall)) STORED,
  ADD COLUMN newest_job uuid REFERENCES jobs,
  ADD COLUMN touched_by uuid REFERENCES people;

CREATE FUNCTION list_airframe() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE sheet sheets;
BEGIN
  SELECT * INTO sheet FROM sheets WHERE id = NEW.sheet_id;
  NEW.type := sheet.type;
  NEW.search := lower(NEW.tag || ' ' || sheet.type || ' ' || coalesce(sheet.body->>'title', '') || ' ' || NEW.board);
  RETURN NEW;
END $$;
CREATE TRIGGER list_airframe BEFORE INSERT OR UPDATE OF tag, board, sheet_id ON airframes FOR EACH ROW EXECUTE FUNCTION list_airframe();

CREATE FUNCTION list_job() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  UPDATE airframes SET overall = NEW.overall, newest_job = NEW.id
  WHERE id = NEW.airframe_id AND NOT EXISTS (SELECT 1 FROM jobs WHERE airframe_id = NEW.airframe_id AND number > NEW.number);
  RETURN NULL;
END $$;
CREATE TRIGGER list_job AFTER INSERT OR UPDATE OF overall ON jobs FOR EACH ROW EXECUTE FUNCTION list_job();

UPDATE airframes SET tag = tag;
UPDATE airframes a SET overall = j.overall, newest_job = j.id
FROM (SELECT DISTINCT ON (airframe_id) airframe_id, id, overall FROM jobs ORDER BY airframe_id, number DESC) j WHERE j.airframe_id = a.id;

CREATE INDEX airframes_search ON airframes USING gin (search gin_trgm_ops);
CREATE INDEX airframes_type ON airframes (type, tag);
CREATE INDEX airframes_rank ON airframes (rank, tag);
CREATE INDEX airframes_touched ON airframes (touched_at, tag);
CREATE INDEX airframes_overall ON airframes (overall, tag);
`,
} as const
