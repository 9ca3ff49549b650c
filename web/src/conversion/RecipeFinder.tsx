import mapValues from 'lodash-es/mapValues.js'
import { useState } from 'react'
import { Button } from '../design/Button.tsx'
import { ChoiceField, TextField } from '../design/Field.tsx'
import { type Recipe, recipes } from './recipes.ts'

interface RecipeFinderProps {
  /** @param unit of what the formula makes, UCUM code; empty where that depends */
  readonly onWrite: (formula: string, unit: string) => void
  readonly onClose: () => void
}

/** Asks what lies on the table, and writes the formula. */
export function RecipeFinder({ onWrite, onClose }: RecipeFinderProps) {
  const [recipe, setRecipe] = useState<Recipe>()
  const [given, setGiven] = useState<Readonly<Record<string, number>>>({})
  const choose = (name: string) => {
    const chosen = recipes.find((one) => one.name === name)
    setRecipe(chosen)
    setGiven(mapValues(chosen?.questions, 'usually'))
  }
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-3 rounded-md bg-well p-3">
      <ChoiceField
        label="On the table lies"
        value={recipe?.name ?? ''}
        onChange={({ target }) => choose(target.value)}
      >
        <option value="" disabled>
          Choose …
        </option>
        {recipes.map(({ name }) => (
          <option key={name}>{name}</option>
        ))}
      </ChoiceField>
      {recipe && (
        <div className="grid gap-3 sm:grid-cols-2">
          {Object.entries(recipe.questions).map(([key, { asks, unit }]) => (
            <TextField
              key={key}
              label={unit ? `${asks}, ${unit}` : asks}
              type="number"
              step="any"
              value={String(given[key] ?? '')}
              onChange={({ target }) =>
                setGiven({ ...given, [key]: Number.isNaN(target.valueAsNumber) ? 0 : target.valueAsNumber })
              }
            />
          ))}
        </div>
      )}
      {recipe && <code className="font-mono text-xs break-words text-ink-soft">{recipe.write(given)}</code>}
      <div className="flex gap-2">
        <Button disabled={!recipe} onClick={() => recipe && onWrite(recipe.write(given), recipe.unit)}>
          Write this formula
        </Button>
        <Button weight="quiet" onClick={onClose}>
          Cancel
        </Button>
      </div>
    </div>
  )
}
