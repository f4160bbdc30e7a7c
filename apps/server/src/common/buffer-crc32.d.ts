/** Its own types describe the older kind of module. */
declare module 'buffer-crc32' {
  const crc32: { readonly unsigned: (bytes: Uint8Array, before?: number) => number };
  export default crc32;
}
