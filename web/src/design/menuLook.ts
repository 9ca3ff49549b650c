/** The classes of a menu that drops down, and of what can be chosen in it. */
export const menuLook = 'z-50 min-w-60 rounded-lg border border-rule bg-sheet p-1.5 text-ink shadow-xl'
export const menuItemLook =
  'flex cursor-pointer items-center gap-2 rounded px-2.5 py-1.5 text-sm outline-none data-highlighted:bg-well'
