/** Rows that come a page at a time, as a text that is written while they come: nothing is held whole. */
export function textStream<Row>(
  pages: AsyncGenerator<readonly Row[]>,
  write: (row: Row, nth: number) => string,
  { head = '', foot = '' }: { head?: string; foot?: string } = {},
): ReadableStream<Uint8Array> {
  const encoder = new TextEncoder();
  let written = 0;
  return new ReadableStream<Uint8Array>({
    start(controller) {
      if (head !== '') controller.enqueue(encoder.encode(head));
    },
    async pull(controller) {
      const next = await pages.next();
      if (!next.done) {
        const text = next.value.map((row) => write(row, written++)).join('');
        return controller.enqueue(encoder.encode(text));
      }
      if (foot !== '') controller.enqueue(encoder.encode(foot));
      controller.close();
    },
    async cancel() {
      await pages.return(undefined);
    },
  });
}
