'use client';
import { useEffect, useId, useRef, useState } from 'react';
import type { KeptFile } from '@/core/media/kinds';
import { ACTS, type Assignee, type Line, type What, type When } from '@/core/sequence/document';
import { DEED_WORDS } from '@/core/sequence/words';
import { Writer } from '@/ui/kit/writer';
import { FilesField } from '@/ui/media/files-field';
import { Count, Pick, Span, Time, Weekdays } from './pickers';
import type { Choices } from './types';

interface Props {
  line: Line;
  choices: Choices;
  change(line: Line): void;
}

/** Everything about one line, edited where it stands. */
export function LineForm({ line, choices, change }: Props) {
  const { what } = line;
  return (
    <div className="my-2 grid gap-3 border-l-2 border-accent py-1 pl-4">
      <WhenFields when={line.when} choices={choices} change={(when) => change({ ...line, when })} />
      <div className="flex flex-wrap items-end gap-3">
        <label className="text-sm text-soft">
          What
          <select
            className="input mt-1 text-ink"
            value={what.do}
            onChange={(event) =>
              change({ ...line, what: BLANKS[event.target.value as What['do']](choices, line.id) })
            }
          >
            {(Object.keys(DEED_WORDS) as What['do'][]).map((deed) => (
              <option key={deed} value={deed}>
                {DEED_WORDS[deed]}
              </option>
            ))}
          </select>
        </label>
        <WhatFields what={what} choices={choices} change={(next) => change({ ...line, what: next })} />
      </div>
      {(what.do === 'text' || what.do === 'ask' || what.do === 'email') && (
        <Writing
          key={what.do}
          what={what}
          choices={choices}
          change={(next) => change({ ...line, what: next })}
        />
      )}
      <div className="flex flex-wrap gap-x-5 gap-y-1 text-sm">
        <label className="flex items-center gap-1.5">
          <input
            type="checkbox"
            checked={line.late === 'skip'}
            onChange={(event) => change({ ...line, late: event.target.checked ? 'skip' : 'go' })}
          />
          pass over when its moment has passed (else it goes at once)
        </label>
        <label className="flex items-center gap-1.5">
          <input
            type="checkbox"
            checked={line.off ?? false}
            onChange={(event) => change({ ...line, off: event.target.checked })}
          />
          switched off
        </label>
      </div>
    </div>
  );
}

const first = (options: readonly { id: string }[]): string => options[0]?.id ?? '';

/** What a line is when its kind is chosen. */
export const BLANKS: Record<What['do'], (choices: Choices, id: string) => What> = {
  text: () => ({ do: 'text', body: 'Write what it says.' }),
  email: () => ({ do: 'email', subject: 'What it is about', body: 'Write what it says.' }),
  voicemail: ({ recordings: [one] }) => ({
    ...{ do: 'voicemail', recording: one?.id ?? 'none', body: one?.words ?? 'Choose what is heard.' },
  }),
  ask: ({ fields }) => ({ do: 'ask', body: 'Ask something.', field: first(fields) || 'own.answer' }),
  task: () => ({ do: 'task', title: 'Call them', for: { to: 'owner' }, due_minutes: 60 }),
  tell: () => ({ do: 'tell', words: 'Look at this person', to: { to: 'owner' } }),
  webhook: () => ({ do: 'webhook', words: 'Send a card' }),
  tag: ({ tags }) => ({ do: 'tag', label: first(tags) || 'none' }),
  untag: ({ tags }) => ({ do: 'untag', label: first(tags) || 'none' }),
  list: ({ lists }) => ({ do: 'list', label: first(lists) || 'none' }),
  unlist: ({ lists }) => ({ do: 'unlist', label: first(lists) || 'none' }),
  stage: ({ stages }) => ({ do: 'stage', stage: first(stages) || null }),
  owner: () => ({ do: 'owner', account: null }),
  field: ({ fields }) => ({ do: 'field', field: first(fields) || 'own.field', value: '' }),
  begin: ({ sequences }) => ({ do: 'begin', sequence: first(sequences) || 'none' }),
  stop: ({ sequences }) => ({ do: 'stop', sequence: first(sequences) || 'none' }),
  end: () => ({ do: 'end' }),
  fork: (_, id) => ({
    do: 'fork',
    columns: [
      { id: `${id}a`, name: 'replied', if: { test: 'did', act: 'reply', has: true }, lines: [], then: 'end' },
      { id: `${id}b`, name: 'everybody else', if: { test: 'else' }, lines: [], then: 'rejoin' },
    ],
  }),
};

const WHENS: Record<When['at'], { words: string; blank: (choices: Choices) => When }> = {
  once: { words: 'at once', blank: () => ({ at: 'once' }) },
  after: { words: 'after a time', blank: () => ({ at: 'after', minutes: 1_440, from: 'before' }) },
  day: { words: 'on a day', blank: () => ({ at: 'day', day: 2, time: '10:00' }) },
  weekday: { words: 'on the next weekday', blank: () => ({ at: 'weekday', days: [2, 3, 4], time: '10:00' }) },
  date: {
    words: 'around a date of theirs',
    blank: ({ dates }) => ({
      at: 'date',
      field: first(dates) || 'own.date',
      days: 0,
      yearly: false,
      time: '10:00',
    }),
  },
  until: {
    words: 'as soon as they do something',
    blank: () => ({ at: 'until', act: 'reply', minutes: 2_880 }),
  },
};

