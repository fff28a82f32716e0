'use client';
import { useState } from 'react';
import type { OwnHours } from '@/core/clearance/hours';
import { allowsMore, reachesFurther, type Frequency, type Purpose } from '@/core/program/promise';
import type { ProgramFile } from '@/core/registration/file';
import { brokenBy } from '@/core/registration/promised';
import { displayNumber } from '@/core/phone/number';
import { measure } from '@/core/text/measure';
import {
  confirmationText,
  doubleOptInText,
  frequencyPhrase,
  helpText,
  type ProgramWording,
} from '@/core/text/wording';
import { sameValue } from '@/core/shared/json';
import { sentenceOf } from '@/core/shared/sentence';
import { Overtaken, useDesk } from '@/ui/kit/desk';
import { count, plural } from '@/ui/kit/numbers';
import { Section } from '@/ui/kit/page';
import { Labelled, problemOf, type Problems } from '@/ui/kit/labelled';
import { Problem } from '@/ui/kit/problem';
import { SpanOfHours } from '@/ui/kit/span-of-hours';

export interface Written {
  name: string;
  purpose: Purpose;
  promise: Frequency;
  welcome: string;
  doubleOptIn: boolean;
  hours: OwnHours | null;
  senders: string[];
}

interface Props {
  program: Written & { id: string; archived: boolean; stamp: number };
  wording: ProgramWording;
  members: number;
  numbers: { id: string; number: string; registration: string }[];
  /** What the reviewer of its numbers was told, and how it stands now; null: nothing was handed in. */
  told: { told: ProgramFile; now: ProgramFile } | null;
  ahead: { kind: 'broadcast' | 'sequence'; id: string; name: string; state: string; at: string | null }[];
  save(id: string, change: object, press: string): Promise<Problems>;
}

export const PURPOSES: readonly [Purpose, string][] = [
  ['recurring', 'recurring: news people asked for'],
  ['marketing', 'marketing: offers'],
  ['utility', 'utility: reminders, confirmations'],
  ['inquiry', 'inquiry: answers to questions'],
];

/** What people agree to, changed in front of what the change does. */
export function ChangeDesk({ program, wording, members, numbers, told, ahead, save }: Props) {
  const desk = useDesk<Written>(program, program.stamp, { goesTo: `/programs/${program.id}` });
  const { now, set, problems, busy, overtaken, begin } = desk;
  const [choice, setChoice] = useState<'keep' | 'all' | null>(null);
  const changed = changesOf(program, now);
  const asks = changed.promise !== undefined && members > 0 && allowsMore(program.promise, now.promise);
  const send = (change: object) =>
    desk.run((_, stamp, press) => save(program.id, { stamp, ...change }, press));
  const ready = Object.keys(changed).length > 0 && (!asks || choice !== null) && !busy;
  return (
    <div className="grid gap-x-10 gap-y-8 lg:grid-cols-[minmax(0,1fr)_21rem]">
      <form
        className="min-w-0 max-w-xl"
        onSubmit={(event) => {
          event.preventDefault();
          if (ready) send({ ...changed, ...(asks && choice ? { members: choice } : {}) });
        }}
      >
        <Agreement now={now} set={set} problems={problems} />
        <Hours hours={now.hours} set={(hours) => set({ hours })} problems={problems} />
        <Senders now={now} numbers={numbers} set={set} />
        {overtaken ? <Overtaken begin={begin} /> : <Loose problems={problems} />}
        <div className="mt-5 flex flex-wrap gap-3">
          <button className="button button-main" disabled={!ready}>
            {busy ? 'Working …' : 'Save the change'}
          </button>
          <button
            type="button"
            className="button"
            disabled={busy}
            onClick={() => send({ archived: !program.archived })}
          >
            {program.archived ? 'Bring it back' : 'Archive it'}
          </button>
        </div>
        <p className="mt-2 text-sm text-soft">
          {program.archived
            ? 'It is archived: nobody can join, and nothing leaves under it but answers.'
            : 'Archived, nobody can join and nothing leaves under it but answers. Whoever is in it stays, and it can be brought back.'}
          {told && (
            <>
              {' '}
              It is registered with the carriers, or about to be, and stays so:{' '}
              <a className="link" href={`/numbers/registration/programs/${program.id}`}>
                take that back
              </a>{' '}
              if nothing is to be sent under it any more.
            </>
          )}
        </p>
      </form>
      <aside aria-label="Margin" className="min-w-0 border-rule lg:border-l lg:pl-6">
        {told && <ToldReviewer {...{ told, program, now, wording }} />}
        <Consequence
          {...{ program, now, wording, members, ahead, changed }}
          question={asks ? <Question before={program.promise} {...{ members, choice, setChoice }} /> : null}
        />
      </aside>
    </div>
  );
}

