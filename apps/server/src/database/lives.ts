/** SQL: whether the server that a column names lives. */
export const livesSql = (column: string): string =>
  `EXISTS (SELECT 1 FROM servers s WHERE s.id = ${column} AND s.alive_until > now())`
