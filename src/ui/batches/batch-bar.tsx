'use client';
import { Problem } from '@/ui/kit/problem';
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import { Link } from '@/ui/kit/link';
import { useRouter } from 'next/navigation';
import { useId, useState, useTransition } from 'react';
import { toast } from 'sonner';
import type { Askable } from '@/ui/audience/leaf-editor';
import { count, plural } from '@/ui/kit/numbers';
import { usePress } from '@/ui/kit/press';

export type Meant =
  | { kind: 'ids'; ids: string[] }
  | { kind: 'all'; condition: string; search: string; count: number };

/** What the dialog asks for. */
export interface BatchOrder {
  deed: string;
  thing: string;
  name: string;
  when: 'now' | 'at' | 'slowly';
  at: string;
  pace: { count: number; minutes: number };
  typedCount: string;
  meant: Meant;
  /** Counts once, however often the button is hit. */
  press: string;
}

export interface BatchOutcome {
  problem: string | null;
  id?: string;
  name?: string;
  /** Where to go on: writing, or merging. */
  go?: string;
}

interface Props {
  meant: Meant;
  /** How many match the cut; null while they are counted. */
  matching: number | null;
  askable: Askable;
  mayEdit: boolean;
  maySend: boolean;
  startBatch(order: BatchOrder): Promise<BatchOutcome>;
  takeAll(): void;
  clear(): void;
}

const sizeOf = (meant: Meant): number => (meant.kind === 'ids' ? meant.ids.length : meant.count);

/** Who is chosen, said with its number, and what can be done with them. */
export function BatchBar({ meant, matching, takeAll, clear, ...rest }: Props) {
  const [open, setOpen] = useState(false);
  const size = sizeOf(meant);
  const all = meant.kind === 'all';
  return (
    <div className="mb-2 flex min-h-9 flex-wrap items-center gap-3">
      <span className="text-soft">
        {all
          ? `All ${count(size)} that match are chosen.`
          : size > 0
            ? `${plural(size, 'person', 'people')} ticked.`
            : 'Tick people, or choose all that match.'}
      </span>
      {!all && matching !== null && matching > 0 && (
        <button type="button" className="link" onClick={takeAll}>
          choose all {count(matching)} that match
        </button>
      )}
      {size > 0 && (
        <>
          <button type="button" className="link" onClick={clear}>
            choose nobody
          </button>
          <button type="button" className="button button-main ml-auto" onClick={() => setOpen(true)}>
            Do something with {plural(size, 'person', 'people')} …
          </button>
        </>
      )}
      {open && (
        <BatchDialog
          meant={meant}
          {...rest}
          close={() => setOpen(false)}
          done={() => (setOpen(false), clear())}
        />
      )}
    </div>
  );
}

type Deed =
  | 'tag'
  | 'untag'
  | 'list'
  | 'unlist'
  | 'stage'
  | 'owner'
  | 'opt-out'
  | 'sequence'
  | 'write'
  | 'voicemail'
  | 'export'
  | 'merge'
  | 'delete';

const DEEDS: Record<Deed, string> = {
  tag: 'Put a tag on them',
  untag: 'Take a tag off them',
  list: 'Put them on a list',
  unlist: 'Take them off a list',
  stage: 'Move them to a stage',
  owner: 'Give them to a teammate',
  'opt-out': 'Opt them out of a program',
  sequence: 'Let them into a sequence',
  write: 'Write to exactly these',
  voicemail: 'Drop a voicemail on these',
  export: 'Export them',
  merge: 'Merge the two',
  delete: 'Delete them for good',
};

