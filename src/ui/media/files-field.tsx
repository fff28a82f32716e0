'use client';
import { sizeWords } from '@/ui/kit/numbers';
import { useId, useState } from 'react';
import { MEDIA_KINDS, MOST_FILES, type KeptFile } from '@/core/media/kinds';
import { askServer } from '@/ui/kit/ask';
import { FilePicker } from '@/ui/kit/file-picker';
import { Problem } from '@/ui/kit/problem';

interface Props {
  files: readonly KeptFile[];
  change(files: KeptFile[]): void;
  /** Files to choose from, the newest first. */
  kept: readonly KeptFile[];
  problem: string | undefined;
  /** Nothing can go along on this channel. */
  off?: boolean;
  /** What stands above: files that are pasted into it go along. */
  children: React.ReactNode;
}

const ACCEPT = 'image/*,.heic,.heif,application/pdf,.vcf,audio/mpeg,video/mp4';

/** Files that go along with a text: dropped, pasted, taken with the camera, or chosen from those that are kept. */
export function FilesField({ files, change, kept, problem, off = false, children }: Props) {
  const [over, setOver] = useState(false);
  const { keep, busy, complaint, added } = useKeeping(files, change);
  const more = [...added, ...kept].filter(({ id }) => !files.some((file) => file.id === id));
  if (off) return children;
  const full = files.length >= MOST_FILES;
  const take = (list: FileList | undefined): boolean => {
    if (!list || list.length === 0) return false;
    void keep([...list]);
    return true;
  };
  return (
    <div
      onPasteCapture={(event) => {
        if (take(event.clipboardData.files)) event.preventDefault();
      }}
      onDragOver={(event) => {
        if (!event.dataTransfer.types.includes('Files')) return;
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDropCapture={(event) => {
        setOver(false);
        if (take(event.dataTransfer.files)) event.preventDefault();
      }}
      className={over ? 'outline-2 outline-offset-4 outline-accent outline-dashed' : ''}
    >
      {children}
      <section aria-label="Files" className="mb-4">
        <ul>
          {files.map((file) => (
            <Row
              key={file.id}
              file={file}
              change={(alt) => change(files.map((one) => (one.id === file.id ? { ...one, alt } : one)))}
              takeOut={() => change(files.filter(({ id }) => id !== file.id))}
            />
          ))}
        </ul>
        <div className="mt-2 flex flex-wrap items-center gap-x-4 gap-y-1 text-sm">
          <FilePicker look="link" accept={ACCEPT} onFile={(file) => void keep([file])}>
            Add a picture or file
          </FilePicker>
          {more.length > 0 && !full && (
            <label className="flex items-center gap-2">
              <span className="text-soft">or one that is kept</span>
              <select
                className="input w-48! py-1!"
                value=""
                onChange={({ target }) => {
                  const chosen = more.find(({ id }) => id === target.value);
                  if (chosen) change([...files, chosen]);
                }}
              >
                <option value="">choose …</option>
                {more.map(({ id, name, kind }) => (
                  <option key={id} value={id}>
                    {name} ({MEDIA_KINDS[kind].word})
                  </option>
                ))}
              </select>
            </label>
          )}
          <span role="status" className="text-soft">
            {busy ? 'Making it small …' : files.length === 0 ? 'It can be dropped or pasted here, too.' : ''}
          </span>
        </div>
        <Problem>{problem ?? complaint}</Problem>
      </section>
    </div>
  );
}

/** Keeps files on the server, one after the other; what cannot be kept says why, and the others go on. */
function useKeeping(files: readonly KeptFile[], change: Props['change']) {
  const [busy, setBusy] = useState(false);
  const [complaint, setComplaint] = useState<string | null>(null);
  const [added, setAdded] = useState<KeptFile[]>([]);
  const keep = async (list: readonly File[]) => {
    setBusy(true);
    setComplaint(null);
    let now = [...files];
    for (const file of list) {
      if (now.length >= MOST_FILES) {
        setComplaint(`At most ${MOST_FILES} files go along.`);
        break;
      }
      const kept = await keepOnServer(file);
      if ('message' in kept) {
        setComplaint(kept.message);
        continue;
      }
      setAdded((before) => [kept, ...before]);
      now = [...now, kept];
      change(now);
    }
    setBusy(false);
  };
  return { keep, busy, complaint, added };
}

async function keepOnServer(file: File): Promise<KeptFile | { message: string }> {
  const headers = { 'x-file-name': encodeURIComponent(file.name) };
  const answer = await fetch('/internal/files', { method: 'POST', body: file, headers }).catch(() => null);
  const said = (await answer?.json().catch(() => null)) as KeptFile | { message: string } | null;
  return said ?? { message: 'It did not arrive. Try again.' };
}

function Row({ file, change, takeOut }: { file: KeptFile; change(alt: string): void; takeOut(): void }) {
  const id = useId();
  const { word, inPictureMessages } = MEDIA_KINDS[file.kind];
  return (
    <li className="flex gap-3 border-b border-rule py-2">
      <div className="w-20 shrink-0">
        {file.kind === 'picture' ? (
          // oxlint-disable-next-line nextjs/no-img-element -- made small on the server already
          <img src={`/m/${file.id}`} alt="" className="max-h-20 max-w-20 border border-rule" />
        ) : (
          <span className="text-sm text-soft">{word}</span>
        )}
      </div>
      <div className="min-w-0 flex-1">
        <p className="flex flex-wrap justify-between gap-x-3 text-sm">
          <span className="[overflow-wrap:anywhere]">{file.name}</span>
          <button type="button" className="link" onClick={takeOut} aria-label={`Take out ${file.name}`}>
            Take out
          </button>
        </p>
        <p className="text-sm text-soft">
          {sizeWords(file.size)}
          {inPictureMessages
            ? file.smallSize < file.size
              ? `, made ${sizeWords(file.smallSize)} for picture messages`
              : ''
            : ': everybody gets a link to it'}
        </p>
        {file.kind === 'picture' && (
          <>
            <label htmlFor={id} className="text-sm text-soft">
              What it shows, for who cannot see it
            </label>
            <input
              id={id}
              className="input py-1!"
              maxLength={300}
              defaultValue={file.alt}
              onChange={({ target }) => change(target.value)}
              onBlur={({ target }) => void describe(file.id, target.value)}
            />
          </>
        )}
      </div>
    </li>
  );
}

const describe = (id: string, alt: string): Promise<unknown> =>
  askServer('/internal/files/alt', { id, alt }).catch(() => null);
