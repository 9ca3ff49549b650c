import { lengthWords } from '@jaunty-sparrow/core/time'
import { ChoiceField } from '../../design/Field.tsx'

const lengths = [0, 10, 30, 60, 120, 300, 600, 900, 1800, 3600, 7200, 14_400, 28_800, 86_400]

interface LengthFieldProps {
  readonly label: string
  readonly seconds: number
  readonly onChange: (seconds: number) => void
}

/** A length of time out of those that make sense. */
export const LengthField = ({ label, seconds, onChange }: LengthFieldProps) => (
  <div className="w-36">
    <ChoiceField label={label} value={seconds} onChange={({ target }) => onChange(Number(target.value))}>
      {[...new Set([...lengths, seconds])]
        .sort((a, b) => a - b)
        .map((each) => (
          <option key={each} value={each}>
            {each === 0 ? 'no time' : lengthWords(each)}
          </option>
        ))}
    </ChoiceField>
  </div>
)
