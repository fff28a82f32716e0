'use client';
import { useRouter } from 'next/navigation';
import { useState, useTransition } from 'react';
import { sameValue } from '@/core/shared/json';
import { sentenceOf } from '@/core/shared/sentence';
import { answered, LOST } from './form';
import type { Problems } from './labelled';
import { usePress } from './press';
import { Problem } from './problem';

/** What is changed on a desk, until it is saved. */
export interface Desk<T> {
  now: T;
  set(part: Partial<T>): void;
  problems: Problems['problems'];
  busy: boolean;
  /** It is other than what stands. */
  changed: boolean;
  /** What was done last was kept, and nothing was changed since. */
  kept: boolean;
  /** Somebody else saved while this was being changed: what was typed stays, and cannot be saved over theirs. */
  overtaken: boolean;
  /** Gives up what was typed, for what stands now. */
  begin(): void;
  /** Does it once however often it is pressed; unless something is wrong, the page is read again or left. */
  run(act: Act<T>): void;
  /** The same for its form, which is sent only when there is something to save. */
  saving(act: Act<T>): (event: React.FormEvent) => void;
}

type Act<T> = (now: T, stamp: number, press: string) => Promise<Problems>;

interface Held<T> {
  /** What it was begun on, by its stamp. */
  stamp: number;
  first: T;
  now: T;
  problems: Problems['problems'];
  kept: boolean;
  /** What was saved, until the page shows it. */
  saved: T | null;
}

/**
 * @param before what stands now
 * @param stamp of what stands: with another one the desk begins anew, unless somebody is in the middle of a change
 * @param first what it begins with, where something is proposed
 * @param goesTo where it leads once it is done; else it stays
 */
export function useDesk<T extends object>(
  before: T,
  stamp: number,
  { first = before, goesTo }: { first?: T; goesTo?: string } = {},
): Desk<T> {
  const router = useRouter();
  const press = usePress();
  const [busy, start] = useTransition();
  const fresh: Held<T> = { stamp, first, now: first, problems: [], kept: false, saved: null };
  const [held, hold] = useState(fresh);
  const { now, problems, kept, saved } = held;
  const untouched = sameValue(now, saved ?? held.first);
  if (held.stamp !== stamp && !busy && (untouched || saved))
    hold({ ...fresh, kept, now: untouched ? first : now });
  const changed = !sameValue(now, before);
  const run = (act: Act<T>) => {
    if (busy) return;
    start(async () => {
      const outcome = await answered(act(now, held.stamp, press.token()));
      if (outcome) press.settle();
      const problems = outcome ? outcome.problems : [LOST];
      const fine = problems.length === 0;
      start(() => {
        hold((was) => ({
          ...was,
          problems,
          kept: fine && sameValue(was.now, now),
          saved: fine ? now : null,
        }));
        if (!fine) return;
        if (goesTo === undefined) router.refresh();
        else router.push(goesTo);
      });
    });
  };
  return {
    ...{ now, problems, busy, changed, kept, run },
    overtaken: held.stamp !== stamp && !busy,
    set: (part) => hold((was) => ({ ...was, now: { ...was.now, ...part }, kept: false })),
    begin: () => hold(fresh),
    saving: (act) => (event) => {
      event.preventDefault();
      if (changed) run(act);
    },
  };
}

const OF_NO_FIELD = ['stamp', 'document', 'form', 'body', 'id', 'press'];

/** The button that saves a desk, what else may be done with it, and whether what is seen is what is kept. */
export function Saving<T>({
  desk: { busy, changed, kept, overtaken, begin, problems },
  submit = 'Save the change',
  waits = 'not saved yet',
  loose = (field) => OF_NO_FIELD.includes(field),
  children,
  beside = null,
}: {
  desk: Desk<T>;
  submit?: string;
  /** What is said of a change that is not kept yet. */
  waits?: string;
  /** Whether a problem has no field that says it. */
  loose?: (field: string) => boolean;
  /** Buttons beside it. */
  children?: React.ReactNode;
  /** What is said of what is kept, where nothing is changed. */
  beside?: React.ReactNode;
}) {
  const said = problems.filter(({ field }) => loose(field)).map(({ message }) => sentenceOf(message));
  return (
    <>
      <div className="mt-4 flex flex-wrap items-center gap-3">
        <button className="button button-main" aria-disabled={!changed || busy}>
          {busy ? 'Working …' : submit}
        </button>
        {children}
        <span role="status" className={`text-sm ${kept && !changed ? 'text-good' : 'text-wait'}`}>
          {changed ? waits : kept ? 'Kept.' : null}
        </span>
        {!changed && beside}
      </div>
      {overtaken ? <Overtaken begin={begin} /> : <Problem wide>{said.join(' ')}</Problem>}
    </>
  );
}

/** Somebody else was quicker: what was typed can be looked at still, and given up. */
export function Overtaken({ begin }: Pick<Desk<never>, 'begin'>) {
  return (
    <p className="mt-2 text-sm text-wait" role="status">
      ! It was changed elsewhere meanwhile. What you typed is still here; it cannot be saved over theirs.{' '}
      <button type="button" className="link" onClick={begin}>
        Show what stands now
      </button>
    </p>
  );
}
