'use client';
import { useId, useState, useTransition } from 'react';
import { pictureProblem } from '@/core/import/picture';
import { readCode, type Scanned } from '@/core/import/scan';
import { displayNumber } from '@/core/phone/number';
import { Camera, useScanner } from '@/ui/kit/scanner';
import { FilePicker } from '@/ui/kit/file-picker';

interface Props {
  tags: string[];
  save(person: Scanned, tags: string): Promise<{ problem: string | null; id?: string; words?: string }>;
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
