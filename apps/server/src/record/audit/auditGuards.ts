import type { Database } from '../../database/database'
import made from '../../database/guards.json'

/** Everything in the database that guards the record, a line each: as the migrations made it, or as it is. */
export const guardsOf = async (db: Database): Promise<string[]> => {
  const rows = await db.select<{ line: string }>(`
    SELECT line FROM (
      SELECT 'table ' || relname || ' belongs to ' || pg_get_userbyid(relowner)
        || CASE WHEN relrowsecurity THEN ', by row' ELSE '' END AS line
      FROM pg_class WHERE relnamespace = 'public'::regnamespace AND relkind IN ('r', 'v', 'm')
      UNION ALL
      SELECT 'trigger ' || tgname || ' is ' || tgenabled::text || ': ' || pg_get_triggerdef(t.oid)
      FROM pg_trigger t JOIN pg_class c ON c.oid = t.tgrelid
      WHERE c.relnamespace = 'public'::regnamespace AND NOT tgisinternal
      UNION ALL
      SELECT 'of the checks between tables of ' || relname || ' ' || count(*) || ' are off'
      FROM pg_trigger t JOIN pg_class c ON c.oid = t.tgrelid
      WHERE c.relnamespace = 'public'::regnamespace AND tgisinternal AND tgenabled <> 'O' GROUP BY relname
      UNION ALL
      SELECT 'function ' || proname || ' of ' || pg_get_userbyid(proowner) || CASE WHEN prosecdef THEN ', with its rights' ELSE '' END
        || ': ' || encode(sha256(convert_to(prosrc, 'UTF8')), 'hex')
      FROM pg_proc WHERE pronamespace = 'public'::regnamespace
      UNION ALL
      SELECT 'constraint ' || conname || ' on ' || conrelid::regclass || ': ' || pg_get_constraintdef(oid)
      FROM pg_constraint WHERE connamespace = 'public'::regnamespace AND contype IN ('c', 'f', 'p', 'u', 'x')
      UNION ALL
      SELECT 'index ' || indexname || ': ' || indexdef FROM pg_indexes WHERE schemaname = 'public'
      UNION ALL
      SELECT 'right ' || a.privilege_type || ' on ' || relname || ' of ' || CASE a.grantee WHEN 0 THEN 'everybody' ELSE pg_get_userbyid(a.grantee) END
      FROM pg_class c, aclexplode(c.relacl) a WHERE relnamespace = 'public'::regnamespace
      UNION ALL
      SELECT 'right ' || a.privilege_type || ' on column ' || attrelid::regclass || '.' || attname || ' of ' || pg_get_userbyid(a.grantee)
      FROM pg_attribute t JOIN pg_class c ON c.oid = t.attrelid, aclexplode(t.attacl) a WHERE relnamespace = 'public'::regnamespace
      UNION ALL
      SELECT 'policy ' || policyname || ' on ' || tablename || ' for ' || cmd || ': ' || coalesce(qual, '') || ' / ' || coalesce(with_check, '')
      FROM pg_policies WHERE schemaname = 'public'
      UNION ALL
      SELECT 'rule ' || rulename || ' on ' || tablename FROM pg_rules WHERE schemaname = 'public'
      UNION ALL
      SELECT 'role ' || rolname || concat_ws(',', ':', CASE WHEN rolsuper THEN ' over everything' END, CASE WHEN rolcreaterole THEN ' makes roles' END,
        CASE WHEN rolcreatedb THEN ' makes databases' END, CASE WHEN rolreplication THEN ' copies' END, CASE WHEN rolbypassrls THEN ' past policies' END)
      FROM pg_roles WHERE rolname IN ('taraf_owner', 'taraf_server')
      UNION ALL
      SELECT 'role ' || pg_get_userbyid(member) || ' is also ' || pg_get_userbyid(roleid)
      FROM pg_auth_members WHERE pg_get_userbyid(member) IN ('taraf_owner', 'taraf_server')
    ) found ORDER BY line COLLATE "C"`)
  return rows.map((row) => row.line)
}

/** Guards that are missing, or others than the migrations made. */
export const auditGuards = async (db: Database): Promise<string[]> => {
  const found = new Set(await guardsOf(db))
  const wanted = new Set<string>(made)
  return [
    ...made.filter((line) => !found.has(line)).map((line) => `the database lacks a guard: ${line}`),
    ...[...found].filter((line) => !wanted.has(line)).map((line) => `the database has what no migration made: ${line}`),
  ]
}