function BatchDialog({
  meant,
  askable,
  mayEdit,
  maySend,
  startBatch,
  close,
  done,
}: Pick<Props, 'meant' | 'askable' | 'mayEdit' | 'maySend' | 'startBatch'> & {
  close(): void;
  done(): void;
}) {
  const router = useRouter();
  const size = sizeOf(meant);
  const two = meant.kind === 'ids' && meant.ids.length === 2;
  const deeds = (Object.keys(DEEDS) as Deed[]).filter((one) =>
    one === 'merge' ? two : one === 'write' || one === 'voicemail' ? maySend : mayEdit || one === 'export',
  );
  const [deed, setDeed] = useState(deeds[0]!);
  const [thing, setThing] = useState('');
  const [name, setName] = useState('');
  const [when, setWhen] = useState<'now' | 'at' | 'slowly'>('now');
  const [at, setAt] = useState('');
  const [pace, setPace] = useState({ count: 20, minutes: 60 });
  const [typedCount, setTypedCount] = useState('');
  const [problem, setProblem] = useState<string | null>(null);
  const [pending, start] = useTransition();
  const press = usePress();
  const label = `${DEEDS[deed].replace(/\bthem\b|\bthe two\b|\bto exactly these\b/, plural(size, 'person', 'people'))}`;
  const submit = () =>
    start(async () => {
      const outcome = await startBatch({
        ...{ deed, thing, name, when, at, pace, typedCount, meant },
        press: press.token(),
      });
      press.settle();
      if (outcome.problem) return setProblem(outcome.problem);
      done();
      if (outcome.go) return router.push(outcome.go);
      toast(`“${outcome.name}” begins in a moment.`, {
        action: { label: 'Watch it', onClick: () => router.push(`/people/batches/${outcome.id}`) },
      });
    });
  return (
    <Dialog open onClose={close} className="relative z-30">
      <div className="fixed inset-0 bg-scrim" aria-hidden="true" />
      <div className="fixed inset-0 flex justify-center overflow-y-auto p-4 pt-[8vh]">
        <DialogPanel className="h-fit w-full max-w-xl border border-ink bg-paper p-5">
          <DialogTitle className="mb-3">
            {meant.kind === 'all' ? `All ${count(size)} people that match` : plural(size, 'person', 'people')}
          </DialogTitle>
          <form onSubmit={(event) => (event.preventDefault(), submit())}>
            <DeedField
              deeds={deeds}
              deed={deed}
              choose={(next) => (setDeed(next), setThing(''), setProblem(null))}
            />
            <What deed={deed} thing={thing} setThing={setThing} askable={askable} />
            {deed === 'delete' && <Erasure size={size} typed={typedCount} type={setTypedCount} />}
            {!['write', 'voicemail', 'export', 'merge'].includes(deed) && (
              <>
                <NameField name={name} setName={setName} />
                <When
                  when={when}
                  setWhen={setWhen}
                  at={at}
                  setAt={setAt}
                  pace={pace}
                  setPace={setPace}
                  size={size}
                />
              </>
            )}
            <Problem wide>{problem}</Problem>
            <div className="flex flex-wrap items-center gap-3">
              {deed === 'export' ? (
                <Exports meant={meant} done={done} />
              ) : (
                <button className="button button-main" disabled={pending}>
                  {pending ? 'Working …' : label}
                </button>
              )}
              <button type="button" className="button" onClick={close}>
                Leave it
              </button>
              <Link className="link ml-auto" href="/people/batches">
                past batches
              </Link>
            </div>
          </form>
        </DialogPanel>
      </div>
    </Dialog>
  );
}

const DeedField = ({ deeds, deed, choose }: { deeds: Deed[]; deed: Deed; choose(deed: Deed): void }) => (
  <label className="mb-3 block text-sm text-soft">
    What
    <select
      className="input mt-1 text-ink"
      value={deed}
      onChange={(event) => choose(event.target.value as Deed)}
    >
      {deeds.map((one) => (
        <option key={one} value={one}>
          {DEEDS[one]}
        </option>
      ))}
    </select>
  </label>
);

const NameField = ({ name, setName }: { name: string; setName(name: string): void }) => (
  <label className="mb-3 block text-sm text-soft">
    Name, to find it again (left empty: what it does)
    <input
      className="input mt-1 text-ink"
      maxLength={120}
      value={name}
      onChange={(event) => setName(event.target.value)}
    />
  </label>
);

/** What cannot be undone asks for the number of people it is about. */
const Erasure = ({ size, typed, type }: { size: number; typed: string; type(text: string): void }) => (
  <div className="mb-3 border-l-2 border-bad pl-3">
    <p>
      {plural(size, 'person is', 'people are')} erased: names, numbers and everything written. Only opt-outs
      and the audit stay. This cannot be undone.
    </p>
    <label className="mt-2 block text-sm text-soft">
      Type {count(size)} to go on
      <input
        className="input mt-1 w-40! text-ink"
        inputMode="numeric"
        value={typed}
        onChange={(event) => type(event.target.value)}
      />
    </label>
  </div>
);

const KIND_OF = {
  tag: 'tag',
  untag: 'tag',
  list: 'list',
  unlist: 'list',
  stage: 'stage',
  owner: 'teammate',
  'opt-out': 'program',
  sequence: 'sequence',
} as const;

