import { type KeyboardEvent, type ReactNode, useEffect, useRef, useState } from 'react'
import { buttonLook } from '../design/Button.tsx'

/** So long it has to be held, ms. */
const held = 800

interface HoldButtonProps {
  readonly disabled?: boolean
  readonly onHeld: () => void
  readonly children: ReactNode
}

/** Something that is not done by a slip: it has to be held, by finger, mouse or key. Who can only press presses twice. */
export function HoldButton({ disabled = false, onHeld, children }: HoldButtonProps) {
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined)
  const [isHeld, setHeld] = useState(false)
  const [isArmed, setArmed] = useState(false)
  const wasHandled = useRef(false)
  useEffect(() => () => clearTimeout(timer.current), [])
  const begin = () => {
    if (disabled || timer.current !== undefined) return
    wasHandled.current = true
    setHeld(true)
    timer.current = setTimeout(() => {
      end()
      onHeld()
    }, held)
  }
  const end = () => {
    clearTimeout(timer.current)
    timer.current = undefined
    setHeld(false)
  }
  const isKey = ({ key }: KeyboardEvent) => key === 'Enter' || key === ' '
  return (
    <button
      type="button"
      disabled={disabled}
      className={`${buttonLook()} relative touch-none overflow-hidden select-none`}
      onPointerDown={begin}
      onPointerUp={end}
      onPointerLeave={end}
      onPointerCancel={end}
      onKeyDown={(event) => isKey(event) && begin()}
      onKeyUp={(event) => isKey(event) && end()}
      onBlur={() => {
        end()
        setArmed(false)
      }}
      onClick={() => {
        // A press without a finger, a mouse or a key: of those who work by other means.
        const isBare = !wasHandled.current
        wasHandled.current = false
        if (!isBare) return
        setArmed(!isArmed)
        if (isArmed) onHeld()
      }}
    >
      <span
        aria-hidden="true"
        className={`absolute inset-y-0 left-0 bg-well ${isHeld ? 'w-full transition-[width] ease-linear' : 'w-0'}`}
        style={{ transitionDuration: `${held}ms` }}
      />
      <span className="relative">
        {isArmed ? 'Press once more' : children}
        <span className="font-normal text-ink-soft"> {isHeld ? 'hold on' : 'hold'}</span>
      </span>
    </button>
  )
}
