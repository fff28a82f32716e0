import { linkForAll, type Carried, type MediaPlan } from '@/core/media/carriage';
import { MOST_FILES } from '@/core/media/kinds';
import { cleanText, cutText } from '@/core/shared/clean-text';
import { ok, type Result } from '@/core/shared/result';
import { MediaFile } from '@/db/media/entities';
import { publicFiles, type PublicFile } from '@/db/media/files';
import { acrossWorkspaces, inWorkspace, type Scope } from '@/db/kit/scope';
import { Workspace } from '@/db/access/entities';
import type { Actor } from '@/services/kit/actor';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { mostPictureBytes, publicUrl } from '@/services/kit/settings';
import { conflict, invalid, notFound, type Refusal } from '@/services/kit/validation';
import { makeMedia, type MadeMedia, type MediaRefusal } from './make-media';
import { putBytes, smallKey } from './store';

/** As large as a file may be that is made small here. */
export const LARGEST_FILE = 12 * 1024 * 1024;
export const LARGEST_FILE_WORDS = 'It is larger than 12 MB. Make it smaller first.';
const MOST_KEPT = 2_000;
const LONGEST_ALT = 300;

const REFUSALS: Record<MediaRefusal, (name: string) => string> = {
  unknown: (name) =>
    `file: what “${name}” holds is no picture (JPEG, PNG, GIF, WebP, HEIC), PDF, contact card, MP3 or MP4, whatever it is called.`,
  'broken-picture': (name) =>
    `file: “${name}” cannot be read as a picture, or has more than 60 million points. Save it as JPEG or PNG and drop it again.`,
  'too-large': (name) => `file: “${name}” is kept as it is, and may have at most 5 MB. Make it shorter.`,
};

export interface NewFile {
  name: string;
  bytes: Buffer;
  alt?: string;
}

/** A file as it will be kept: read, made small, and without what a camera wrote into it. */
export interface ReadyFile {
  name: string;
  alt: string;
  made: MadeMedia;
}

/** Makes a file ready to be kept. A large picture takes seconds, so it is best done before a transaction begins. */
export async function readyFile({ name, bytes, alt = '' }: NewFile): Promise<Result<ReadyFile, Refusal>> {
  const called = cutText(cleanText(name), 120) || 'file';
  const made = await makeMedia(bytes);
  return made.ok
    ? ok({ name: called, alt: altOf(alt), made: made.value })
    : invalid('file', REFUSALS[made.reason](cutText(called, 40)));
}

/** Keeps a file of the business, as it may be sent. */
export async function keepReady(
  ctx: Context,
  scope: Scope,
  { name, alt, made }: ReadyFile,
  actor: Actor,
): Promise<Result<MediaFile, Refusal>> {
  if ((await scope.em.count(MediaFile, { arrivedAs: null, hiddenAt: null })) >= MOST_KEPT)
    return conflict('file', `file: there are ${MOST_KEPT} already. Put some away first.`);
  const file = await storeMade(ctx, scope, made, { name, alt, arrivedAs: null, madeBy: actor.accountId });
  await writeAudit(ctx, scope, actor.name, 'file.kept', file.id, { name });
  return ok(file);
}

/** Both in one go, for whoever is in a transaction already. */
export async function keepFile(
  ctx: Context,
  scope: Scope,
  given: NewFile,
  actor: Actor,
): Promise<Result<MediaFile, Refusal>> {
  const ready = await readyFile(given);
  return ready.ok ? keepReady(ctx, scope, ready.value, actor) : ready;
}

/** The bytes and the row, in one transaction. */
export async function storeMade(
  ctx: Context,
  scope: Scope,
  { kind, type, bytes, width, height, small }: MadeMedia,
  about: Pick<MediaFile, 'name' | 'alt' | 'arrivedAs' | 'madeBy'>,
): Promise<MediaFile> {
  const id = ctx.id('pic');
  await putBytes(scope, id, bytes, type);
  if (small) await putBytes(scope, smallKey(id), small.bytes, small.type);
  const file = scope.em.create(MediaFile, {
    ...{ id, workspaceId: scope.workspaceId, kind, type, size: bytes.length, width, height },
    ...{ smallType: small?.type ?? null, smallSize: small?.bytes.length ?? null },
    ...{ ...about, hiddenAt: null, madeAt: new Date(ctx.now()) },
  });
  await scope.em.persistAndFlush(file);
  return file;
}

