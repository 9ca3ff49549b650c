/** What the WHATWG gives every place that core runs in, and that the library types of core leave out. */
declare class TextDecoder {
  constructor(label?: string, options?: { fatal?: boolean })
  decode(bytes: Uint8Array, options?: { stream?: boolean }): string
}

declare class URLSearchParams implements Iterable<[string, string]> {
  constructor(text: string)
  [Symbol.iterator](): IterableIterator<[string, string]>
}

declare class URL {
  constructor(text: string)
  readonly protocol: string
  readonly hostname: string
  readonly port: string
}

declare class TextEncoder {
  encode(text: string): Uint8Array<ArrayBuffer>
}

/** What tests ask of the library of units they compare with, which has no types of its own. */
declare module '@lhncbc/ucum-lhc' {
  export const UcumLhcUtils: {
    getInstance(): {
      validateUnitString(code: string): { readonly status: string }
      convertUnitTo(
        from: string,
        value: number,
        to: string,
      ): { readonly status: string; readonly toVal: number | null }
    }
  }
}
