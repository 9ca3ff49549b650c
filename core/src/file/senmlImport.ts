type Pack = Record<string, unknown>

const baseLabels = ['bn', 'bt', 'bu', 'bv', 'bs', 'bver'] as const

/**
 * Cuts a SenML pack into packs that stand for themselves: each begins with the base values that hold there (RFC 8428,
 * section 4.1).
 */
export function* cutSenml(pack: readonly Pack[], size: number): Generator<Pack[]> {
  const base: Pack = {}
  for (let start = 0; start < pack.length; start += size) {
    const [first = {}, ...rest] = pack.slice(start, start + size)
    yield [{ ...base, ...first }, ...rest]
    for (const record of [first, ...rest])
      for (const label of baseLabels) if (label in record) base[label] = record[label]
  }
}
