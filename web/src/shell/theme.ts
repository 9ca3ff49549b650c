import type { Theme } from '@jaunty-sparrow/contract'
import { useState } from 'react'

/** The colours a person chose; kept in this browser, and put on the page before its first paint by `theme.js`. */
export function useTheme(): [Theme, (theme: Theme) => void] {
  const [theme, setTheme] = useState(() => (document.documentElement.dataset.theme ?? 'system') as Theme)
  return [
    theme,
    (next) => {
      document.documentElement.dataset.theme = next
      localStorage.setItem('theme', next)
      setTheme(next)
    },
  ]
}
