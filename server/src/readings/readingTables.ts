/** The tables that readings are in, by what they hold. */
export const readingTables = ['reading', 'text_reading', 'position_reading'] as const
