import type { AlarmMove } from '@jaunty-sparrow/contract'
import { lengthWords } from '@jaunty-sparrow/core/time'
import { useState } from 'react'
import { ChoiceField, TextField } from '../design/Field.tsx'
import { SheetForm } from '../design/SheetForm.tsx'

import { useMoveAlarmsMutation } from './alarmsApi.ts'

/** What is said with a word. */
export type WordedMove = Extract<AlarmMove, 'acknowledge' | 'shelve' | 'take-out'>

const asks: Readonly<Record<WordedMove, { title: string; label: string; hint: string; save: string }>> = {
  acknowledge: {
    title: 'I see to it',
    label: 'A word for the others',
    hint: 'What you found, or what you do now.',
    save: 'I see to it',
  },
  shelve: {
    title: 'Let it rest',
    label: 'Why',
    hint: 'Whoever finds it resting reads this.',
    save: 'Let it rest',
  },
  'take-out': {
    title: 'Take it out of service',
    label: 'Why',
    hint: 'It asks nothing of anybody until it is returned to service.',
    save: 'Take out of service',
  },
}
const rests = [900, 3600, 4 * 3600, 8 * 3600, 86_400, 3 * 86_400, 7 * 86_400]

interface WordSheetProps {
  readonly move: WordedMove
  readonly alarms: readonly string[]
  readonly onClose: () => void
}

/** Asks for what is said with it, and how long it shall rest. */
export function WordSheet({ move, alarms, onClose }: WordSheetProps) {
  const [word, setWord] = useState('')
  const [seconds, setSeconds] = useState(3600)
  const [send, { isLoading, error }] = useMoveAlarmsMutation()
  const { title, label, hint, save } = asks[move]
  return (
    <SheetForm
      title={title}
      saveLabel={save}
      busy={isLoading}
      error={error}
      onSave={() => send({ alarms: [...alarms], move, word, ...(move === 'shelve' && { seconds }) }).unwrap()}
      onClose={onClose}
    >
      <TextField
        label={label}
        hint={hint}
        value={word}
        maxLength={300}
        required={move !== 'acknowledge'}
        onChange={({ target }) => setWord(target.value)}
      />
      {move === 'shelve' && (
        <ChoiceField
          label="For"
          value={seconds}
          hint="Then it is among the others again, and raised anew where it is still so."
          onChange={({ target }) => setSeconds(Number(target.value))}
        >
          {rests.map((each) => (
            <option key={each} value={each}>
              {lengthWords(each)}
            </option>
          ))}
        </ChoiceField>
      )}
    </SheetForm>
  )
}
