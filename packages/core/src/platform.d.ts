// The WHATWG Encoding standard: present in every runtime the core runs in, and named here so that the core can be
// compiled with neither the DOM's nor Node's types.
declare class TextDecoder {
  constructor(label?: string, options?: { fatal?: boolean; ignoreBOM?: boolean });
  decode(input: Uint8Array): string;
}
declare class TextEncoder {
  encode(input: string): Uint8Array<ArrayBuffer>;
}
/** WHATWG HTML, base64 utility methods. */
declare function atob(text: string): string;
