import { MEDIA_KINDS, type MediaKind } from '@/core/media/kinds';

export interface Shown {
  id: string;
  kind: MediaKind;
  name: string;
  /** What a picture shows; empty: nobody said. */
  alt: string;
}

/** Files as they were sent or came: pictures at the size of a stamp, each leading to the whole. */
export function ShownFiles({ files }: { files: readonly Shown[] }) {
  if (files.length === 0) return null;
  return (
    <ul className="my-1 flex flex-wrap gap-2" aria-label="Files">
      {files.map((file) => (
        <li key={file.id}>
          <ShownFile file={file} />
        </li>
      ))}
    </ul>
  );
}

function ShownFile({ file: { id, kind, name, alt } }: { file: Shown }) {
  const at = `/m/${id}`;
  if (kind === 'sound') return <audio controls preload="none" src={at} aria-label={name} />;
  if (kind === 'film')
    return <video controls preload="metadata" src={at} aria-label={name} className="max-h-40 max-w-60" />;
  return (
    <a href={at} target="_blank" rel="noreferrer" className={kind === 'picture' ? '' : 'link'}>
      {kind === 'picture' ? (
        // oxlint-disable-next-line nextjs/no-img-element -- made small on the server already
        <img src={at} alt={alt || name} loading="lazy" className="max-h-36 max-w-52 border border-rule" />
      ) : (
        `${name} (${MEDIA_KINDS[kind].word})`
      )}
    </a>
  );
}