/** As the API takes it; only what differs. */
function changesOf(before: Written, now: Written) {
  return {
    ...(now.name.trim() === before.name ? {} : { name: now.name }),
    ...(now.purpose === before.purpose ? {} : { purpose: now.purpose }),
    ...(sameValue(now.promise, before.promise) ? {} : { promise: now.promise }),
    ...(now.welcome.trim() === before.welcome ? {} : { welcome: now.welcome }),
    ...(now.doubleOptIn === before.doubleOptIn ? {} : { double_opt_in: now.doubleOptIn }),
    ...(sameValue(now.hours, before.hours) ? {} : { hours: now.hours }),
    ...(sameValue([...now.senders].sort(), [...before.senders].sort())
      ? {}
      : { sender_numbers: now.senders }),
  };
}

interface PartProps {
  now: Written;
  set(part: Partial<Written>): void;
  problems: Problems['problems'];
}

function Agreement({ now, set, problems }: PartProps) {
  return (
    <>
      <Labelled name="name" label="Name, as people read it" problems={problems}>
        {(id) => (
          <input
            id={id}
            className="input"
            maxLength={80}
            value={now.name}
            onChange={(event) => set({ name: event.target.value })}
          />
        )}
      </Labelled>
      <Labelled name="purpose" label="Purpose" problems={problems}>
        {(id) => (
          <select
            id={id}
            className="input"
            value={now.purpose}
            onChange={(event) => set({ purpose: event.target.value as Purpose })}
          >
            {PURPOSES.map(([value, words]) => (
              <option key={value} value={value}>
                {words}
              </option>
            ))}
          </select>
        )}
      </Labelled>
      <div className="grid gap-x-4 sm:grid-cols-2">
        <Labelled name="promise" label="At most this many texts; empty: no number" problems={problems}>
          {(id) => (
            <input
              id={id}
              className="input"
              inputMode="numeric"
              value={now.promise?.count ?? ''}
              onChange={(event) => {
                const digits = Number(event.target.value.replace(/\D/g, '').slice(0, 3));
                set({
                  promise: digits > 0 ? { count: digits, period: now.promise?.period ?? 'month' } : null,
                });
              }}
            />
          )}
        </Labelled>
        <Labelled name="period" label="in each" problems={problems}>
          {(id) => (
            <select
              id={id}
              className="input"
              disabled={now.promise === null}
              value={now.promise?.period ?? 'month'}
              onChange={(event) =>
                set({
                  promise: now.promise && { ...now.promise, period: event.target.value as 'week' | 'month' },
                })
              }
            >
              <option value="month">month</option>
              <option value="week">week</option>
            </select>
          )}
        </Labelled>
      </div>
      <Labelled
        name="welcome"
        label="Welcome: goes before the required wording of the confirmation"
        problems={problems}
      >
        {(id) => (
          <textarea
            id={id}
            className="input"
            rows={2}
            maxLength={300}
            value={now.welcome}
            onChange={(event) => set({ welcome: event.target.value })}
          />
        )}
      </Labelled>
      <label className="mb-4 flex items-baseline gap-2">
        <input
          type="checkbox"
          checked={now.doubleOptIn}
          onChange={(event) => set({ doubleOptIn: event.target.checked })}
        />{' '}
        Ask for a YES before anything else is sent
      </label>
    </>
  );
}

const OFFICE: OwnHours = { days: [1, 2, 3, 4, 5, 6], from: '10:00', to: '18:00' };

