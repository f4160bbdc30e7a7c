/** Part of every JavaScript host (browsers, Node, workers) though not of the language's own library. */
declare class TextDecoder {
  constructor(label?: string, options?: { fatal?: boolean; ignoreBOM?: boolean });
  decode(input?: Uint8Array, options?: { stream?: boolean }): string;
}
declare class TextEncoder {
  encode(input: string): Uint8Array;
}
