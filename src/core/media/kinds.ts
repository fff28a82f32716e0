/**
 * Files that go along with a text.
 *
 * picture  JPEG, PNG, or a GIF that moves; whatever else was dropped is made one of these
 * card     a vCard
 * sound    MP3
 * film     a short MP4
 * paper    PDF
 */
export type MediaKind = 'picture' | 'card' | 'sound' | 'film' | 'paper';

interface Kind {
  /** What people call it. */
  word: string;
  /** Picture messages carry it (3GPP TS 23.140, 26.140); otherwise everybody gets a link to it. */
  inPictureMessages: boolean;
}

export const MEDIA_KINDS: Record<MediaKind, Kind> = {
  picture: { word: 'picture', inPictureMessages: true },
  card: { word: 'contact card', inPictureMessages: true },
  sound: { word: 'sound', inPictureMessages: true },
  film: { word: 'film', inPictureMessages: true },
  paper: { word: 'PDF', inPictureMessages: false },
};

/** A file of the business as screens know it. */
export interface KeptFile {
  id: string;
  name: string;
  kind: MediaKind;
  alt: string;
  /** Bytes of it, and of what a picture message carries. */
  size: number;
  smallSize: number;
}

/** What a content type is as a file that goes along; null: it does not. */
export const KIND_OF_TYPE: Record<string, MediaKind> = {
  'image/jpeg': 'picture',
  'image/png': 'picture',
  'image/gif': 'picture',
  'text/vcard': 'card',
  'audio/mpeg': 'sound',
  'video/mp4': 'film',
  'application/pdf': 'paper',
};

/** Files with one text. */
export const MOST_FILES = 4;

/** All files of a picture message together, in bytes: carriers take about 1 MB, and 600 kB are safe everywhere. */
export const SAFE_SIZE = 600_000;

/** One picture, made small for a picture message: two of them fit with their words. */
export const SMALL_PICTURE = 280_000;
