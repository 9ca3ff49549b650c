import type { Kit } from '@jaunty-sparrow/contract'
import { useId, useState } from 'react'
import { problemText } from '../api/problemText.ts'
import { Button, buttonLook } from '../design/Button.tsx'
import { Notice } from '../design/Notice.tsx'
import { smallPicture } from '../design/smallPicture.ts'
import { useChangeKitMutation } from './kitsApi.ts'

/** How a device of the kit looks, as somebody photographed it. */
export function KitPicture({
  kit: { id: kitId, name, picture },
  canChange,
}: {
  kit: Kit
  canChange: boolean
}) {
  const [change, { error, isLoading }] = useChangeKitMutation()
  const [unread, setUnread] = useState<string>()
  const id = useId()
  const take = async (file: File | undefined) => {
    if (!file) return
    setUnread(undefined)
    try {
      await change({ kitId, body: { picture: await smallPicture(file) } })
    } catch {
      setUnread(`${file.name} could not be read as a picture: take a PNG, JPEG or WebP.`)
    }
  }
  return (
    <div className="grid justify-items-start gap-2">
      {picture && (
        <img
          src={picture}
          alt={`A device of the kit ${name ?? ''}`}
          className="max-h-96 max-w-full rounded-md border border-rule"
        />
      )}
      {canChange && (
        <div className="flex flex-wrap items-center gap-2">
          <label
            htmlFor={id}
            className={`${buttonLook('quiet')} -mx-3 cursor-pointer has-focus-visible:outline`}
          >
            {picture ? 'Another picture' : 'Add a picture'}
            <input
              id={id}
              type="file"
              accept="image/png,image/jpeg,image/webp"
              className="sr-only"
              disabled={isLoading}
              onChange={({ target }) => void take(target.files?.[0])}
            />
          </label>
          {picture && (
            <Button
              weight="quiet"
              disabled={isLoading}
              onClick={() => void change({ kitId, body: { picture: null } })}
            >
              Take it away
            </Button>
          )}
        </div>
      )}
      {unread && <Notice tone="trouble" title={unread} />}
      {Boolean(error) && <Notice tone="trouble" title={problemText(error)} />}
    </div>
  )
}
