'use client';
import { Link } from '@/ui/kit/link';
import { useEffect, useId, useRef, useState, useTransition } from 'react';
import { toast } from 'sonner';
import { displayNumber } from '@/core/phone/number';
import { Mark } from '@/ui/kit/mark';
import { plural } from '@/ui/kit/numbers';
import { usePress } from '@/ui/kit/press';
import { Problem } from '@/ui/kit/problem';
import { shortTime } from '@/ui/kit/time';

export interface ToCall {
  personId: string;
  name: string | null;
  address: string;
  number: string | null;
  senderId: string | null;
  why: 'called-back' | 'missed' | 'answered' | 'task';
  since: Date;
  calls: number;
  words: string | null;
}

export interface ShownOutcome {
  id: string;
  name: string;
  /** What follows, in short; null: nothing does. */
  follows: string | null;
}

interface Props {
  next: readonly ToCall[];
  outcomes: readonly ShownOutcome[];
  now: number;
  zone: string;
  record(
    call: { person: string; sender: string | null; outcome: string; note: string },
    press: string,
  ): Promise<string | null>;
  settle(person: string, press: string): Promise<string | null>;
}

/** How many wait for a call, as Today and the Inbox count them, and how many are there for a task. */
const waitWords = (next: readonly ToCall[]): string => {
  const tasks = next.filter(({ why }) => why === 'task').length;
  const people = plural(next.length - tasks, 'person waits', 'people wait');
  return tasks === 0 ? people : `${people}, ${plural(tasks, 'task is', 'tasks are')} due`;
};

const WHY: Record<ToCall['why'], { tone: 'wait' | 'plain'; words(one: ToCall): string }> = {
  'called-back': {
    tone: 'wait',
    words: ({ calls }) => `rang back${calls > 1 ? ` ${calls} times` : ''}, reached nobody`,
  },
  missed: {
    tone: 'wait',
    words: ({ calls }) => `called${calls > 1 ? ` ${calls} times` : ''}, reached nobody`,
  },
  answered: { tone: 'plain', words: () => 'answered a voicemail by text' },
  task: { tone: 'plain', words: () => 'task is due' },
};

