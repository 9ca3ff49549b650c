import { DndContext, type DragEndEvent, PointerSensor, useSensor, useSensors } from '@dnd-kit/core'
import type { Device, Signal } from '@jaunty-sparrow/contract'
import { type Chapter, type Edit, phoneOrder, placed } from '@jaunty-sparrow/core/dashboard'
import { importances } from '@jaunty-sparrow/core/layout'
import { proposed } from '@jaunty-sparrow/drawings/registry'
import { nanoid } from '@reduxjs/toolkit'
import { Copy, Settings2, Trash2 } from 'lucide-react'
import { type ReactNode, useEffect, useState } from 'react'
import { Button } from '../design/Button.tsx'
import { IconButton } from '../design/IconButton.tsx'
import { PickSignals } from '../pick/PickSignals.tsx'
import { ChapterSheet } from './ChapterSheet.tsx'
import { DashboardView } from './DashboardView.tsx'
import type { EditParts } from './editParts.ts'
import { InstrumentSheet } from './InstrumentSheet.tsx'
import { type KeyMove, Movable } from './Movable.tsx'
import { PhonePreview } from './PhonePreview.tsx'
import type { Draft } from './useDraft.ts'

interface DashboardEditorProps {
  readonly draft: Draft
  readonly devices: readonly Device[]
  readonly siteId: number
  readonly siteName: (siteId: number) => string
  readonly timeZone: string
  /** What stands in the bar besides: publishing, and the way out. */
  readonly aside: ReactNode
}

type Opened =
  | { readonly what: 'instrument'; readonly id: string }
  | { readonly what: 'chapter'; readonly id: string | null }
  | { readonly what: 'pick'; readonly chapter: string; readonly into?: string }

