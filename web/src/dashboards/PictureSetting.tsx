import { useId, useState } from 'react'
import { buttonLook } from '../design/Button.tsx'
import { Notice } from '../design/Notice.tsx'
import { smallPicture } from '../design/smallPicture.ts'

interface PictureSettingProps {
  readonly title: string
  readonly value: string
  /** @param ratio width to height */
  readonly onChange: (picture: string, ratio: number) => void
}

/** One's own plan, photo or sketch, made small enough to be kept with the dashboard. */
export function PictureSetting({ title, value, onChange }: PictureSettingProps) {
  const id = useId()
  const [unread, setUnread] = useState<string>()
  const take = async (file: File | undefined) => {
    if (!file) return
    setUnread(undefined)
    try {
      const picture = await smallPicture(file)
      const { width, height } = await createImageBitmap(await (await fetch(picture)).blob())
      onChange(picture, width / height)
    } catch {
      setUnread(`${file.name} could not be read as a picture: take a PNG, JPEG or WebP.`)
    }
  }
  return (
    <div className="grid justify-items-start gap-2">
      <p className="text-sm font-semibold">{title}</p>
      <label htmlFor={id} className={`${buttonLook()} cursor-pointer has-focus-visible:outline`}>
        {value === '' ? 'Choose a picture' : 'Another picture'}
        <input
          id={id}
          type="file"
          accept="image/png,image/jpeg,image/webp"
          className="sr-only"
          onChange={({ target }) => void take(target.files?.[0])}
        />
      </label>
      {unread && <Notice tone="trouble" title={unread} />}
    </div>
  )
}
