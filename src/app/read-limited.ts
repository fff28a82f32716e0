/** The body of a request, read no further than it may be large. Null: it is larger. */
export async function readLimited(request: Request, largest: number): Promise<Buffer | null> {
  if (!request.body) return Buffer.alloc(0);
  const reader = request.body.getReader();
  const chunks: Uint8Array[] = [];
  let size = 0;
  for (;;) {
    const { done, value } = await reader.read();
    if (done) return Buffer.concat(chunks);
    chunks.push(value);
    size += value.length;
    if (size > largest) {
      await reader.cancel();
      return null;
    }
  }
}
