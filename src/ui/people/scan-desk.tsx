'use client';
import { Problem } from '@/ui/kit/problem';
import { useCallback, useEffect, useId, useRef, useState, useTransition } from 'react';
import { pictureProblem } from '@/core/import/picture';
import { readCode, type Scanned } from '@/core/import/scan';
import { displayNumber } from '@/core/phone/number';
import { FilePicker } from '@/ui/kit/file-picker';

interface Props {
  tags: string[];
  save(person: Scanned, tags: string): Promise<{ problem: string | null; id?: string; words?: string }>;
}

const PATIENCE_MS = 10_000;
const LOOK_EVERY_MS = 350;

/** A worker that answers one picture after another, started anew when one was too much for it. */
function useScanner() {
  const worker = useRef<Worker | null>(null);
  useEffect(() => () => worker.current?.terminate(), []);
  return useCallback(
    (picture: Blob | ImageBitmap): Promise<string | null> =>
      new Promise((resolve) => {
        const mine = (worker.current ??= new Worker(new URL('./scan-worker.ts', import.meta.url)));
        const late = setTimeout(() => {
          mine.terminate();
          worker.current = null;
          resolve(null);
        }, PATIENCE_MS);
        mine.onmessage = ({ data }: MessageEvent<{ text: string | null }>) => {
          clearTimeout(late);
          resolve(data.text);
        };
        mine.postMessage(picture);
      }),
    [],
  );
}

/** A card held to the camera, or a picture of one; what it says can be mended before it is kept. */
export function ScanDesk({ tags, save }: Props) {
  const scan = useScanner();
  const [person, setPerson] = useState<Scanned | null>(null);
  const [tag, setTag] = useState('');
  const [said, setSaid] = useState<{ bad: boolean; words: string; id?: string } | null>(null);
  const [pending, start] = useTransition();
  const take = (text: string | null) => {
    const found = text === null ? null : readCode(text);
    if (found) {
      setPerson(found);
      setSaid(null);
    } else
      setSaid({
        bad: true,
        words:
          text === null
            ? 'No code was found in the picture. Hold it straight, with some light.'
            : 'The code holds no card and no number.',
      });
  };
  const file = async (picture: File) => {
    const problem = pictureProblem(
      new Uint8Array(await picture.slice(0, 65_536).arrayBuffer()),
      picture.size,
    );
    if (problem) return setSaid({ bad: true, words: problem });
    take(await scan(picture));
  };
  const keep = () =>
    start(async () => {
      const outcome = await save(person!, tag);
      if (outcome.problem) return setSaid({ bad: true, words: outcome.problem });
      setSaid({ bad: false, words: outcome.words ?? 'Kept.', ...(outcome.id ? { id: outcome.id } : {}) });
      setPerson(null);
    });
  return (
    <div className="max-w-xl">
      <Camera scan={scan} found={take} />
      <DropPicture take={(picture) => void file(picture)} />
      {said && (
        <p
          role={said.bad ? 'alert' : 'status'}
          className={`mb-4 border-l-2 pl-3 ${said.bad ? 'border-bad text-bad' : 'border-good text-good'}`}
        >
          {said.words}{' '}
          {said.id && (
            <a className="link" href={`/people/${said.id}`}>
              open
            </a>
          )}
        </p>
      )}
      {person && <CardForm {...{ person, setPerson, tag, setTag, tags, keep, pending }} />}
    </div>
  );
}

function DropPicture({ take }: { take(picture: File): void }) {
  return (
    <div
      className="my-4 flex flex-wrap items-center gap-3 border border-dashed border-soft p-4"
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => {
        event.preventDefault();
        const picture = event.dataTransfer.files[0];
        if (picture) take(picture);
      }}
    >
      <span>Or drop a picture of the code here.</span>
      <FilePicker accept="image/*" onFile={take}>
        Choose a picture
      </FilePicker>
    </div>
  );
}

/** What the card said, mended before it is kept. */
function CardForm({
  person,
  setPerson,
  tag,
  setTag,
  tags,
  keep,
  pending,
}: {
  person: Scanned;
  setPerson(person: Scanned): void;
  tag: string;
  setTag(tag: string): void;
  tags: string[];
  keep(): void;
  pending: boolean;
}) {
  const id = useId();
  return (
    <form onSubmit={(event) => (event.preventDefault(), keep())}>
      <p className="mb-2 font-head text-xl">{displayNumber(person.number)}</p>
      <div className="grid gap-3 sm:grid-cols-2">
        {(
          [
            ['first_name', 'First name'],
            ['last_name', 'Last name'],
            ['email', 'E-mail'],
          ] as const
        ).map(([name, label]) => (
          <label key={name} className="block text-sm text-soft">
            {label}
            <input
              className="input mt-1 text-ink"
              maxLength={120}
              value={person[name]}
              onChange={(event) => setPerson({ ...person, [name]: event.target.value })}
            />
          </label>
        ))}
        <label className="block text-sm text-soft">
          Tags, old or new, with commas between
          <input
            className="input mt-1 text-ink"
            list={id}
            maxLength={200}
            value={tag}
            onChange={(event) => setTag(event.target.value)}
          />
          <datalist id={id}>
            {tags.map((one) => (
              <option key={one} value={one} />
            ))}
          </datalist>
        </label>
      </div>
      <button className="button button-main mt-4" disabled={pending}>
        {pending ? 'Working …' : 'Keep this person'}
      </button>
    </form>
  );
}

/** The camera, when it is asked for and allowed. */
function Camera({
  scan,
  found,
}: {
  scan(picture: ImageBitmap): Promise<string | null>;
  found(text: string): void;
}) {
  const video = useRef<HTMLVideoElement>(null);
  const [on, setOn] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  useEffect(() => {
    if (!on) return;
    let stream: MediaStream | null = null;
    let stopped = false;
    const look = async () => {
      if (stopped || !video.current) return;
      if (video.current.readyState >= 2) {
        const text = await scan(await createImageBitmap(video.current));
        if (text !== null && !stopped) {
          setOn(false);
          return found(text);
        }
      }
      setTimeout(() => void look(), LOOK_EVERY_MS);
    };
    navigator.mediaDevices
      .getUserMedia({ video: { facingMode: 'environment' } })
      .then((opened) => {
        stream = opened;
        if (video.current) video.current.srcObject = opened;
        void look();
      })
      .catch(() => {
        setOn(false);
        setProblem('The camera cannot be used here. Allow it in the browser, or choose a picture.');
      });
    return () => {
      stopped = true;
      stream?.getTracks().forEach((track) => track.stop());
    };
  }, [on, scan, found]);
  return (
    <div>
      <button type="button" className="button button-main" onClick={() => (setProblem(null), setOn(!on))}>
        {on ? 'Close the camera' : 'Open the camera'}
      </button>
      {on && (
        <video
          ref={video}
          autoPlay
          playsInline
          muted
          className="mt-3 w-full border border-rule"
          aria-label="What the camera sees"
        />
      )}
      <Problem>{problem}</Problem>
    </div>
  );
}
