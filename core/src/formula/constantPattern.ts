/** How a constant of a device may be called, as a regular expression. */
export const constantPattern = '^[A-Za-z_][A-Za-z0-9_]{0,39}$'
