import type { MediaFile } from '@/db/media/entities';
import { publicUrl } from '@/services/kit/settings';

/** Where anybody who was given it sees a file; nobody can guess it. */
export const fileUrl = (id: string): string => `${publicUrl()}/m/${id}`;

/** A file as screens know it. */
export const keptFile = ({ id, name, kind, alt, size, smallSize }: MediaFile) => ({
  ...{ id, name, kind, alt, size, smallSize: smallSize ?? size },
});

export const fileView = (file: MediaFile) => ({
  ...{ id: file.id, name: file.name, kind: file.kind, type: file.type, alt: file.alt, size: file.size },
  ...{ width: file.width, height: file.height },
  /** What a picture message carries of it. */
  in_picture_messages: { type: file.smallType ?? file.type, size: file.smallSize ?? file.size },
  url: fileUrl(file.id),
});