/** Whom to call next, from which number, and what it came to by one key: between two calls nobody looks for a mouse. */
export function CallDesk({ next, outcomes, now, zone, record, settle }: Props) {
  const [chosen, setChosen] = useState<string | null>(null);
  const [note, setNote] = useState('');
  const [problem, setProblem] = useState<string | null>(null);
  const [pending, start] = useTransition();
  const press = usePress();
  const id = useId();
  const desk = useRef<HTMLElement>(null);
  const choose = (personId: string) => {
    setChosen(personId);
    setNote('');
    // Where the desk stands above the list, whoever is far down in it would press and see nothing.
    if (desk.current && desk.current.getBoundingClientRect().top < 0)
      desk.current.scrollIntoView({ block: 'start' });
  };
  const at = Math.max(
    0,
    next.findIndex(({ personId }) => personId === chosen),
  );
  const one = next[at];
  const step = (by: number) => {
    const to = next[Math.max(0, Math.min(next.length - 1, at + by))];
    if (to) setChosen(to.personId);
    setNote('');
  };
  const done = (work: (token: string) => Promise<string | null>, words: string) =>
    start(async () => {
      const after = next[at + 1] ?? next[at - 1];
      const trouble = await work(press.token());
      press.settle();
      setProblem(trouble);
      if (trouble) return;
      toast(words);
      setNote('');
      setChosen(after?.personId ?? null);
    });
  const came = (outcome: ShownOutcome) =>
    one &&
    done(
      (token) => record({ person: one.personId, sender: one.senderId, outcome: outcome.id, note }, token),
      `${one.name ?? displayNumber(one.address)}: ${outcome.name}.`,
    );
  const key = useRef<(event: KeyboardEvent) => void>(() => {});
  useEffect(() => {
    key.current = (event) => {
      const typing =
        event.target instanceof HTMLElement && /^(INPUT|TEXTAREA|SELECT)$/.test(event.target.tagName);
      if (typing || event.ctrlKey || event.metaKey || event.altKey || pending) return;
      const outcome = outcomes[Number(event.key) - 1];
      if (outcome && /^[1-9]$/.test(event.key)) void came(outcome);
      else if (event.key === 'j') step(1);
      else if (event.key === 'k') step(-1);
      else return;
      event.preventDefault();
    };
  });
  useEffect(() => {
    const heard = (event: KeyboardEvent) => key.current(event);
    document.addEventListener('keydown', heard);
    return () => document.removeEventListener('keydown', heard);
  }, []);
  if (!one)
    return (
      <p className="text-soft">
        Nobody waits for a call. Who calls and reaches nobody, who answers a voicemail by text, and whose task
        is due stands here by itself.
      </p>
    );
  return (
    <div className="grid gap-x-10 gap-y-6 lg:grid-cols-[18rem_minmax(0,1fr)]">
      <ol aria-label="To call" className="border-t border-ink">
        {next.map((row) => (
          <li key={row.personId} className="border-b border-rule">
            <button
              type="button"
              aria-current={row === one}
              className={`block w-full px-2 py-2 text-left ${row === one ? 'bg-ink/5 font-semibold' : ''}`}
              onClick={() => choose(row.personId)}
            >
              {row.name ?? displayNumber(row.address)}
              <span className="block text-sm font-normal text-soft">
                {WHY[row.why].words(row)}, {shortTime(row.since, now, zone)}
              </span>
            </button>
          </li>
        ))}
      </ol>
      <section
        ref={desk}
        aria-label="This call"
        aria-live="polite"
        className="max-lg:order-first max-lg:border-b max-lg:border-rule max-lg:pb-4"
      >
        <h2 className="font-head text-2xl">
          <Link className="link" href={`/inbox/${one.personId}`}>
            {one.name ?? displayNumber(one.address)}
          </Link>
        </h2>
        <p className="mt-1 text-lg tabular-nums">
          <a href={`tel:${one.address}`}>{displayNumber(one.address)}</a>
          {one.number && (
            <span className="text-soft"> from {displayNumber(one.number)}, the number they know</span>
          )}
        </p>
        <p className="mt-2">
          <Mark tone={WHY[one.why].tone}>{WHY[one.why].words(one)}</Mark>{' '}
          <span className="text-soft">since {shortTime(one.since, now, zone)}</span>
        </p>
        {one.words && (
          <p className="mt-2 max-w-[62ch] border-l-2 border-rule pl-3 [overflow-wrap:anywhere]">
            {one.words}
          </p>
        )}
        <div className="mt-4 max-w-[62ch]">
          <label htmlFor={`${id}n`} className="mb-1 block text-sm text-soft">
            Note
          </label>
          <textarea
            id={`${id}n`}
            className="input min-h-16"
            maxLength={2_000}
            value={note}
            onChange={(event) => setNote(event.target.value)}
          />
        </div>
        <h3 className="mt-4 text-sm text-soft">What it came to</h3>
        <ul className="max-w-[62ch]">
          {outcomes.map((outcome, i) => (
            <li key={outcome.id} className="border-b border-rule">
              <button
                type="button"
                disabled={pending}
                className="flex w-full items-baseline gap-3 py-2 text-left hover:text-accent"
                onClick={() => void came(outcome)}
              >
                {i < 9 && <kbd>{i + 1}</kbd>}
                <span>
                  {outcome.name}
                  {outcome.follows && <span className="block text-sm text-soft">{outcome.follows}</span>}
                </span>
              </button>
            </li>
          ))}
        </ul>
        {outcomes.length === 0 && (
          <p>
            Say first <Link href="/inbox/calls/outcomes">what a call can come to</Link>.
          </p>
        )}
        <Problem>{problem}</Problem>
        {one.why !== 'task' && (
          <button
            type="button"
            className="button mt-4"
            disabled={pending}
            onClick={() => done((token) => settle(one.personId, token), 'Taken off the list.')}
          >
            Take off the list without a call
          </button>
        )}
        <p className="mt-4 text-sm text-soft">
          {waitWords(next)}; <kbd>j</kbd> and <kbd>k</kbd> go through them, a figure says what a call came to.
        </p>
      </section>
    </div>
  );
}
