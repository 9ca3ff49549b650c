/**
 * Watches the packets of an MQTT connection go by (MQTT 3.1.1, section 2.2): what announces to be larger than may be is known
 * before it is gathered.
 */
export class PacketGate {
  /** What a packet may have behind its fixed header, bytes. */
  largest: number
  #left = 0
  #length = 0
  #factor = 0

  constructor(largest: number) {
    this.largest = largest
  }

  /** @returns whether all that began in this chunk may pass */
  pass(chunk: Uint8Array): boolean {
    let index = 0
    while (index < chunk.length) {
      if (this.#left > 0) {
        const passed = Math.min(this.#left, chunk.length - index)
        this.#left -= passed
        index += passed
      } else if (this.#factor === 0) {
        // The first byte is the kind of packet; its length follows, seven bits a byte, the lowest first.
        this.#factor = 1
        this.#length = 0
        index++
      } else {
        const byte = chunk[index] ?? 0
        index++
        this.#length += (byte & 0x7f) * this.#factor
        if (this.#length > this.largest) return false
        if (byte & 0x80) this.#factor *= 128
        else {
          this.#left = this.#length
          this.#factor = 0
        }
      }
    }
    return true
  }
}
