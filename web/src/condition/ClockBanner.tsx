import { useMay } from '../people/useMay.ts'
import { ConfirmClock, whyDoubtful } from './ClockDoubt.tsx'
import { useConditionQuery } from './conditionApi.ts'

/** How often the server is asked whether its clock is trusted, ms. */
const askEvery = 60_000

/** Says on every page of the owner that the clock of the server is not trusted, and what that means. */
export function ClockBanner() {
  const isOwner = useMay('owner')
  const { data } = useConditionQuery(undefined, { skip: !isOwner, pollingInterval: askEvery })
  if (!data?.clock) return null
  return (
    <div
      role="status"
      className="flex flex-wrap items-center gap-x-4 gap-y-2 border-b border-late bg-late-wash px-4 py-2.5 text-sm lg:px-8"
    >
      <p className="min-w-0 flex-1 basis-80">
        <strong>Is the clock of this server right?</strong> {whyDoubtful(data.clock)} Until devices with
        clocks of their own agree, or you do, nothing that is kept is dropped.
      </p>
      <ConfirmClock />
    </div>
  )
}
