const MARK = '{"ebrix-hand-record":1';

/** The file of a ride without a logger: what was written down, as JSON; it is kept like any other log. */
export function writeManualReadingsFile(content: object): Buffer {
  return Buffer.from(`${MARK},"record":${JSON.stringify(content)}}\n`);
}

export function isManualReadings(bytes: Uint8Array): boolean {
  return Buffer.from(bytes.buffer, bytes.byteOffset, Math.min(bytes.byteLength, MARK.length)).toString() === MARK;
}
