const lengthBytes = 4

/** Writes the pages of the latitudes and the longitudes of places as one. */
export function writePlaces(lat: Uint8Array, lon: Uint8Array): Uint8Array {
  const page = new Uint8Array(lengthBytes + lat.length + lon.length)
  new DataView(page.buffer).setUint32(0, lat.length)
  page.set(lat, lengthBytes)
  page.set(lon, lengthBytes + lat.length)
  return page
}

/** Parts what `writePlaces` wrote. @throws RangeError where it is damaged */
export function readPlaces(page: Uint8Array): { readonly lat: Uint8Array; readonly lon: Uint8Array } {
  const length = new DataView(page.buffer, page.byteOffset, page.byteLength).getUint32(0)
  const end = lengthBytes + length
  if (end > page.length) throw new RangeError('a page of places ends too early')
  return { lat: page.subarray(lengthBytes, end), lon: page.subarray(end) }
}
