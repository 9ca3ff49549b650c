const tries = 30
const rest = 2000

/**
 * Loads the charts, which are apart because they are large. A page may be open while the server is away, so a failed try is
 * made again for a minute, with the place of the chart held meanwhile.
 * @throws what the last try threw, as when a newer version has taken the file's place
 */
export async function loadTraceChart(): Promise<typeof import('./TraceChart.tsx')> {
  for (let attempt = 1; ; attempt++) {
    try {
      return await import('./TraceChart.tsx')
    } catch (error) {
      if (attempt === tries) throw error
      await new Promise((rested) => setTimeout(rested, rest))
    }
  }
}
