/** What was committed between two snapshots of the database, as PostgreSQL writes them. */
export interface Snapshots {
  readonly seen: string
  readonly now: string
}

/**
 * Picks, of the table `after_commit` called `mark`, what was committed between two snapshots. Transactions do not become visible
 * in the order of their numbers: by a number alone, what commits crosswise would be skipped.
 * @param seen the place of the earlier one among the values of the statement; the later one is next
 */
export const committedBetween = (seen: number): string =>
  `mark.xid >= pg_snapshot_xmin($${seen}::pg_snapshot) and mark.xid < pg_snapshot_xmax($${seen + 1}::pg_snapshot)
   and pg_visible_in_snapshot(mark.xid, $${seen + 1}::pg_snapshot) and not pg_visible_in_snapshot(mark.xid, $${seen}::pg_snapshot)`

/** Picks, of the table `after_commit` called `mark`, what a snapshot had not seen. @param seen an expression */
export const committedAfter = (seen: string): string =>
  `mark.xid >= pg_snapshot_xmin(${seen}) and not pg_visible_in_snapshot(mark.xid, ${seen})`

/** After the last transaction there will be. */
export const always = '9223372036854775807:9223372036854775807:'
