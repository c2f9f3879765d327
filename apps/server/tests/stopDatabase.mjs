export default async function stopDatabase() {
  for (const database of (globalThis.tarafTestDatabases ?? []).splice(0)) await database.stop()
}
