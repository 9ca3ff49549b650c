import type { Theme } from '@jaunty-sparrow/contract'

/** Puts on the colours a person chose. This browser keeps them: `theme.js` wears them before the first paint. */
export function wear(theme: Theme): void {
  document.documentElement.dataset.theme = theme
  localStorage.setItem('theme', theme)
}
