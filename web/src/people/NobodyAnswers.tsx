import { useEffect } from 'react'
import { problemText } from '../api/problemText.ts'
import { Button } from '../design/Button.tsx'
import { Notice } from '../design/Notice.tsx'
import { Door } from './Door.tsx'

/** How often it is asked by itself, ms. */
const askedAgain = 5000

/** The page is here and the server is not: it is asked again by itself, and at once when the network is back. */
export function NobodyAnswers({ error, ask }: { readonly error: unknown; readonly ask: () => void }) {
  useEffect(() => {
    const timer = setInterval(ask, askedAgain)
    window.addEventListener('online', ask)
    return () => {
      clearInterval(timer)
      window.removeEventListener('online', ask)
    }
  }, [ask])
  return (
    <Door
      title="Nobody answers"
      lead="This page is here, the server behind it is not. It is asked again by itself, and this page goes on when it answers."
    >
      <Notice tone="trouble" title={problemText(error)} />
      <Button weight="strong" onClick={ask}>
        Ask now
      </Button>
    </Door>
  )
}
