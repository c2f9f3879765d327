/** Every link of the record is sealed by the server; and the shop's own chain, in which each card's opening and closing stands. */
export const sealed = {
  name: '0006_sealed',
  up: `
ALTER TABLE job_entries ADD COLUMN key_id text, ADD COLUMN seal bytea CHECK (length(seal) = 64);
CREATE FUNCTION want_seal() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF NEW.seal IS NULL OR NEW.key_id IS NULL THEN
    RAISE EXCEPTION 'entry % of job % has no seal', NEW.seq, NEW.job_id USING ERRCODE = 'check_violation';
  END IF;
  RETURN NEW;
END $$;
CREATE TRIGGER want_seal BEFORE INSERT ON job_entries FOR EACH ROW EXECUTE FUNCTION want_seal();

CREATE TABLE shop_entries (
  no bigint PRIMARY KEY CHECK (no >= 1),
  canonical text NOT NULL,
  body jsonb GENERATED ALWAYS AS (canonical::jsonb->'body') STORED,
  prev_hash bytea NOT NULL CHECK (length(prev_hash) = 32),
  hash bytea NOT NULL CHECK (length(hash) = 32),
  key_id text NOT NULL,
  seal bytea NOT NULL CHECK (length(seal) = 64),
  request_key text,
  CHECK ((canonical::jsonb->>'no')::bigint = no)
);
CREATE INDEX shop_entries_job ON shop_entries ((body->>'job'), (body->>'kind'));
CREATE INDEX shop_entries_request ON shop_entries (request_key) WHERE request_key IS NOT NULL;
CREATE TRIGGER append_only BEFORE UPDATE OR DELETE ON shop_entries FOR EACH STATEMENT EXECUTE FUNCTION refuse_rewrite();
CREATE TRIGGER append_only_truncate BEFORE TRUNCATE ON shop_entries FOR EACH STATEMENT EXECUTE FUNCTION refuse_rewrite();

CREATE FUNCTION check_shop_chain() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE head shop_entries;
BEGIN
  SELECT * INTO head FROM shop_entries ORDER BY no DESC LIMIT 1;
  IF NEW.no <> coalesce(head.no, 0) + 1 OR NEW.prev_hash <> coalesce(head.hash, decode(repeat('00', 32), 'hex')) THEN
    RAISE EXCEPTION 'entry % of the shop does not follow the head of its chain', NEW.no USING ERRCODE = 'check_violation';
  END IF;
  IF NEW.hash <> sha256(NEW.prev_hash || convert_to(NEW.canonical, 'UTF8')) THEN
    RAISE EXCEPTION 'entry % of the shop has a wrong hash', NEW.no USING ERRCODE = 'check_violation';
  END IF;
  RETURN NEW;
END $$;
CREATE TRIGGER check_chain BEFORE INSERT ON shop_entries FOR EACH ROW EXECUTE FUNCTION check_shop_chain();
GRANT SELECT, INSERT ON shop_entries TO taraf_server;

ALTER TABLE people ADD COLUMN withdrawn_at timestamptz;
-- Whoever changes a person, by whatever way: the servers are told, and look again at open sessions and feeds.
CREATE FUNCTION tell_people() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  PERFORM pg_notify('taraf_people', NEW.id::text);
  RETURN NEW;
END $$;
CREATE TRIGGER tell_people AFTER UPDATE ON people FOR EACH ROW EXECUTE FUNCTION tell_people();
`,
} as const
