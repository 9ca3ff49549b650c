import { Search } from 'lucide-react'
import { lazy, Suspense, useEffect, useState } from 'react'

const FindSheet = lazy(() => import('./FindSheet.tsx'))

/** Opens what finds anything: by a click, by / or by Ctrl and K. */
export function FindButton() {
  const [isOpen, setOpen] = useState(false)
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      const isTyping = event.target instanceof HTMLElement && event.target.closest('input, textarea, select')
      const isWanted = event.key === '/' ? !isTyping : event.key === 'k' && (event.ctrlKey || event.metaKey)
      if (!isWanted) return
      event.preventDefault()
      setOpen(true)
    }
    window.addEventListener('keydown', press)
    return () => window.removeEventListener('keydown', press)
  }, [])
  return (
    <>
      <button
        type="button"
        aria-label="Find"
        aria-keyshortcuts="/ Control+K"
        title="Find (press /)"
        onClick={() => setOpen(true)}
        className="inline-flex min-h-9 items-center gap-2 rounded-md px-2 text-sm text-ink-soft hover:bg-well hover:text-ink"
      >
        <Search aria-hidden="true" className="size-4" />
        <kbd className="hidden rounded border border-rule px-1.5 font-sans text-xs lg:inline">/</kbd>
      </button>
      <Suspense>{isOpen && <FindSheet onClose={() => setOpen(false)} />}</Suspense>
    </>
  )
}
