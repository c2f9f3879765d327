export default async function stopDatabase() {
  await globalThis.tarafTestDatabase?.stop()
}
