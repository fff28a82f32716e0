import { readFileSync } from 'node:fs';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { SMALL_PICTURE } from '@/core/media/kinds';
import { makeMedia } from './make-media';

const made = async (bytes: Buffer) => {
  const result = await makeMedia(bytes);
  if (!result.ok) throw new Error(result.reason);
  return result.value;
};
const refused = async (bytes: Buffer) => {
  const result = await makeMedia(bytes);
  return result.ok ? null : result.reason;
};

/** Noise, which no encoder makes small; another for each `seed`. */
function noise(width: number, height: number, seed = 1) {
  const points = Buffer.alloc(width * height * 3);
  for (let i = 0, at = seed; i < points.length; i++) points[i] = (at = (at * 48_271) % 0x7fffffff) & 255;
  return sharp(points, { raw: { width, height, channels: 3 } });
}

describe('a file', () => {
  it('of a phone (HEIC) becomes a JPEG with what it showed', async () => {
    const { kind, type, width, height, bytes } = await made(
      readFileSync(new URL('./testing/dome.heic', import.meta.url)),
    );
    expect({ kind, type, width, height }).toEqual({
      kind: 'picture',
      type: 'image/jpeg',
      width: 64,
      height: 48,
    });
    const { dominant } = await sharp(bytes).stats();
    expect(dominant.b).toBeGreaterThan(dominant.r);
  });

  it('with where it was taken in it forgets that, and stands upright', async () => {
    const photo = await sharp({ create: { width: 300, height: 100, channels: 3, background: '#a33' } })
      .withExif({ IFD0: { Copyright: 'somebody' }, IFD3: { GPSLatitude: '39/1 0/1 0/1' } })
      .withMetadata({ orientation: 6 })
      .jpeg()
      .toBuffer();
    const { bytes, width, height } = await made(photo);
    expect([width, height]).toEqual([100, 300]);
    const { exif, orientation } = await sharp(bytes).metadata();
    expect({ exif, orientation }).toEqual({ exif: undefined, orientation: undefined });
  });

  it('that is large is made small enough for two of them in a picture message', async () => {
    const { bytes, small, width } = await made(
      await noise(1_700, 1_300).png({ compressionLevel: 1 }).toBuffer(),
    );
    expect(width).toBe(1_600);
    expect(bytes.length).toBeGreaterThan(SMALL_PICTURE);
    expect(small).toMatchObject({ type: 'image/jpeg' });
    expect(small!.bytes.length).toBeLessThanOrEqual(SMALL_PICTURE);
  });

  it('that moves goes on moving, and is made narrow for a picture message', async () => {
    const frames = await Promise.all([1, 2, 3].map((i) => noise(500, 340, i).png().toBuffer()));
    const gif = await sharp(frames, { join: { animated: true } })
      .gif({ delay: [80, 80, 80] })
      .toBuffer();
    const { type, bytes, small, height } = await made(gif);
    expect({ type, height }).toEqual({ type: 'image/gif', height: 340 });
    expect((await sharp(bytes, { animated: true }).metadata()).pages).toBe(3);
    expect(small!.bytes.length).toBeLessThanOrEqual(SMALL_PICTURE);
  });

  it.each<[string, string, string]>([
    ['a PDF', '%PDF-1.7\n1 0 obj\n<<>>\nendobj\ntrailer<<>>\n%%EOF', 'paper'],
    ['a contact card', 'BEGIN:VCARD\r\nVERSION:3.0\r\nFN:Ana\r\nEND:VCARD\r\n', 'card'],
  ])('that is %s stays as it is', async (_, text, kind) => {
    const file = await made(Buffer.from(text));
    expect(file).toMatchObject({ kind, small: null });
    expect(file.bytes.toString()).toBe(text);
  });

  it('of sound or film is told by what it holds', async () => {
    const mp3 = Buffer.concat([
      Buffer.from([0x49, 0x44, 0x33, 3, 0, 0, 0, 0, 0, 0]),
      Buffer.from([0xff, 0xfb, 0x90, 0x64]),
      Buffer.alloc(2_000),
    ]);
    expect((await made(mp3)).kind).toBe('sound');
    const mp4 = Buffer.concat([
      Buffer.from([0, 0, 0, 24]),
      Buffer.from('ftypisom'),
      Buffer.from([0, 0, 2, 0]),
      Buffer.from('isomiso2'),
      Buffer.alloc(64),
    ]);
    expect((await made(mp4)).kind).toBe('film');
  });

  it.each<[string, () => Buffer | Promise<Buffer>, string]>([
    ['a PDF that is HTML', () => Buffer.from('<html><script>1</script>'), 'unknown'],
    [
      'a drawing that loads others',
      () => Buffer.from('<svg xmlns="http://www.w3.org/2000/svg"/>'),
      'unknown',
    ],
    ['nothing', () => Buffer.alloc(0), 'unknown'],
    ['a program', () => Buffer.from('MZ\x90\x00'), 'unknown'],
    ['a card with more behind it', () => Buffer.from('BEGIN:VCARD\nFN:A\nEND:VCARD\n<script>'), 'unknown'],
    [
      'a JPEG that was cut off',
      async () => (await noise(300, 300).jpeg().toBuffer()).subarray(0, 4_000),
      'broken-picture',
    ],
    [
      'a HEIC that was cut off',
      () => readFileSync(new URL('./testing/dome.heic', import.meta.url)).subarray(0, 500),
      'broken-picture',
    ],
    // 108 megapixels of one colour, in few bytes.
    [
      'a picture that would fill the memory',
      () =>
        sharp({
          create: { width: 12_000, height: 9_000, channels: 3, background: '#000' },
          limitInputPixels: false,
        })
          .png()
          .toBuffer(),
      'broken-picture',
    ],
    [
      'a film too long',
      () =>
        Buffer.concat([
          Buffer.from([0, 0, 0, 24]),
          Buffer.from('ftypisom'),
          Buffer.from([0, 0, 2, 0]),
          Buffer.from('isomiso2'),
          Buffer.alloc(5_100_000),
        ]),
      'too-large',
    ],
  ])('that is %s is refused', async (_, bytes, why) => expect(await refused(await bytes())).toBe(why));
});
