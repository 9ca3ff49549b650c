import type { Database } from '../store/database.ts'
import { person } from '../store/schema.ts'

/** Whether the first run is over: somebody owns this. */
export const hasOwner = async (database: Pick<Database, 'select'>): Promise<boolean> =>
  (await database.select({ id: person.id }).from(person).limit(1)).length > 0
