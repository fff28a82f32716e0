import sharp from 'sharp';
import { cleanText, cutText } from '@/core/shared/clean-text';
import { ok, refuse, type Result } from '@/core/shared/result';
import { Picture } from '@/db/media/entities';
import { pictureBytes } from '@/db/media/pictures';
import { acrossWorkspaces, type Scope } from '@/db/kit/scope';
import type { Actor } from '@/services/kit/actor';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { conflict, invalid, type Refusal } from '@/services/kit/validation';

/** As large as a file may be that is made small here. */
export const LARGEST_PICTURE = 12 * 1024 * 1024;
const MOST_PIXELS = 60_000_000;
const WIDEST = 1600;
const MOST_PICTURES = 200;

/** What is read; drawings (SVG) can load other files and are not. */
const KINDS: ReadonlySet<string> = new Set(['jpeg', 'png', 'webp', 'gif', 'tiff', 'heif']);

/** Keeps a picture of the business: turned upright, made small, and without what a camera wrote into it. */
export async function keepPicture(
  ctx: Context,
  scope: Scope,
  { name, bytes }: { name: string; bytes: Buffer },
  { accountId, name: actor }: Actor,
): Promise<Result<Picture, Refusal>> {
  if ((await scope.em.count(Picture)) >= MOST_PICTURES)
    return conflict('picture', `picture: there are ${MOST_PICTURES} already. Use one of them.`);
  const small = await makeSmall(bytes);
  if (!small.ok)
    return invalid(
      'picture',
      `picture: “${cutText(name, 40)}” cannot be read as a picture. Save it as JPEG or PNG and drop it again.`,
    );
  const picture = scope.em.create(Picture, {
    ...{ id: ctx.id('pic'), workspaceId: scope.workspaceId, name: cutText(cleanText(name), 120) },
    ...small.value,
    ...{ madeBy: accountId, madeAt: new Date(ctx.now()) },
  });
  await scope.em.persistAndFlush(picture);
  await writeAudit(ctx, scope, actor, 'picture.kept', picture.id, { name: picture.name });
  return ok(picture);
}

type Small = Pick<Picture, 'type' | 'bytes' | 'width' | 'height'>;

async function makeSmall(bytes: Buffer): Promise<Result<Small, 'no-picture'>> {
  try {
    const read = sharp(bytes, { limitInputPixels: MOST_PIXELS, failOn: 'error' });
    const { format, hasAlpha } = await read.metadata();
    if (!KINDS.has(format)) return refuse('no-picture');
    const upright = read.rotate().resize({
      ...{ width: WIDEST, height: WIDEST, fit: 'inside', withoutEnlargement: true },
    });
    const { data, info } = await (
      hasAlpha ? upright.png({ compressionLevel: 9 }) : upright.jpeg({ quality: 82, mozjpeg: true })
    ).toBuffer({ resolveWithObject: true });
    const type = hasAlpha ? 'image/png' : 'image/jpeg';
    return ok({ type, bytes: data, width: info.width, height: info.height });
  } catch {
    return refuse('no-picture');
  }
}

/** A picture for whoever sees a form: its id is nothing to guess. Null: there is none. */
export const readPicture = (ctx: Context, id: string): Promise<{ type: string; bytes: Buffer } | null> =>
  acrossWorkspaces(ctx.orm, (crossing) => pictureBytes(crossing, id));
