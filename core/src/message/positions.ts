import type { Field, RawValue } from './field.ts'

/** Where the members of a place stand below it: named in full or in short, or as a GeoJSON point (RFC 7946, section 3.1.2). */
const latitudes = /^(.*?)(\/|~1|^)(lat|latitude|coordinates\/1)$/

const partners: Readonly<
  Record<string, { readonly lon: readonly string[]; readonly height: readonly string[] }>
> = {
  lat: { lon: ['lon', 'lng'], height: ['alt', 'height'] },
  latitude: { lon: ['longitude'], height: ['altitude', 'height'] },
  'coordinates/1': { lon: ['coordinates/0'], height: ['coordinates/2'] },
}

/** Where a place is found that stands right in the message, below no name of its own. */
const unnamed = '/position'

/** Asked of every field: nearly none is one, which its last letter tells. */
const mayBeLatitude = ({ pointer }: Field): boolean => {
  const last = pointer.at(-1)
  return (last === 't' || last === 'e' || last === '1') && latitudes.test(pointer)
}

const asNumber = (value: RawValue | undefined): number | undefined =>
  typeof value === 'number' && Number.isFinite(value) ? value : undefined

/**
 * Puts together what tells a place: `lat` and `lon` of one parent, or a GeoJSON point, become one field that is named by the
 * parent. What lies on no earth, or lacks one of the two, stays as it is.
 * @param signals tells what reads a member; where something does, nothing is put together
 */
export function gatherPositions(
  fields: readonly Field[],
  signals: { of(field: string): readonly unknown[] },
): readonly Field[] {
  if (!fields.some(mayBeLatitude)) return fields
  const byPointer = new Map(fields.map((field) => [field.pointer, field]))
  const gathered = new Map<string, Field>()
  for (const { pointer, value } of fields) {
    const [, parent = '', slash = '', name = ''] = latitudes.exec(pointer) ?? []
    const partner = partners[name]
    const lat = asNumber(value)
    if (!partner || lat === undefined) continue
    const find = (names: readonly string[]) =>
      names.map((other) => byPointer.get(`${parent}${slash}${other}`)).find((found) => found !== undefined)
    const lonField = find(partner.lon)
    const lon = asNumber(lonField?.value)
    if (!lonField || lon === undefined || Math.abs(lat) > 90 || Math.abs(lon) > 180) continue
    if (signals.of(pointer).length > 0 || signals.of(lonField.pointer).length > 0) continue
    const heightField = find(partner.height)
    const height = asNumber(heightField?.value)
    const isPoint = name.startsWith('coordinates')
    const field: Field = {
      pointer: parent === '' ? unnamed : parent,
      value: { lat, lon, ...(height !== undefined && { height }) },
    }
    gathered.set(pointer, field)
    gathered.delete(lonField.pointer)
    byPointer.delete(lonField.pointer)
    if (height !== undefined && heightField) byPointer.delete(heightField.pointer)
    if (isPoint) byPointer.delete(`${parent}/type`)
  }
  return gathered.size === 0
    ? fields
    : fields.flatMap((field) => gathered.get(field.pointer) ?? (byPointer.has(field.pointer) ? field : []))
}