function Hours({
  hours,
  set,
  problems,
}: {
  hours: OwnHours | null;
  set(hours: OwnHours | null): void;
  problems: Problems['problems'];
}) {
  return (
    <fieldset className="mb-4">
      <legend className="mb-1 text-sm text-soft">Own hours, within those of the law</legend>
      <label className="flex items-baseline gap-2">
        <input
          type="checkbox"
          checked={hours !== null}
          onChange={(event) => set(event.target.checked ? OFFICE : null)}
        />
        It writes only at certain hours
      </label>
      {hours && (
        <div className="mt-2 flex flex-wrap items-center gap-3">
          <SpanOfHours span={hours} set={(part) => set({ ...hours, ...part })} />
        </div>
      )}
      <Problem>{problemOf(problems, 'hours')}</Problem>
    </fieldset>
  );
}

function Senders({ now, numbers, set }: Pick<PartProps, 'now' | 'set'> & Pick<Props, 'numbers'>) {
  return (
    <fieldset className="mb-4">
      <legend className="mb-1 text-sm text-soft">Sender numbers</legend>
      {numbers.length === 0 && <p className="text-soft">None yet: see Numbers.</p>}
      {numbers.map(({ id, number, registration }) => (
        <label key={id} className="flex items-baseline gap-2 py-0.5">
          <input
            type="checkbox"
            checked={now.senders.includes(id)}
            onChange={(event) =>
              set({
                senders: event.target.checked
                  ? [...now.senders, id]
                  : now.senders.filter((one) => one !== id),
              })
            }
          />
          {displayNumber(number)} <span className="text-sm text-soft">{registration.replace('-', ' ')}</span>
        </label>
      ))}
    </fieldset>
  );
}

function Consequence({
  program,
  now,
  wording,
  members,
  ahead,
  changed,
  question,
}: Pick<Props, 'program' | 'wording' | 'members' | 'ahead'> & {
  now: Written;
  changed: object;
  question: React.ReactNode;
}) {
  const texts = textsThatDiffer(program, now, wording);
  const nothing = Object.keys(changed).length === 0;
  return (
    <>
      <Section title="What the change does">
        {nothing && <p className="text-soft">Nothing is changed yet.</p>}
        {!nothing && (
          <p className="text-sm">
            {members === 0
              ? 'Nobody is in it yet.'
              : `${plural(members, 'person is', 'people are')} in it: ${
                  texts.length === 0
                    ? 'what they read stays the same.'
                    : 'from now on they read what stands below.'
                }`}
          </p>
        )}
        {members > 0 && reachesFurther(program.purpose, now.purpose) && (
          <p className="mt-2 text-sm text-bad">
            ✕ They agreed to {program.purpose}, which is less than {now.purpose}. Make a new program for it,
            and ask them to join.
          </p>
        )}
        {question}
        {now.senders.length === 0 && (
          <p className="mt-2 text-sm text-bad">✕ Without a number nothing can be sent.</p>
        )}
        {now.doubleOptIn !== program.doubleOptIn && (
          <p className="mt-2 text-sm">
            {now.doubleOptIn
              ? 'Whoever joins from now on is asked for a YES first. Whoever is in it stays.'
              : 'Whoever joins from now on is in at once. Who was asked and has not answered is still waited for.'}
          </p>
        )}
        {now.hours && !sameValue(now.hours, program.hours) && (
          <p className="mt-2 text-sm">
            What would leave outside {now.hours.from} to {now.hours.to} waits for the next such hour where the
            person lives. Answers go at once.
          </p>
        )}
      </Section>
      {texts.length > 0 && (
        <Section title="Texts that read differently">
          {texts.map(({ name, before, after }) => (
            <div key={name} className="border-b border-rule py-2 text-sm">
              <div className="flex justify-between gap-2 text-soft">
                <span>{name}</span>
                <span>{plural(measure(after).parts, 'part')}</span>
              </div>
              {before && <p className="text-soft line-through">{before}</p>}
              <p>{after}</p>
            </div>
          ))}
        </Section>
      )}
      <Section title="What it reaches" note={ahead.length > 0 ? count(ahead.length) : undefined}>
        {ahead.length === 0 ? (
          <p className="text-sm text-soft">Nothing is under way or planned under it.</p>
        ) : (
          <ul className="text-sm">
            {ahead.map(({ kind, id, name, state }) => (
              <li key={id} className="border-b border-rule py-1">
                <a className="link" href={kind === 'sequence' ? `/programs/sequences/${id}` : `/sends/${id}`}>
                  {name}
                </a>{' '}
                <span className="text-soft">
                  {kind}, {state}: from its next message on
                </span>
              </li>
            ))}
          </ul>
        )}
      </Section>
    </>
  );
}

