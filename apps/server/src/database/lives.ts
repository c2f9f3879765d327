/** For so long a server counts as alive after it last said so, s. */
export const aliveS = 6

/** SQL: whether a time that was set so many seconds ahead lies ahead still; one further ahead was set before somebody set the date back. */
export const liesAheadSql = (column: string, seconds: number): string =>
  `(${column} > now() AND ${column} <= now() + interval '${seconds} s')`

/** SQL: whether the server that a column names lives. */
export const livesSql = (column: string): string =>
  `EXISTS (SELECT 1 FROM servers s WHERE s.id = ${column} AND ${liesAheadSql('s.alive_until', aliveS)})`
