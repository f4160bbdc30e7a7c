/**
 * Columns of numbers as a Parquet file, a row group for each piece; NaN is a null. What it is put into is packed already, so
 * that the columns are not packed again.
 */
export async function* parquetOf(
  names: readonly string[],
  pieces: AsyncIterable<readonly Float64Array[]>,
): AsyncGenerator<Uint8Array> {
  // Loaded when the first one is asked for.
  const { ByteWriter, ParquetWriter } = await import('hyparquet-writer');
  const writer = new ByteWriter();
  const parquet = new ParquetWriter({
    writer,
    codec: 'UNCOMPRESSED',
    createdBy: 'ebrix',
    schema: [
      { name: 'root', num_children: names.length },
      ...names.map((name) => ({ name, type: 'DOUBLE', repetition_type: 'OPTIONAL' }) as const),
    ],
  });
  const written = (): Uint8Array => {
    const bytes = writer.getBytes().slice();
    // The offset goes on: places in the file count from its beginning.
    writer.index = 0;
    return bytes;
  };
  for await (const columns of pieces) {
    await parquet.write({
      columnData: names.map((name, c) => ({
        name,
        encoding: 'PLAIN',
        data: Array.from(columns[c]!, (value) => (Number.isNaN(value) ? null : value)),
      })),
    });
    yield written();
  }
  await parquet.finish();
  yield written();
}