/** A dashboard that is changed while it lives: by mouse, by touch and by keyboard; every step can be taken back. */
export function DashboardEditor({ draft, devices, siteId, siteName, timeZone, aside }: DashboardEditorProps) {
  const { shows } = draft
  const [opened, setOpened] = useState<Opened>()
  const [said, setSaid] = useState('')
  const [hasPhone, setPhone] = useState(false)
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 6 } }))
  const { chapters } = shows
  const chapterOf = (id: string) =>
    chapters.find(({ instruments }) => instruments?.some((each) => each.id === id))
  const find = (id: string) => chapterOf(id)?.instruments?.find((each) => each.id === id)
  const signalsOf = (chapter: Chapter | undefined, id: string): (Signal | undefined)[] => {
    const all = devices.flatMap(({ signals }) => signals)
    return (find(id)?.signals ?? []).map((ref) =>
      'signal' in ref
        ? all.find((signal) => signal.id === ref.signal)
        : all.find((signal) => signal.definitionId === ref.definition && isIn(chapter, signal, devices)),
    )
  }
  const change = (edit: Edit, says: string) => {
    draft.edit(edit)
    setSaid(says)
  }

  const dropped = ({ active, over }: DragEndEvent) => {
    const [id, target] = [String(active.id), String(over?.id ?? '')]
    const to = chapterOf(target)
    if (!to?.instruments || id === target) return
    const rest = to.instruments.filter((each) => each.id !== id)
    const at = rest.findIndex((each) => each.id === target)
    // Dragged on within its chapter it takes the place of what it is dropped on, and that moves up.
    const from = to.instruments.findIndex((each) => each.id === id)
    const isOnward = from >= 0 && from < to.instruments.findIndex((each) => each.id === target)
    change(
      { do: 'move', id, chapter: to.id, at: isOnward ? at + 1 : at },
      `Moved in ${to.title || 'its chapter'}.`,
    )
  }

  const moveBy = (id: string, title: string, move: KeyMove) => {
    const chapter = chapterOf(id)
    const instruments = chapter?.instruments
    if (!chapter || !instruments) return
    const at = instruments.findIndex((each) => each.id === id)
    const place = chapters.indexOf(chapter)
    if (move === 'earlier' || move === 'later') {
      const next = at + (move === 'earlier' ? -1 : 1)
      if (next < 0 || next >= instruments.length)
        return setSaid(`${title} is at the ${move === 'earlier' ? 'beginning' : 'end'}.`)
      change(
        { do: 'move', id, chapter: chapter.id, at: next },
        `${title}: place ${next + 1} of ${instruments.length}.`,
      )
    } else if (move === 'chapter-before' || move === 'chapter-after') {
      const others =
        move === 'chapter-before' ? chapters.slice(0, place).toReversed() : chapters.slice(place + 1)
      const to = others.find((each) => each.instruments !== null)
      if (!to) return setSaid('There is no further chapter there.')
      change(
        { do: 'move', id, chapter: to.id, at: to.instruments?.length ?? 0 },
        `${title} stands in ${to.title || 'another chapter'} now.`,
      )
    } else if (move === 'larger' || move === 'smaller') {
      const now = importances.indexOf(instruments[at]?.importance ?? 'normal')
      const importance = importances[now + (move === 'larger' ? 1 : -1)]
      if (importance) change({ do: 'change', id, to: { importance } }, `${title} is ${importance} now.`)
    } else if (move === 'duplicate')
      change({ do: 'duplicate', id, as: nanoid() }, `${title} is there twice now.`)
    else change({ do: 'remove', id }, `${title} was taken away. Undo brings it back.`)
    // What was moved keeps the focus, wherever it stands now; of what was taken away its neighbour gets it.
    const next = move === 'remove' ? (instruments[at + 1] ?? instruments[at - 1])?.id : id
    if (next !== undefined)
      requestAnimationFrame(() =>
        document.querySelector<HTMLElement>(`[data-movable="${CSS.escape(next)}"]`)?.focus(),
      )
  }

  const edit: EditParts = {
    ofInstrument: (id, title) => (
      <span className="ml-auto flex">
        <IconButton name={`Set ${title}`} onClick={() => setOpened({ what: 'instrument', id })}>
          <Settings2 aria-hidden="true" className="size-4" />
        </IconButton>
        <IconButton name={`Duplicate ${title}`} onClick={() => moveBy(id, title, 'duplicate')}>
          <Copy aria-hidden="true" className="size-4" />
        </IconButton>
        <IconButton name={`Take ${title} away`} onClick={() => moveBy(id, title, 'remove')}>
          <Trash2 aria-hidden="true" className="size-4" />
        </IconButton>
      </span>
    ),
    ofChapter: (id) => (
      <span className="flex gap-1">
        {chapters.find((each) => each.id === id)?.instruments !== null && (
          <Button weight="quiet" onClick={() => setOpened({ what: 'pick', chapter: id })}>
            Add signals
          </Button>
        )}
        <Button weight="quiet" onClick={() => setOpened({ what: 'chapter', id })}>
          Set chapter
        </Button>
      </span>
    ),
    around: (id, _, children) =>
      find(id) ? (
        <Movable
          id={id}
          title={titleFor(signalsOf(chapterOf(id), id))}
          onKey={(move) => moveBy(id, titleFor(signalsOf(chapterOf(id), id)), move)}
        >
          {children}
        </Movable>
      ) : (
        children
      ),
  }

  // Keys of the page as a whole, wherever the focus is; each has its button too.
  const { undo, redo } = draft
  useEffect(() => {
    const pressed = (event: KeyboardEvent) => {
      const isTyping = event.target instanceof Element && event.target.matches('input, textarea, select')
      if (!(event.ctrlKey || event.metaKey) || isTyping) return
      const key = event.key.toLowerCase()
      if (key === 'z' && !event.shiftKey) undo()
      else if (key === 'y' || (key === 'z' && event.shiftKey)) redo()
      else return
      event.preventDefault()
    }
    document.addEventListener('keydown', pressed)
    return () => document.removeEventListener('keydown', pressed)
  }, [undo, redo])

  const openedInstrument = opened?.what === 'instrument' ? find(opened.id) : undefined
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-4">
      <div className="sticky top-14 z-20 -mx-2 flex flex-wrap items-center gap-2 border-b border-rule bg-paper px-2 py-2">
        <Button disabled={!draft.canUndo} onClick={draft.undo}>
          Undo
        </Button>
        <Button disabled={!draft.canRedo} onClick={draft.redo}>
          Redo
        </Button>
        <Button onClick={() => setOpened({ what: 'chapter', id: null })}>Add a chapter</Button>
        <Button aria-pressed={hasPhone} onClick={() => setPhone(!hasPhone)}>
          {hasPhone ? 'Hide the phone' : 'Show the phone'}
        </Button>
        <span className="flex-1" />
        {aside}
      </div>
      <p id="how-to-move" className="text-sm text-ink-soft">
        Drag an instrument by its grip, or give the grip the focus: ← → move it, ↑ ↓ to another chapter, + −
        make it larger or smaller, D doubles it, Delete takes it away.
      </p>
      <p role="status" className="sr-only">
        {said}
      </p>
      <div
        className={hasPhone ? 'grid grid-cols-[minmax(0,1fr)] gap-8 xl:grid-cols-[minmax(0,1fr)_390px]' : ''}
      >
        <div className="pl-5">
          <DndContext sensors={sensors} onDragEnd={dropped}>
            <DashboardView shows={shows} devices={devices} siteId={siteId} timeZone={timeZone} edit={edit} />
          </DndContext>
          {chapters.length === 0 && (
            <div className="grid justify-items-start gap-3 border-t border-ink py-6">
              <p className="max-w-prose text-ink-soft">
                An empty page. Chapters hold instruments; each fills its rows by itself, here, on a wall and
                on a phone.
              </p>
              <Button weight="strong" onClick={() => setOpened({ what: 'chapter', id: null })}>
                Add the first chapter
              </Button>
            </div>
          )}
        </div>
        {hasPhone && (
          <PhonePreview
            shows={shows}
            devices={devices}
            siteId={siteId}
            timeZone={timeZone}
            onMove={(id, by) => {
              const chapter = chapterOf(id)
              if (!chapter) return
              const at = phoneOrder(chapter).findIndex((each) => each.id === id)
              change({ do: 'move-on-phone', id, at: at + by }, 'Moved on the phone.')
            }}
          />
        )}
      </div>
      {openedInstrument && opened?.what === 'instrument' && (
        <InstrumentSheet
          instrument={openedInstrument}
          signals={signalsOf(chapterOf(opened.id), opened.id)}
          onChange={(to) => draft.edit({ do: 'change', id: opened.id, to })}
          onAddSignals={() =>
            setOpened({ what: 'pick', chapter: chapterOf(opened.id)?.id ?? '', into: opened.id })
          }
          onClose={() => setOpened(undefined)}
        />
      )}
      {opened?.what === 'chapter' && (
        <ChapterSheet
          chapter={chapters.find(({ id }) => id === opened.id)}
          place={chapters.findIndex(({ id }) => id === opened.id)}
          count={chapters.length}
          devices={devices}
          siteId={siteId}
          onEdit={change}
          onClose={() => setOpened(undefined)}
        />
      )}
      {opened?.what === 'pick' && (
        <PickSignals
          title="Add signals"
          devices={devices.filter((device) =>
            isOfChapter(
              chapters.find(({ id }) => id === opened.chapter),
              device,
            ),
          )}
          siteName={siteName}
          onClose={() => setOpened(undefined)}
          onPick={(signals, isTogether) => {
            const chapter = chapters.find(({ id }) => id === opened.chapter)
            const refOf = (signal: Signal) =>
              chapter?.repeat ? { definition: signal.definitionId } : { signal: signal.id }
            const refs = [
              ...new Map(signals.map((signal) => [JSON.stringify(refOf(signal)), signal])).values(),
            ]
            const into = opened.into === undefined ? undefined : find(opened.into)
            if (into)
              return change(
                { do: 'change', id: into.id, to: { signals: [...into.signals, ...refs.map(refOf)] } },
                'Signals were added.',
              )
            const [first] = refs
            const instruments =
              isTogether && first
                ? [placed(nanoid(), togetherFor(refs), refs.map(refOf))]
                : refs.map((signal) => placed(nanoid(), proposed(signal), [refOf(signal)]))
            change({ do: 'add', chapter: opened.chapter, instruments }, `${instruments.length} added.`)
          }}
        />
      )}
    </div>
  )
}

/** Numbers go together in a course, states in bars; what is mixed makes a table. */
const togetherFor = (signals: readonly Signal[]) => {
  const isAll = (kinds: readonly string[]) => signals.every(({ kind }) => kinds.includes(kind))
  if (isAll(['switch', 'choice'])) return { kind: 'states', importance: 'large' } as const
  return { kind: isAll(['number']) ? 'course' : 'table', importance: 'large' } as const
}

/** Whether a chapter that repeats stands for a device. */
function isOfChapter(chapter: Chapter | undefined, device: Device): boolean {
  const repeat = chapter?.repeat
  if (!repeat) return true
  if (repeat.each === 'part') return device.id === repeat.deviceId
  if (repeat.siteId !== null && device.siteId !== repeat.siteId) return false
  return repeat.each === 'device-at-site' || device.kit.id === repeat.kitId
}

const isIn = (chapter: Chapter | undefined, signal: Signal, devices: readonly Device[]): boolean =>
  devices.some(
    (device) => isOfChapter(chapter, device) && device.signals.some((each) => each.id === signal.id),
  )

const titleFor = (signals: readonly (Signal | undefined)[]): string =>
  signals.flatMap((signal) => signal?.name ?? []).join(', ') || 'the instrument'