const altOf = (alt: string): string => cutText(cleanText(alt).replace(/\s+/g, ' ').trim(), LONGEST_ALT);

/** Says what a picture shows. */
export async function describeFile(
  scope: Scope,
  id: string,
  alt: string,
): Promise<Result<MediaFile, Refusal>> {
  const file = await scope.em.findOne(MediaFile, { id, arrivedAs: null });
  if (!file) return notFound('file');
  file.alt = altOf(alt);
  await scope.em.flush();
  return ok(file);
}

/** Offers a file no more; what was sent still shows it. */
export async function putFileAway(
  ctx: Context,
  scope: Scope,
  id: string,
  actor: Actor,
): Promise<Result<MediaFile, Refusal>> {
  const file = await scope.em.findOne(MediaFile, { id, arrivedAs: null });
  if (!file) return notFound('file');
  file.hiddenAt ??= new Date(ctx.now());
  await scope.em.flush();
  await writeAudit(ctx, scope, actor.name, 'file.put-away', id, { name: file.name });
  return ok(file);
}

/** Files of the business that are offered, the newest first. */
export const keptFiles = (scope: Scope, most = 60): Promise<MediaFile[]> =>
  scope.em.find(
    MediaFile,
    { arrivedAs: null, hiddenAt: null },
    { orderBy: { madeAt: 'desc', id: 'desc' }, limit: most },
  );

/** Pictures among them that stand still, for forms and posters. */
export const keptPictures = (scope: Scope): Promise<MediaFile[]> =>
  scope.em.find(
    MediaFile,
    { arrivedAs: null, hiddenAt: null, kind: 'picture', type: { $ne: 'image/gif' } },
    { orderBy: { madeAt: 'desc', id: 'desc' }, limit: 50 },
  );

/** Files by ids, in their order. */
export async function filesById(scope: Scope, ids: readonly string[] | null): Promise<MediaFile[]> {
  if (!ids || ids.length === 0) return [];
  const found = await scope.em.find(MediaFile, { id: { $in: [...ids] } });
  return ids.flatMap((id) => found.filter((file) => file.id === id));
}

/** Files that are to go along with a text, if they are there. */
export async function readMedia(
  scope: Scope,
  ids: readonly string[],
): Promise<Result<string[] | null, Refusal>> {
  const wanted = [...new Set(ids)];
  if (wanted.length === 0) return ok(null);
  if (wanted.length > MOST_FILES) return invalid('media', `media: at most ${MOST_FILES} files go along.`);
  const found = await scope.em.count(MediaFile, { id: { $in: wanted }, arrivedAs: null });
  return found === wanted.length
    ? ok(wanted)
    : invalid('media', 'media: one of these files is not kept here. Keep it first.');
}

/** How the files of a text reach people. Null: there are none. */
export async function mediaPlan(
  scope: Scope,
  { linkBase }: Pick<Workspace, 'linkBase'>,
  ids: readonly string[] | null,
): Promise<MediaPlan | null> {
  if (!ids || ids.length === 0) return null;
  const files = await filesById(scope, ids);
  const carried: Carried[] = files.map(({ id, kind, size, smallSize }) => ({
    ...{ id, kind, size: smallSize ?? size },
  }));
  // One that is gone, or was never here, goes to nobody.
  if (files.length === 0) return null;
  const there = files.map(({ id }) => id);
  return {
    ids: there,
    page: `${linkBase ?? publicUrl()}/m/p/${there.join('.')}`,
    forAll: linkForAll(carried, mostPictureBytes()),
  };
}

/** A file for whoever has its address: its id is nothing to guess. Null: there is none. */
export const publicFile = async (ctx: Context, id: string): Promise<PublicFile | null> =>
  (await filesOfPage(ctx, [id]))[0] ?? null;

/** What the business is called that a page belongs to. */
export const businessOf = (ctx: Context, workspaceId: string): Promise<string> =>
  inWorkspace(
    ctx.orm,
    workspaceId,
    async (scope) => (await scope.em.findOneOrFail(Workspace, { id: workspaceId })).business,
  );

export const filesOfPage = (ctx: Context, ids: readonly string[]): Promise<PublicFile[]> =>
  acrossWorkspaces(ctx.orm, (crossing) => publicFiles(crossing, ids.slice(0, MOST_FILES)));