/** What the reviewer of its numbers was told, and would not be so any more. */
function ToldReviewer({
  told: { told, now: file },
  program,
  now,
  wording,
}: { told: NonNullable<Props['told']>; now: Written } & Pick<Props, 'program' | 'wording'>) {
  const broken = brokenBy(told, withWritten(file, now, wording));
  if (broken.length === 0) return null;
  return (
    <Section title="What the reviewer was told">
      <ul className="mb-2 text-sm">
        {broken.map(({ field, message }) => (
          <li key={field} className="border-b border-rule py-1 text-bad">
            ✕ {message}
          </li>
        ))}
      </ul>
      <p className="text-sm text-soft">
        Carriers stop numbers whose texts are not what was registered. Once it is saved,{' '}
        <a className="link" href={`/numbers/registration/programs/${program.id}`}>
          hand in the change
        </a>
        .
      </p>
    </Section>
  );
}

/** The program’s file as it would be. */
function withWritten(file: ProgramFile, written: Written, wording: ProgramWording): ProgramFile {
  const words = wordsOf(written, wording);
  return {
    ...{ ...file, name: words.program, purpose: written.purpose, often: words.frequency },
    confirmation: confirmationText(words, written.welcome),
    question: written.doubleOptIn ? doubleOptInText(words) : '',
    help: helpText(words),
  };
}

const wordsOf = (written: Written, wording: ProgramWording): ProgramWording => ({
  ...wording,
  program: written.name.trim(),
  frequency: frequencyPhrase(written.promise?.count ?? null, written.promise?.period ?? 'month'),
});

/** Automatic texts before and after. */
function textsThatDiffer(before: Written, after: Written, wording: ProgramWording) {
  const of = (written: Written) => {
    const words = wordsOf(written, wording);
    return new Map([
      ...(written.doubleOptIn ? [['question before joining', doubleOptInText(words)] as const] : []),
      ['confirmation', confirmationText(words, written.welcome)] as const,
      ['help', helpText(words)] as const,
    ]);
  };
  const old = of(before);
  return [...of(after)]
    .map(([name, text]) => ({ name, before: old.get(name) ?? null, after: text }))
    .filter((text) => text.before !== text.after);
}

function Question({
  before,
  members,
  choice,
  setChoice,
}: {
  before: Frequency;
  members: number;
  choice: 'keep' | 'all' | null;
  setChoice(choice: 'keep' | 'all'): void;
}) {
  const theirs = frequencyPhrase(before?.count ?? null, before?.period ?? 'month').toLowerCase();
  return (
    <fieldset className="mt-3 border-l-2 border-wait pl-3">
      <legend className="float-left mb-1 text-sm font-semibold">
        {plural(members, 'person', 'people')} agreed to less: {theirs}. What holds for them?
      </legend>
      {(
        [
          ['keep', `It stays at ${theirs}. Only who joins from now on gets more.`],
          ['all', 'The new number. I told them, and whoever does not want it can leave.'],
        ] as const
      ).map(([value, words]) => (
        <label key={value} className="flex w-full items-baseline gap-2 py-0.5 text-sm">
          <input type="radio" name="members" checked={choice === value} onChange={() => setChoice(value)} />
          {words}
        </label>
      ))}
    </fieldset>
  );
}

const PLACED = ['name', 'purpose', 'promise', 'welcome', 'hours'];

function Loose({ problems }: { problems: Problems['problems'] }) {
  const loose = problems.filter(
    ({ field }) => !PLACED.some((one) => field === one || field.startsWith(`${one}.`)),
  );
  return <Problem wide>{loose.map(({ message }) => sentenceOf(message)).join(' ') || null}</Problem>;
}
