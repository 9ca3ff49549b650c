/** Writes numbers one after the other into as few bytes as they need. */
export class ByteWriter {
  #bytes = new Uint8Array(1024)
  #view = new DataView(this.#bytes.buffer)
  #length = 0

  /** A whole number from 0 to 2⁵³ − 1, seven bits a byte, the lowest first (as LEB128). */
  count(value: number): void {
    let left = value
    while (left >= 128) {
      this.#byte((left % 128) + 128)
      left = Math.floor(left / 128)
    }
    this.#byte(left)
  }

  /** A whole number of either sign: 0, −1, 1, −2 … are counted 0, 1, 2, 3 … */
  whole(value: number): void {
    this.count(value < 0 ? -2 * value - 1 : 2 * value)
  }

  float(value: number): void {
    this.#makeRoom(8)
    this.#view.setFloat64(this.#length, value)
    this.#length += 8
  }

  /** What was written. */
  finish(): Uint8Array {
    return this.#bytes.slice(0, this.#length)
  }

  #byte(value: number): void {
    this.#makeRoom(1)
    this.#bytes[this.#length++] = value
  }

  #makeRoom(wanted: number): void {
    if (this.#length + wanted <= this.#bytes.length) return
    const larger = new Uint8Array(this.#bytes.length * 2)
    larger.set(this.#bytes)
    this.#bytes = larger
    this.#view = new DataView(larger.buffer)
  }
}
