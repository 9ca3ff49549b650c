const browsers: readonly (readonly [sign: RegExp, name: string])[] = [
  [/Edg\//, 'Edge'],
  [/Firefox\//, 'Firefox'],
  [/Chrom(?:e|ium)\//, 'Chromium'],
  [/Safari\//, 'Safari'],
]
const systems: readonly (readonly [sign: RegExp, name: string])[] = [
  [/Android/, 'Android'],
  [/iPhone|iPad/, 'iOS'],
  [/Windows/, 'Windows'],
  [/Mac OS/, 'macOS'],
  [/Linux/, 'Linux'],
]

/** A browser as people call it, out of what it says of itself (the User-Agent of RFC 9110). */
export function browserName(said: string): string {
  const browser = browsers.find(([sign]) => sign.test(said))?.[1]
  const system = systems.find(([sign]) => sign.test(said))?.[1]
  if (!browser && !system) return said.split(/[\s/]/, 1)[0] || 'A program'
  return [browser ?? 'A browser', system && `on ${system}`].filter(Boolean).join(' ')
}
