import type { Instrument, Shown } from '@jaunty-sparrow/drawings/instrument'
import { describe } from '@jaunty-sparrow/drawings/instrument'
import { instruments } from '@jaunty-sparrow/drawings/registry'
import { sampleOf, sampleStates } from '@jaunty-sparrow/drawings/samples'

/** As wide as they are proposed to be, px. */
const widthOf = ({ importance }: Instrument): number => (importance === 'large' ? 400 : 220)

/** Every instrument in every state: what there is, and how each looks when something is wrong. */
export const CataloguePage = () => (
  <div className="grid gap-6">
    <h1 className="text-3xl">Instruments</h1>
    <p className="max-w-prose text-ink-soft">
      Each of them in every state, drawn from made-up values. A dashboard proposes the one that fits a signal;
      it can be changed at any time.
    </p>
    {instruments.map((instrument) => (
      <section key={instrument.kind} aria-label={instrument.name} className="border-t border-ink pt-2">
        <h2 className="text-lg">{instrument.name}</h2>
        <p className="mb-2 text-sm text-ink-soft">{instrument.purpose}</p>
        <div
          className="grid gap-x-6 gap-y-4"
          style={{
            gridTemplateColumns: `repeat(auto-fill, minmax(min(100%, ${widthOf(instrument)}px), 1fr))`,
          }}
        >
          {sampleStates.map((state) => {
            const shown: Shown = sampleOf(instrument, state, widthOf(instrument))
            return (
              <figure key={state} aria-label={`${instrument.name}, ${state}`}>
                <figcaption className="text-xs text-ink-soft">{state}</figcaption>
                <svg
                  width={widthOf(instrument)}
                  height={instrument.height(shown)}
                  role="img"
                  aria-label={describe(shown)}
                  viewBox={`0 0 ${widthOf(instrument)} ${instrument.height(shown)}`}
                  className="block h-auto max-w-full"
                >
                  <instrument.Drawing {...shown} />
                </svg>
              </figure>
            )
          })}
        </div>
      </section>
    ))}
  </div>
)