/** Which tag, list, stage, teammate or program. A new tag or list is made by typing its name. */
function What({
  deed,
  thing,
  setThing,
  askable,
}: {
  deed: Deed;
  thing: string;
  setThing(thing: string): void;
  askable: Askable;
}) {
  const id = useId();
  if (!(deed in KIND_OF)) return null;
  const kind = KIND_OF[deed as keyof typeof KIND_OF];
  const things = askable.things.filter((one) => one.kind === kind);
  if (deed === 'tag' || deed === 'list')
    return (
      <label className="mb-3 block text-sm text-soft">
        {kind === 'tag' ? 'Tag: an old one or a new one' : 'List: an old one or a new one'}
        <input
          className="input mt-1 text-ink"
          list={id}
          maxLength={60}
          value={thing}
          onChange={(event) => setThing(event.target.value)}
        />
        <datalist id={id}>
          {things.map((one) => (
            <option key={one.id} value={one.name} />
          ))}
        </datalist>
      </label>
    );
  return (
    <label className="mb-3 block text-sm text-soft">
      Which {kind}
      <select
        className="input mt-1 text-ink"
        value={thing}
        onChange={(event) => setThing(event.target.value)}
      >
        <option value="">{kind === 'stage' || kind === 'teammate' ? 'none' : 'choose one'}</option>
        {things.map((one) => (
          <option key={one.id} value={one.id}>
            {one.name}
          </option>
        ))}
      </select>
    </label>
  );
}

function When({
  when,
  setWhen,
  at,
  setAt,
  pace,
  setPace,
  size,
}: {
  when: 'now' | 'at' | 'slowly';
  setWhen(when: 'now' | 'at' | 'slowly'): void;
  at: string;
  setAt(at: string): void;
  pace: { count: number; minutes: number };
  setPace(pace: { count: number; minutes: number }): void;
  size: number;
}) {
  const slices = Math.ceil(size / Math.max(1, pace.count));
  return (
    <fieldset className="mb-4">
      <legend className="text-sm text-soft">When</legend>
      <div className="flex flex-wrap gap-4">
        {(
          [
            ['now', 'now, after ten seconds of grace'],
            ['at', 'at a time'],
            ['slowly', 'a few at a time'],
          ] as const
        ).map(([value, words]) => (
          <label key={value} className="flex items-center gap-1.5">
            <input type="radio" name="when" checked={when === value} onChange={() => setWhen(value)} />
            {words}
          </label>
        ))}
      </div>
      {when === 'at' && (
        <input
          type="datetime-local"
          aria-label="Day and time"
          className="input mt-2 w-60!"
          value={at}
          onChange={(event) => setAt(event.target.value)}
        />
      )}
      {when === 'slowly' && (
        <p className="mt-2 flex flex-wrap items-center gap-2">
          <input
            type="number"
            min={1}
            aria-label="How many at a time"
            className="input w-20!"
            value={pace.count}
            onChange={(event) => setPace({ ...pace, count: Number(event.target.value) })}
          />
          every
          <input
            type="number"
            min={1}
            aria-label="Minutes between"
            className="input w-20!"
            value={pace.minutes}
            onChange={(event) => setPace({ ...pace, minutes: Number(event.target.value) })}
          />
          minutes: done after {count((slices - 1) * pace.minutes)} minutes.
        </p>
      )}
    </fieldset>
  );
}

/** A download is a plain form: the browser shows its progress and keeps the file. */
function Exports({ meant, done }: { meant: Meant; done(): void }) {
  return (
    <>
      {(['csv', 'xlsx', 'vcard'] as const).map((format) => (
        <button
          key={format}
          type="submit"
          formAction="/people/export"
          formMethod="post"
          className="button"
          onClick={(event) => {
            event.preventDefault();
            const form = document.createElement('form');
            form.method = 'post';
            form.action = '/people/export';
            const values = { format, meant: JSON.stringify(meant) };
            for (const [name, value] of Object.entries(values)) {
              const input = document.createElement('input');
              Object.assign(input, { type: 'hidden', name, value });
              form.append(input);
            }
            document.body.append(form);
            form.submit();
            form.remove();
            done();
          }}
        >
          {{ csv: 'CSV', xlsx: 'XLSX', vcard: 'vCard' }[format]}
        </button>
      ))}
    </>
  );
}
