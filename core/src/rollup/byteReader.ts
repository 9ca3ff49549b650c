/** Reads what a `ByteWriter` wrote. */
export class ByteReader {
  readonly #bytes: Uint8Array
  readonly #view: DataView
  #at = 0

  constructor(bytes: Uint8Array) {
    this.#bytes = bytes
    this.#view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  }

  /** @throws RangeError where the bytes end too early */
  count(): number {
    const first = this.#byte()
    if (first < 128) return first
    let value = first - 128
    let weight = 128
    while (true) {
      const byte = this.#byte()
      if (byte < 128) return value + byte * weight
      value += (byte - 128) * weight
      weight *= 128
    }
  }

  whole(): number {
    const counted = this.count()
    return counted % 2 === 0 ? counted / 2 : -(counted + 1) / 2
  }

  float(): number {
    const value = this.#view.getFloat64(this.#at)
    this.#at += 8
    return value
  }

  get isAtEnd(): boolean {
    return this.#at >= this.#bytes.length
  }

  #byte(): number {
    const byte = this.#bytes[this.#at++]
    if (byte === undefined) throw new RangeError('the bytes end too early')
    return byte
  }
}
