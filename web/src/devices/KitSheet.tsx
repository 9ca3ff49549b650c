import type { Device, KitExchange } from '@jaunty-sparrow/contract'
import { useState } from 'react'
import { problemText } from '../api/problemText.ts'
import { ChoiceField } from '../design/Field.tsx'
import { Notice } from '../design/Notice.tsx'
import { SheetForm } from '../design/SheetForm.tsx'
import { useKitsQuery } from '../kits/kitsApi.ts'
import { useExchangeKitMutation, useKitExchangeQuery } from './devicesApi.ts'

/** Gives a device another kit, and says first what becomes of its signals. */
export function KitSheet({ device, onClose }: { device: Device; onClose: () => void }) {
  const { data: kits = [] } = useKitsQuery()
  const [kitId, setKitId] = useState<number>()
  const { currentData: foreseen, error: notForeseen } = useKitExchangeQuery(
    { address: device.address, kitId: kitId ?? 0 },
    { skip: kitId === undefined },
  )
  const [exchange, { error, isLoading }] = useExchangeKitMutation()
  const others = kits.filter(({ id, name }) => name !== null && id !== device.kit.id)
  return (
    <SheetForm
      title={`Another kit for ${device.name}`}
      saveLabel="Give it this kit"
      busy={isLoading || !foreseen}
      error={error}
      onSave={() => exchange({ address: device.address, kitId: kitId ?? 0 }).unwrap()}
      onClose={onClose}
    >
      <p className="text-sm text-ink-soft">
        For a board that was moved to another project. It keeps its address and its secret.
      </p>
      <ChoiceField
        label="Kit"
        value={kitId ?? ''}
        onChange={({ target }) => setKitId(Number(target.value))}
        hint={others.length === 0 ? 'There is no other kit yet: make one under Bench, Kits.' : undefined}
      >
        <option value="" disabled>
          Choose …
        </option>
        {others.map(({ id, name }) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
      </ChoiceField>
      {Boolean(notForeseen) && <Notice tone="trouble" title={problemText(notForeseen)} />}
      {foreseen && <Foreseen exchange={foreseen} />}
    </SheetForm>
  )
}

const Foreseen = ({ exchange: { carriedOn, former, fresh } }: { exchange: KitExchange }) => (
  <dl className="grid gap-3 text-sm [&_dt]:text-ink-soft">
    <div>
      <dt>Carry on, with their history</dt>
      <dd>
        {carriedOn.length === 0
          ? 'none'
          : carriedOn
              .map(
                ({ name, becomes, isConverted }) =>
                  `${name}${becomes === name ? '' : `, as ${becomes}`}${isConverted ? ', told in its unit' : ''}`,
              )
              .join('; ')}
      </dd>
    </div>
    <div>
      <dt>Become former signals: nothing is added to them, and they can be looked back at</dt>
      <dd>{former.length === 0 ? 'none' : former.join(', ')}</dd>
    </div>
    <div>
      <dt>Are new</dt>
      <dd>{fresh.length === 0 ? 'none' : fresh.join(', ')}</dd>
    </div>
  </dl>
)
