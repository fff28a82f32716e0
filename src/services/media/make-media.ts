import type { Sharp } from 'sharp';
import { KIND_OF_TYPE, SMALL_PICTURE, type MediaKind } from '@/core/media/kinds';
import { ok, refuse, type Result } from '@/core/shared/result';
import { readHeic } from '@/gateways/media/heic';

const MOST_PIXELS = 60_000_000;
/** As wide as a page shows it. */
const WIDEST = 1_600;

/** A file as it is kept. */
export interface MadeMedia {
  kind: MediaKind;
  type: string;
  bytes: Buffer;
  /** Of a picture. */
  width: number | null;
  height: number | null;
  /** What picture messages carry, where that is smaller. */
  small: { type: string; bytes: Buffer } | null;
}

export type MediaRefusal = 'unknown' | 'broken-picture' | 'too-large';

/** What is kept as it is may be that large; a picture is made smaller. */
const LARGEST_AS_IT_IS = 5_000_000;

/**
 * Reads a file by what it holds, whatever it is called, and makes of it what is kept: pictures turned upright, at most
 * 1,600 points wide, without what a camera wrote into them, and small enough for a picture message beside it.
 */
export async function makeMedia(bytes: Buffer): Promise<Result<MadeMedia, MediaRefusal>> {
  const { fileTypeFromBuffer } = await import('file-type');
  const type = (await fileTypeFromBuffer(bytes))?.mime ?? '';
  if (type.startsWith('image/')) return makePicture(bytes, type);
  const kind = KIND_OF_TYPE[type];
  if (!kind || (kind === 'card' && !isCard(bytes))) return refuse('unknown');
  if (bytes.length > LARGEST_AS_IT_IS) return refuse('too-large');
  return ok({ kind, type, bytes, width: null, height: null, small: null });
}

/** A card, and nothing behind it. */
const isCard = (bytes: Buffer): boolean =>
  /^\uFEFF?BEGIN:VCARD\r?\n[\s\S]*\nEND:VCARD\s*$/i.test(bytes.subarray(0, 200_000).toString('utf8').trim());

/** What is read; drawings (SVG) can load other files and are not. */
const PICTURES: ReadonlySet<string> = new Set([
  ...['image/jpeg', 'image/png', 'image/webp', 'image/gif', 'image/tiff', 'image/avif'],
]);

async function makePicture(bytes: Buffer, type: string): Promise<Result<MadeMedia, MediaRefusal>> {
  try {
    const picture = await openPicture(bytes, type);
    if (!picture) return refuse('broken-picture');
    const { pages = 1, hasAlpha } = await picture.metadata();
    const clear = hasAlpha && !isPhone(type);
    if (type === 'image/gif' && pages > 1) return await movingPicture(bytes);
    const full = await encode(fit(picture.clone(), WIDEST), clear ? 'image/png' : 'image/jpeg', 82);
    const small = full.bytes.length > SMALL_PICTURE ? await smallOf(picture) : null;
    return ok({ kind: 'picture', ...full, small });
  } catch {
    return refuse('broken-picture');
  }
}

/** As phones take pictures: unpacked with an opacity that says nothing. */
const isPhone = (type: string): boolean => /^image\/hei[cf]/.test(type);

/** Upright, and refused before it is unpacked where that would fill the memory. */
async function openPicture(bytes: Buffer, type: string): Promise<Sharp | null> {
  const { default: sharp } = await import('sharp');
  if (isPhone(type)) {
    const read = await readHeic({ bytes, mostPixels: MOST_PIXELS });
    return (
      read && sharp(read.data, { raw: { width: read.width, height: read.height, channels: 4 } }).removeAlpha()
    );
  }
  if (!PICTURES.has(type)) return null;
  return sharp(bytes, { limitInputPixels: MOST_PIXELS, failOn: 'error' }).rotate();
}

const fit = (picture: Sharp, widest: number): Sharp =>
  picture.resize({ width: widest, height: widest, fit: 'inside', withoutEnlargement: true });

async function encode(picture: Sharp, type: string, quality: number) {
  const { data, info } = await (
    type === 'image/png' ? picture.png({ compressionLevel: 9 }) : picture.jpeg({ quality, mozjpeg: true })
  ).toBuffer({ resolveWithObject: true });
  return { type, bytes: data, width: info.width, height: info.height };
}

/** Smaller and plainer until it fits; at 480 points nearly everything does. */
const STEPS = [
  { widest: 1_280, quality: 76 },
  { widest: 1_024, quality: 70 },
  { widest: 800, quality: 64 },
  { widest: 640, quality: 55 },
  { widest: 480, quality: 45 },
];

async function smallOf(picture: Sharp): Promise<MadeMedia['small']> {
  for (const { widest, quality } of STEPS) {
    const flat = fit(picture.clone(), widest).flatten({ background: '#ffffff' });
    const { type, bytes } = await encode(flat, 'image/jpeg', quality);
    if (bytes.length <= SMALL_PICTURE || widest === 480) return { type, bytes };
  }
  return null;
}

/** One that moves stays a GIF; for picture messages it is made narrower, and where that is not enough it stands still. */
async function movingPicture(bytes: Buffer): Promise<Result<MadeMedia, MediaRefusal>> {
  const { default: sharp } = await import('sharp');
  const moving = () => sharp(bytes, { limitInputPixels: MOST_PIXELS, failOn: 'error', animated: true });
  const at = async (widest: number) =>
    moving().resize({ width: widest, withoutEnlargement: true }).gif().toBuffer({ resolveWithObject: true });
  const { data, info } = await at(800);
  const full = { type: 'image/gif', bytes: data, width: info.width, height: info.pageHeight ?? info.height };
  if (data.length > LARGEST_AS_IT_IS) return refuse('too-large');
  if (data.length <= SMALL_PICTURE) return ok({ kind: 'picture', ...full, small: null });
  for (const widest of [480, 320, 240]) {
    const { data: narrow } = await at(widest);
    if (narrow.length <= SMALL_PICTURE)
      return ok({ kind: 'picture', ...full, small: { type: 'image/gif', bytes: narrow } });
  }
  return ok({
    kind: 'picture',
    ...full,
    small: await smallOf(sharp(bytes, { limitInputPixels: MOST_PIXELS })),
  });
}
