import { Download } from 'lucide-react'
import { Link } from 'react-router'
import { Button } from '../../design/Button.tsx'
import { Notice } from '../../design/Notice.tsx'
import { saveFile } from '../../design/saveFile.ts'

export interface MadeDevice {
  readonly name: string
  readonly address: string
  readonly secret: string
}

/** Several devices that were made at once, with their secrets, which are told here and never again. */
export function MadeDevices({ made }: { made: readonly MadeDevice[] }) {
  // Neither addresses nor secrets have a comma or a quote in them; names may (RFC 4180).
  const quoted = (text: string) => `"${text.replaceAll('"', '""')}"`
  const csv = [
    'name,address,secret',
    ...made.map((one) => `${quoted(one.name)},${one.address},${one.secret}`),
  ]
  return (
    <div className="grid max-w-xl gap-6">
      <h1 className="text-3xl">{made.length} new devices</h1>
      <Notice tone="info" title="Their secrets are told here and never again">
        Keep the file, or copy them into the boards now.
      </Notice>
      <Button
        weight="strong"
        className="justify-self-start"
        onClick={() => saveFile('devices.csv', 'text/csv', `${csv.join('\r\n')}\r\n`)}
      >
        <Download aria-hidden="true" className="size-4" />
        Keep them as CSV
      </Button>
      <ul className="divide-y divide-rule border-y border-rule text-sm">
        {made.map(({ name, address, secret }) => (
          <li key={address} className="grid gap-x-4 py-2 sm:grid-cols-[10rem_1fr]">
            <Link to={`/devices/${address}`} className="text-chestnut hover:underline">
              {name}
            </Link>
            <code className="font-mono text-xs break-all select-all">
              {address}.{secret}
            </code>
          </li>
        ))}
      </ul>
    </div>
  )
}
