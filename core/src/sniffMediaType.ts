const openingBrace = 0x7b
const openingBracket = 0x5b

/** Labels that make a record of an array a SenML record (RFC 8428, section 4). */
const senmlRecord = /^\s*\[\s*\{[^}]*"(?:bn|n|bt|bu|bv|v|vs|vb|vd)"\s*:/

/**
 * Tells what a body is for doors that do not say, such as MQTT 3.1.1: JSON, SenML in JSON, CBOR, or a bare value.
 * @param text the body as text, however it decodes
 */
export function sniffMediaType(body: Uint8Array, text: string): string {
  const first = body.find((byte) => byte > 0x20)
  if (first === undefined) return 'text/plain'
  if (first === openingBrace) return 'application/json'
  if (first === openingBracket) return senmlRecord.test(text) ? 'application/senml+json' : 'application/json'
  // CBOR's arrays and maps begin with bytes that no UTF-8 text begins with.
  if (first >= 0xa0 && first <= 0xbf) return 'application/cbor'
  if (first >= 0x80 && first <= 0x9f) return 'application/senml+cbor'
  return 'text/plain'
}