function WhenFields({ when, choices, change }: { when: When; choices: Choices; change(when: When): void }) {
  return (
    <div className="flex flex-wrap items-end gap-3">
      <label className="text-sm text-soft">
        When
        <select
          className="input mt-1 text-ink"
          value={when.at}
          onChange={(event) => change(WHENS[event.target.value as When['at']].blank(choices))}
        >
          {(Object.keys(WHENS) as When['at'][]).map((at) => (
            <option key={at} value={at}>
              {WHENS[at].words}
            </option>
          ))}
        </select>
      </label>
      {when.at === 'after' && (
        <>
          <Span label="After" minutes={when.minutes} onSpan={(minutes) => change({ ...when, minutes })} />
          <Pick
            label="Counted from"
            value={when.from}
            options={[
              { id: 'before', name: 'the line before' },
              { id: 'beginning', name: 'the beginning' },
            ]}
            onPick={(from) => change({ ...when, from: from as 'before' | 'beginning' })}
          />
        </>
      )}
      {when.at === 'day' && (
        <Count
          label="Day (1 is the first)"
          value={when.day}
          min={1}
          max={1_100}
          onCount={(day) => change({ ...when, day })}
        />
      )}
      {when.at === 'weekday' && <Weekdays value={when.days} onDays={(days) => change({ ...when, days })} />}
      {when.at === 'date' && (
        <>
          <Count
            label="Days after (before: minus)"
            value={when.days}
            min={-366}
            max={366}
            onCount={(days) => change({ ...when, days })}
          />
          <Pick
            label="Date"
            value={when.field}
            options={choices.dates}
            onPick={(field) => change({ ...when, field: field! })}
          />
          <label className="flex items-center gap-1.5 pb-2 text-sm">
            <input
              type="checkbox"
              checked={when.yearly}
              onChange={(event) => change({ ...when, yearly: event.target.checked })}
            />
            its next anniversary
          </label>
        </>
      )}
      {'time' in when && <Time label="At" value={when.time} onTime={(time) => change({ ...when, time })} />}
      {when.at === 'until' && (
        <>
          <Pick
            label="They"
            value={when.act}
            options={ACTS.map((act) => ({ id: act, name: ACT_NAMES[act] }))}
            onPick={(act) => change({ ...when, act: act as (typeof ACTS)[number] })}
          />
          <Span
            label="At the latest after"
            minutes={when.minutes}
            onSpan={(minutes) => change({ ...when, minutes: Math.max(1, minutes) })}
          />
        </>
      )}
    </div>
  );
}

const ACT_NAMES = {
  reply: 'reply',
  click: 'follow a link',
  redeem: 'use a voucher',
  'fill-in': 'fill in the form',
};

function WhatFields({ what, choices, change }: { what: What; choices: Choices; change(what: What): void }) {
  switch (what.do) {
    case 'ask':
      return (
        <Pick
          label="Their answer goes into"
          value={what.field}
          options={choices.fields}
          onPick={(field) => change({ ...what, field: field! })}
        />
      );
    case 'voicemail':
      return (
        <Pick
          label="What is heard"
          value={what.recording}
          options={choices.recordings}
          onPick={(recording) =>
            change({
              ...what,
              recording: recording!,
              body: choices.recordings.find(({ id }) => id === recording)?.words ?? what.body,
            })
          }
        />
      );
    case 'task':
      return (
        <>
          <Words
            label="What is to be done"
            value={what.title}
            most={200}
            change={(title) => change({ ...what, title })}
          />
          <For value={what.for} choices={choices} change={(next) => change({ ...what, for: next })} />
          <Span
            label="Due after"
            minutes={what.due_minutes}
            onSpan={(due_minutes) => change({ ...what, due_minutes })}
          />
        </>
      );
    case 'tell':
      return (
        <>
          <Words
            label="What they are told"
            value={what.words}
            most={300}
            change={(words) => change({ ...what, words })}
          />
          <For value={what.to} choices={choices} change={(to) => change({ ...what, to })} />
        </>
      );
    case 'webhook':
      return (
        <Words
          label="What other systems are told"
          value={what.words}
          most={300}
          change={(words) => change({ ...what, words })}
        />
      );
    case 'tag':
    case 'untag':
      return (
        <Pick
          label="Tag"
          value={what.label}
          options={choices.tags}
          onPick={(label) => change({ ...what, label: label! })}
        />
      );
    case 'list':
    case 'unlist':
      return (
        <Pick
          label="List"
          value={what.label}
          options={choices.lists}
          onPick={(label) => change({ ...what, label: label! })}
        />
      );
    case 'stage':
      return (
        <Pick
          label="Stage"
          value={what.stage}
          options={choices.stages}
          none="none"
          onPick={(stage) => change({ ...what, stage })}
        />
      );
    case 'owner':
      return (
        <Pick
          label="Owner"
          value={what.account}
          options={choices.teammates}
          none="nobody"
          onPick={(account) => change({ ...what, account })}
        />
      );
    case 'field':
      return (
        <>
          <Pick
            label="Field"
            value={what.field}
            options={choices.fields}
            onPick={(field) => change({ ...what, field: field! })}
          />
          <Words label="Value" value={what.value} most={500} change={(value) => change({ ...what, value })} />
        </>
      );
    case 'begin':
    case 'stop':
      return (
        <Pick
          label="Sequence"
          value={what.sequence}
          options={choices.sequences}
          onPick={(sequence) => change({ ...what, sequence: sequence! })}
        />
      );
    default:
      return null;
  }
}

