import type { FailureReason } from '../delivery/failure';
import { MEDIA_KINDS, type MediaKind } from './kinds';

/** A file as a picture message would carry it. */
export interface Carried {
  id: string;
  kind: MediaKind;
  /** Bytes that would leave: a picture's small form. */
  size: number;
}

/**
 * Why the files of a text are a link: one of a kind that picture messages do not carry, all too large together, the
 * number it leaves from cannot, or that phone cannot.
 */
export type LinkReason = 'kind' | 'size' | 'number' | 'phone';

export const LINK_WORDS: Record<LinkReason, string> = {
  kind: 'a PDF goes with no picture message',
  size: 'the files are too large together',
  number: 'their number here sends no picture messages',
  phone: 'their phone takes no picture messages',
};

/** Why nobody gets these files as a picture message; null: whoever can does. */
export function linkForAll(files: readonly Carried[], mostBytes: number): 'kind' | 'size' | null {
  if (files.some(({ kind }) => !MEDIA_KINDS[kind].inPictureMessages)) return 'kind';
  return files.reduce((sum, { size }) => sum + size, 0) > mostBytes ? 'size' : null;
}

/** The files of a text, and how those get at them who cannot be sent them. */
export interface MediaPlan {
  ids: readonly string[];
  /** The page that shows them. */
  page: string;
  /** Why everybody gets a link. */
  forAll: 'kind' | 'size' | null;
}

/** How one person gets the files; null: in a picture message. */
export function linkReason(
  { forAll }: MediaPlan,
  { numberCan, phoneCan }: { numberCan: boolean; phoneCan: boolean },
): LinkReason | null {
  if (forAll) return forAll;
  if (!numberCan) return 'number';
  return phoneCan ? null : 'phone';
}

/**
 * Whether the words go once more, with a link to the files, after a picture message failed: it was refused for being
 * one, so nobody has it.
 */
export const goesAsLink = (failure: FailureReason): boolean =>
  failure === 'no-pictures' || failure === 'picture-refused';

/** The words with a link to the files below them. */
export const withPage = (words: string, { page }: MediaPlan): string => `${words.trimEnd()}\n${page}`;
