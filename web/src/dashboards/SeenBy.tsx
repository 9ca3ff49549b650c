import type { DashboardSummary } from '@jaunty-sparrow/contract'
import { ChoiceField } from '../design/Field.tsx'

/** Who sees a dashboard. */
export type Seen = Pick<DashboardSummary, 'isMine' | 'role'>

const choices = {
  viewer: 'everyone who may look at this site',
  operator: 'operators and owners',
  owner: 'owners',
  mine: 'only me',
} as const

interface SeenByProps {
  readonly seen: Seen
  readonly onChange: (seen: Seen) => void
}

/** The choice of who sees a dashboard; it is for owners of its site. */
export const SeenBy = ({ seen, onChange }: SeenByProps) => (
  <ChoiceField
    label="Seen by"
    value={seen.isMine ? 'mine' : seen.role}
    onChange={({ target }) => {
      const chosen = target.value as keyof typeof choices
      onChange(chosen === 'mine' ? { isMine: true, role: 'viewer' } : { isMine: false, role: chosen })
    }}
  >
    {Object.entries(choices).map(([key, says]) => (
      <option key={key} value={key}>
        {says}
      </option>
    ))}
  </ChoiceField>
)