export function For({
  value,
  choices,
  change,
}: {
  value: Assignee;
  choices: Choices;
  change(value: Assignee): void;
}) {
  const key = value.to === 'account' ? value.account : value.to === 'turn' ? `turn ${value.role}` : 'owner';
  return (
    <Pick
      label="For"
      value={key}
      options={[
        { id: 'owner', name: 'whoever has the person' },
        { id: 'turn teammate', name: 'teammates in turn' },
        { id: 'turn manager', name: 'managers in turn' },
        ...choices.teammates,
      ]}
      onPick={(id) => {
        if (id === 'owner') change({ to: 'owner' });
        else if (id?.startsWith('turn ')) change({ to: 'turn', role: id.slice(5) as 'manager' | 'teammate' });
        else change({ to: 'account', account: id! });
      }}
    />
  );
}

export function Words({
  label,
  value,
  most,
  change,
}: {
  label: string;
  value: string;
  most: number;
  change(value: string): void;
}) {
  return (
    <label className="min-w-56 flex-1 text-sm text-soft">
      {label}
      <input
        className="input mt-1 text-ink"
        value={value}
        maxLength={most}
        onChange={(event) => change(event.target.value)}
      />
    </label>
  );
}

type Written = Extract<What, { do: 'text' | 'ask' | 'email' }>;

/** The editor of the broadcast, with what the text comes to. */
function Writing({
  what,
  choices,
  change,
}: {
  what: Written;
  choices: Choices;
  change(what: Written): void;
}) {
  const latest = useRef(what);
  useEffect(() => {
    latest.current = what;
  }, [what]);
  const writer = (
    <Writer
      label={what.do === 'email' ? 'E-mail' : 'Text'}
      initial={what.body}
      value={what.body}
      fields={choices.merge}
      counts={what.do !== 'email'}
      checked={{ program: null, channel: what.do === 'email' ? 'email' : 'sms', answers: true }}
      onChange={(body) => body !== latest.current.body && body !== '' && change({ ...latest.current, body })}
    />
  );
  return (
    <div>
      {what.do === 'email' && (
        <Words
          label="Subject"
          value={what.subject}
          most={200}
          change={(subject) => change({ ...what, subject })}
        />
      )}
      <div className="mt-2">
        {what.do === 'text' ? (
          <WithFiles
            what={what}
            kept={choices.files}
            change={(media) => change({ ...latest.current, media } as Written)}
          >
            {writer}
            <ByChat
              what={what}
              chats={choices.chats}
              change={(next) => change({ ...latest.current, ...next } as Written)}
            />
          </WithFiles>
        ) : (
          writer
        )}
      </div>
    </div>
  );
}

/** The template by which a text goes as a chat message to whoever agreed to chat; nothing where there is none to choose. */
function ByChat({
  what,
  chats,
  change,
}: {
  what: Extract<What, { do: 'text' }>;
  chats: Choices['chats'];
  change(part: { chat: string | undefined }): void;
}) {
  const id = useId();
  if (chats.length === 0 && what.chat === undefined) return null;
  const known = what.chat === undefined || chats.some((one) => one.id === what.chat);
  return (
    <div className="mt-2 flex flex-wrap items-center gap-2 text-sm">
      <label htmlFor={id}>Who agreed to chat gets instead</label>
      <select
        id={id}
        className="input w-56!"
        value={what.chat ?? ''}
        onChange={({ target }) => change({ chat: target.value === '' ? undefined : target.value })}
      >
        <option value="">this text, as everybody</option>
        {!known && <option value={what.chat}>a template that is gone: the text goes</option>}
        {chats.map((one) => (
          <option key={one.id} value={one.id}>
            the chat template {one.name}
          </option>
        ))}
      </select>
    </div>
  );
}

/** Files that go along with a text, by their ids. */
function WithFiles({
  what: { media = [] },
  kept,
  change,
  children,
}: {
  what: Extract<What, { do: 'text' }>;
  kept: readonly KeptFile[];
  change(media: string[]): void;
  children: React.ReactNode;
}) {
  const [known, setKnown] = useState(kept);
  const files = media.flatMap((id) => known.find((file) => file.id === id) ?? []);
  return (
    <FilesField
      files={files}
      kept={kept}
      change={(next) => {
        setKnown([...next, ...known.filter(({ id }) => !next.some((file) => file.id === id))]);
        change(next.map(({ id }) => id));
      }}
      problem={undefined}
    >
      {children}
    </FilesField>
  );
}
