/** What the WHATWG gives every place that core runs in, and that the library types of core leave out. */
declare class TextDecoder {
  constructor(label?: string, options?: { fatal?: boolean })
  decode(bytes: Uint8Array, options?: { stream?: boolean }): string
}

declare class URLSearchParams implements Iterable<[string, string]> {
  constructor(text: string)
  [Symbol.iterator](): IterableIterator<[string, string]>
}

declare class TextEncoder {
  encode(text: string): Uint8Array<ArrayBuffer>
}
