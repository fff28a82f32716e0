/** Width and height a PNG or JPEG says it has, from its first bytes; null: neither, or not said there. */
export function pictureSize(head: Uint8Array): { width: number; height: number } | null {
  const view = new DataView(head.buffer, head.byteOffset, head.byteLength);
  if (head.length >= 24 && view.getUint32(0) === 0x89504e47)
    return { width: view.getUint32(16), height: view.getUint32(20) };
  if (head.length < 4 || view.getUint16(0) !== 0xffd8) return null;
  for (let at = 2; at + 9 < head.length;) {
    if (head[at] !== 0xff) return null;
    const marker = head[at + 1]!;
    // Start of frame, in any of its kinds but the tables between them.
    if (marker >= 0xc0 && marker <= 0xcf && ![0xc4, 0xc8, 0xcc].includes(marker))
      return { width: view.getUint16(at + 7), height: view.getUint16(at + 5) };
    at += 2 + view.getUint16(at + 2);
  }
  return null;
}

/** More points than any camera of a phone makes: a picture of a few bytes may claim billions. */
const MOST_POINTS = 120_000_000;
const LARGEST = 30 * 1024 * 1024;

/** Why a picture is not even looked at; null: it may be. */
export function pictureProblem(head: Uint8Array, bytes: number): string | null {
  if (bytes > LARGEST) return 'The picture is larger than 30 MB. Take a smaller one.';
  const size = pictureSize(head);
  return size && size.width * size.height > MOST_POINTS
    ? 'The picture has too many points to look at. Take a smaller one.'
    : null;
}
