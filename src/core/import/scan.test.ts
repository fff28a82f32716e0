import { describe, expect, it } from 'vitest';
import { pictureProblem, pictureSize } from './picture';
import { readCode } from './scan';

describe('a code', () => {
  it.each<[string, object | null]>([
    [
      'BEGIN:VCARD\nVERSION:3.0\nN:Ortiz;Ana\nTEL:303-555-0123\nEMAIL:ana@example.org\nEND:VCARD',
      { number: '+13035550123', first_name: 'Ana', last_name: 'Ortiz', email: 'ana@example.org' },
    ],
    ['tel:+13035550123', { number: '+13035550123', first_name: '', last_name: '', email: '' }],
    ['SMSTO:3035550123', { number: '+13035550123', first_name: '', last_name: '', email: '' }],
    ['303 555 0123', { number: '+13035550123', first_name: '', last_name: '', email: '' }],
    ['BEGIN:VCARD\nVERSION:3.0\nFN:Ana\nEND:VCARD', null],
    ['BEGIN:VCARD nonsense', null],
    ['https://example.org', null],
    ['', null],
  ])('%j', (text, scanned) => expect(readCode(text)).toEqual(scanned));
});

const png = (width: number, height: number) => {
  const bytes = new Uint8Array(24);
  const view = new DataView(bytes.buffer);
  view.setUint32(0, 0x89504e47);
  view.setUint32(16, width);
  view.setUint32(20, height);
  return bytes;
};

describe('a picture', () => {
  it('says its size', () => {
    expect(pictureSize(png(640, 480))).toEqual({ width: 640, height: 480 });
    // SOI, an application segment of 4 bytes, then the frame: 480 high, 640 wide.
    const jpeg = new Uint8Array([
      0xff, 0xd8, 0xff, 0xe0, 0, 4, 1, 2, 0xff, 0xc0, 0, 17, 8, 1, 0xe0, 2, 0x80, 3, 0, 0, 0, 0,
    ]);
    expect(pictureSize(jpeg)).toEqual({ width: 640, height: 480 });
    expect(pictureSize(new Uint8Array([1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12]))).toBeNull();
    expect(pictureSize(new Uint8Array())).toBeNull();
  });

  it('that claims billions of points is not looked at', () => {
    expect(pictureProblem(png(60_000, 60_000), 2_000)).toMatch(/too many points/);
    expect(pictureProblem(png(4_000, 3_000), 40_000_000)).toMatch(/30 MB/);
    expect(pictureProblem(png(4_000, 3_000), 4_000_000)).toBeNull();
  });
});
