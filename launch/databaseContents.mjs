/** The tables that hold something: partitions are counted with what they are parts of. */
const tables = `select format('%I.%I', n.nspname, c.relname) as name
  from pg_class c join pg_namespace n on n.oid = c.relnamespace
  where n.nspname in ('public', 'drizzle') and c.relkind in ('r', 'p') and not c.relispartition
  order by 1`

/**
 * What is in a database, table by table: how many rows, and a sum over all of them that does not depend on their order.
 * @param client a connection; within a transaction it tells of one instant
 */
export async function databaseContents(client) {
  const { rows } = await client.query(tables)
  const contents = {}
  for (const { name } of rows) {
    const { rows: told } = await client.query(
      `select count(*)::text as rows, coalesce(sum(hashtextextended(t::text, 0)::numeric), 0)::text as sum from ${name} t`,
    )
    contents[name] = told[0]
  }
  return contents
}
