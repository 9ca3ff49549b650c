/**
 * Stands for the schema library in the pages: they ask by the paths of the contract and know its types, and validate nothing, so
 * its shapes need not travel to them.
 */
const shape = { properties: {} }
export const Type = new Proxy({} as Record<string, () => object>, { get: () => () => shape })
