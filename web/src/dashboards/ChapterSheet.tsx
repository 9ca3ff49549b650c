import type { Device } from '@jaunty-sparrow/contract'
import type { Chapter, Edit } from '@jaunty-sparrow/core/dashboard'
import { nanoid } from '@reduxjs/toolkit'
import { useState } from 'react'
import { Button } from '../design/Button.tsx'
import { CheckField, ChoiceField, TextField } from '../design/Field.tsx'
import { Sheet } from '../design/Sheet.tsx'

interface ChapterSheetProps {
  /** Undefined for a new one. */
  readonly chapter: Chapter | undefined
  readonly place: number
  readonly count: number
  readonly devices: readonly Device[]
  readonly siteId: number
  readonly onEdit: (edit: Edit, says: string) => void
  readonly onClose: () => void
}

/** What a chapter is called, and for what it stands again and again. */
export function ChapterSheet({ chapter, place, count, devices, siteId, onEdit, onClose }: ChapterSheetProps) {
  const [title, setTitle] = useState(chapter?.title ?? '')
  const [repeat, setRepeat] = useState(wordOf(chapter?.repeat ?? null))
  const [isProposed, setProposed] = useState(chapter ? chapter.instruments === null : true)
  const kits = [...new Map(devices.map(({ kit }) => [kit.id, kit])).values()]
  const inParts = devices.filter(({ signals }) => signals.some(({ part }) => part !== ''))
  const save = () => {
    const stated = { title: title.trim(), repeat: repeatOf(repeat, siteId) }
    const instruments = isProposed && stated.repeat !== null ? null : (chapter?.instruments ?? [])
    if (chapter)
      onEdit({ do: 'change-chapter', id: chapter.id, to: { ...stated, instruments } }, 'The chapter is set.')
    else
      onEdit(
        { do: 'add-chapter', chapter: { id: nanoid(), ...stated, instruments, phone: null } },
        'A chapter was added.',
      )
    onClose()
  }
  const move = (by: number) => {
    if (chapter) onEdit({ do: 'move-chapter', id: chapter.id, at: place + by }, 'The chapter was moved.')
    onClose()
  }
  return (
    <Sheet open title={chapter ? 'Set the chapter' : 'A new chapter'} onClose={onClose}>
      <form
        className="grid gap-4"
        onSubmit={(event) => {
          event.preventDefault()
          save()
        }}
      >
        <TextField
          label="Title"
          placeholder={repeat === '' ? '' : 'the name of each'}
          maxLength={80}
          value={title}
          onChange={(event) => setTitle(event.target.value)}
        />
        <ChoiceField label="It stands" value={repeat} onChange={(event) => setRepeat(event.target.value)}>
          <option value="">once</option>
          <option value="site">for each device at this site</option>
          {kits.map(({ id, name }) => (
            <option key={id} value={`kit ${id}`}>
              for each {name ?? devices.find(({ kit }) => kit.id === id)?.name}
            </option>
          ))}
          {inParts.map(({ id, name }) => (
            <option key={id} value={`part ${id}`}>
              for each part of {name}
            </option>
          ))}
        </ChoiceField>
        {repeat !== '' && (
          <CheckField
            label="With a fitting instrument for each signal"
            hint="What a device gets in addition then appears by itself."
            checked={isProposed}
            onChange={(event) => setProposed(event.target.checked)}
          />
        )}
        <div className="flex flex-wrap justify-end gap-2">
          {chapter && (
            <span className="mr-auto flex gap-1">
              <Button weight="quiet" disabled={place === 0} onClick={() => move(-1)}>
                Move up
              </Button>
              <Button weight="quiet" disabled={place === count - 1} onClick={() => move(1)}>
                Move down
              </Button>
              <Button
                weight="quiet"
                onClick={() => {
                  onEdit(
                    { do: 'remove-chapter', id: chapter.id },
                    'The chapter was taken away. Undo brings it back.',
                  )
                  onClose()
                }}
              >
                Take away
              </Button>
            </span>
          )}
          <Button weight="strong" type="submit">
            {chapter ? 'Done' : 'Add it'}
          </Button>
        </div>
      </form>
    </Sheet>
  )
}

const wordOf = (repeat: Chapter['repeat']): string => {
  if (repeat === null) return ''
  if (repeat.each === 'device-at-site') return 'site'
  return repeat.each === 'part' ? `part ${repeat.deviceId}` : `kit ${repeat.kitId}`
}

function repeatOf(word: string, siteId: number): Chapter['repeat'] {
  const [what, number] = word.split(' ')
  if (what === 'site') return { each: 'device-at-site', siteId }
  if (what === 'kit') return { each: 'device-of-kit', kitId: Number(number), siteId }
  if (what === 'part') return { each: 'part', deviceId: Number(number) }
  return null
}
