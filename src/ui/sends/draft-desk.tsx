'use client';
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import Link from 'next/link';
import { useCallback, useEffect, useId, useMemo, useRef, useState, useTransition } from 'react';
import { toast } from 'sonner';
import { displayNumber } from '@/core/phone/number';
import { CHANNELS, CHANNEL_WORDS, type Channel } from '@/core/message/channel';
import { labelOf, MERGE_FIELDS } from '@/core/text/fields';
import { fieldSource, parseTemplate } from '@/core/text/template';
import { askServer } from '@/ui/kit/ask';
import { DraftReportView, type DraftReport, type Wanted } from './draft-report';
import { ListTable, type ListColumn } from '@/ui/kit/list-table';
import { count, plural } from '@/ui/kit/numbers';
import { Problem } from '@/ui/kit/problem';
import { usePress } from '@/ui/kit/press';
import { TextEditor, type EditorHandle } from '@/ui/kit/text-editor';
import { dayAndTime } from '@/ui/kit/time';

export interface DraftValues {
  id: string | null;
  program: string;
  /** A condition as JSON text; empty: everybody of the program. */
  audience: string;
  name: string;
  channel: Channel;
  /** Of an e-mail. */
  subject: string;
  body: string;
}

export interface DraftOutcome {
  problems: { field: string; message: string }[];
  id: string | null;
}

/** When it leaves, now where no hour is named; null: it stays a draft. */
type Sending = { at: string | null } | null;

interface Props {
  initial: DraftValues;
  programs: { id: string; name: string }[];
  /** Segments and other cuts that can be meant. */
  audiences: { value: string; label: string }[];
  zone: string;
  save(values: DraftValues, send: Sending, press: string): Promise<DraftOutcome>;
  onDone(id: string, sent: boolean): void;
}

interface Behind {
  people: { personId: string; name: string; address: string | null; until: number | null }[];
  total: number;
}

/** Writing a broadcast: the text at the left, everything it leads to in the margin while it is written. */
export function DraftDesk({ initial, programs, audiences, zone, save, onDone }: Props) {
  const [values, setValues] = useState(initial);
  const [when, setWhen] = useState<'now' | 'later'>('now');
  const [local, setLocal] = useState('');
  const [opened, setOpened] = useState<Wanted | null>(null);
  const [sampleId, setSampleId] = useState<string | null>(null);
  const { submit, pending, problemOf } = useSubmit({
    ...{ values, save, onDone },
    kept: (draftId) => setValues((old) => ({ ...old, id: draftId })),
  });
  const editor = useRef<EditorHandle>(null);
  const id = useId();
  const set = (part: Partial<DraftValues>) => setValues((old) => ({ ...old, ...part }));
  const at = when === 'later' ? local : '';
  const { report, complaint, busy } = useDraftReport(values, at, sampleId);
  const cleared = report ? report.report.cleared + report.report.held : null;
  return (
    <div className="grid gap-x-10 gap-y-8 lg:grid-cols-[minmax(0,1fr)_20rem]">
      <div>
        <WhoFields
          id={id}
          values={values}
          set={set}
          programs={programs}
          audiences={audiences}
          problemOf={problemOf}
        />
        <Writing {...{ id, values, set, editor, problemOf, complaint }} initial={initial.body} />
        <When
          {...{ id, when, setWhen, local, setLocal, zone }}
          channel={values.channel}
          problem={problemOf('at')}
        />
        <Problem>{problemOf('role') ?? problemOf('state')}</Problem>
        <SendButtons {...{ pending, cleared, submit }} at={when === 'later' ? local : null} />
      </div>
      <aside
        aria-label="Margin"
        aria-busy={busy}
        className={`border-rule lg:border-l lg:pl-6 ${busy ? 'opacity-70' : ''}`}
      >
        {report ? (
          <DraftReportView
            data={report}
            zone={zone}
            onOpen={setOpened}
            onSwap={(body) => editor.current?.replace(body)}
          />
        ) : (
          <p className="text-soft">
            {complaint
              ? 'Mend the text, and the report comes back.'
              : values.body.trim() === ''
                ? 'Write the text: here you will see who gets it, who not and why, and what it costs.'
                : 'Working out who gets it …'}
          </p>
        )}
      </aside>
      {opened && (
        <BehindDialog
          wanted={opened}
          values={values}
          at={at}
          zone={zone}
          onClose={() => setOpened(null)}
          onSample={(personId) => (setSampleId(personId), setOpened(null))}
        />
      )}
    </div>
  );
}

/** Keeps or sends, once however often a button is hit. */
function useSubmit({
  values,
  save,
  onDone,
  kept,
}: Pick<Props, 'save' | 'onDone'> & {
  values: DraftValues;
  /** It was kept while more was written: it has an id now. */
  kept(id: string | null): void;
}) {
  const [problems, setProblems] = useState<DraftOutcome['problems']>([]);
  const [pending, start] = useTransition();
  const press = usePress();
  const working = useRef(false);
  const newest = useRef(values);
  useEffect(() => {
    newest.current = values;
  }, [values]);
  const submit = (send: Sending) => {
    if (working.current) return;
    working.current = true;
    start(async () => {
      const outcome = await save(values, send, press.token()).finally(() => (working.current = false));
      press.settle();
      setProblems(outcome.problems);
      if (outcome.problems.length > 0) return;
      if (send === null && newest.current !== values) {
        kept(outcome.id);
        toast('Draft saved. What you wrote since then is still here: save it too.');
        return;
      }
      toast(send ? 'On its way. You can call it back on the next page.' : 'Draft saved.');
      onDone(outcome.id!, send !== null);
    });
  };
  const problemOf = (field: string) => problems.find((problem) => problem.field === field)?.message;
  return { submit, pending, problemOf };
}

/** Its subject, its text, and the fields that are put into it. */
function Writing({
  id,
  initial,
  values,
  set,
  editor,
  problemOf,
  complaint,
}: {
  id: string;
  initial: string;
  values: DraftValues;
  set(part: Partial<DraftValues>): void;
  editor: React.RefObject<EditorHandle | null>;
  problemOf(field: string): string | undefined;
  complaint: string | null;
}) {
  const letter = values.channel === 'email';
  return (
    <>
      {letter && (
        <div className="mb-4">
          <Labelled id={`${id}s`} label="Subject" problem={problemOf('subject')}>
            <input
              id={`${id}s`}
              className="input"
              value={values.subject}
              maxLength={300}
              onChange={(event) => set({ subject: event.target.value })}
            />
          </Labelled>
        </div>
      )}
      <div id={`${id}b`} className="mb-1 text-sm text-soft">
        {letter ? 'Letter' : 'Text'}
      </div>
      <TextEditor ref={editor} initial={initial} labelledBy={`${id}b`} onChange={(body) => set({ body })} />
      <Problem>{problemOf('body') ?? complaint}</Problem>
      <div className="mt-2 flex flex-wrap items-center gap-2">
        <span className="text-sm text-soft">Put in</span>
        {MERGE_FIELDS.map(({ name, label, fallback }) => (
          <button
            key={name}
            type="button"
            className="button px-2 py-0.5 text-sm"
            onClick={() => editor.current?.insertField(name, fallback)}
          >
            {label}
          </button>
        ))}
      </div>
      <Fallbacks body={values.body} onChange={(body) => editor.current?.replace(body)} />
    </>
  );
}

function SendButtons({
  pending,
  cleared,
  at,
  submit,
}: {
  pending: boolean;
  /** How many get it; null while that is worked out. */
  cleared: number | null;
  /** The hour it is scheduled for, empty while none is chosen; null: now. */
  at: string | null;
  submit(send: Sending): void;
}) {
  return (
    <div className="mt-6 flex flex-wrap gap-3">
      <button
        type="button"
        className="button button-main"
        disabled={pending || cleared === 0 || at === ''}
        onClick={() => submit({ at })}
      >
        {at === null ? 'Send' : 'Schedule'}
        {cleared === null ? '' : ` to ${plural(cleared, 'person', 'people')}`}
      </button>
      <button type="button" className="button" disabled={pending} onClick={() => submit(null)}>
        Keep as a draft
      </button>
      {pending && (
        <span role="status" className="self-center text-soft">
          Working …
        </span>
      )}
    </div>
  );
}

const HELD: Record<Channel, string> = {
  sms: 'whoever’s hours are closed gets it when they open',
  email: 'no law gives hours to letters, a program’s own still count',
};

/** When it leaves: after the grace, or at an hour of the workspace. */
function When({
  id,
  when,
  setWhen,
  local,
  setLocal,
  zone,
  channel,
  problem,
}: {
  id: string;
  channel: Channel;
  when: 'now' | 'later';
  setWhen(when: 'now' | 'later'): void;
  local: string;
  setLocal(local: string): void;
  zone: string;
  problem: string | undefined;
}) {
  return (
    <fieldset className="mt-6 border-t border-rule pt-3">
      <legend className="pr-3 font-head text-lg">When</legend>
      <div className="flex flex-wrap items-center gap-x-6 gap-y-2">
        <label className="flex items-center gap-2">
          <input type="radio" name={`${id}w`} checked={when === 'now'} onChange={() => setWhen('now')} /> now,
          after ten seconds of grace
        </label>
        <label className="flex items-center gap-2">
          <input type="radio" name={`${id}w`} checked={when === 'later'} onChange={() => setWhen('later')} />{' '}
          at
        </label>
        <input
          type="datetime-local"
          aria-label="Day and time"
          className="input w-auto!"
          value={local}
          onChange={(event) => (setLocal(event.target.value), setWhen('later'))}
        />
        <span className="text-sm text-soft">
          {zone.replace('_', ' ')}; {HELD[channel]}
        </span>
      </div>
      <Problem>{problem}</Problem>
    </fieldset>
  );
}

function Labelled({
  id,
  label,
  problem,
  children,
}: {
  id: string;
  label: string;
  problem: string | undefined;
  children: React.ReactNode;
}) {
  return (
    <div>
      <label htmlFor={id} className="mb-1 block text-sm text-soft">
        {label}
      </label>
      {children}
      <Problem>{problem}</Problem>
    </div>
  );
}

/** Asks the engines a moment after the last keystroke; an older answer never overwrites a newer one. */
function useDraftReport(values: DraftValues, at: string, personId: string | null) {
  const [report, setReport] = useState<DraftReport | null>(null);
  const [complaint, setComplaint] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const { program, channel, subject, body, audience } = values;
  useEffect(() => {
    const abort = new AbortController();
    const ask = async () => {
      if (program === '' || body.trim() === '') return setReport(null);
      setBusy(true);
      try {
        setReport(
          await askServer<DraftReport>(
            '/internal/draft',
            { program, channel, subject, body, audience, at, person: personId },
            abort.signal,
          ),
        );
        setComplaint(null);
      } catch (error) {
        if (abort.signal.aborted) return;
        setReport(null);
        setComplaint((error as Error).message);
      }
      setBusy(false);
    };
    const timer = setTimeout(() => void ask(), 250);
    return () => {
      clearTimeout(timer);
      abort.abort();
    };
  }, [program, channel, subject, body, audience, at, personId]);
  return { report, complaint, busy };
}

/** What to say where a field is empty, for every field in the text. */
function Fallbacks({ body, onChange }: { body: string; onChange(body: string): void }) {
  const template = useMemo(() => parseTemplate(body), [body]);
  const change = useCallback(
    (name: string, fallback: string) => {
      const pattern = new RegExp(
        `\\{\\$${name.replaceAll('.', '\\.')}(?: :wren:field(?: fallback=(?:\\|(?:[^|\\\\]|\\\\.)*\\||[^\\s}]+))?)?\\}`,
        'g',
      );
      onChange(body.replace(pattern, () => fieldSource(name, fallback === '' ? null : fallback)));
    },
    [body, onChange],
  );
  if (!template.ok || template.value.fields.length === 0) return null;
  return (
    <ul className="mt-3">
      {template.value.fields.map(({ name, fallback }) => (
        <li key={name} className="flex flex-wrap items-center gap-2 py-0.5 text-sm">
          <label className="flex items-center gap-2">
            <span className="text-soft">If {labelOf(name)} is empty, say</span>
            <input
              className="input w-44! py-0.5!"
              value={fallback ?? ''}
              onChange={(event) => change(name, event.target.value)}
            />
          </label>
          {fallback === null && <span className="text-soft">(it goes to nobody without it)</span>}
        </li>
      ))}
    </ul>
  );
}

/** The program, the part of it that is meant, and the name. */
function WhoFields({
  id,
  values,
  set,
  programs,
  audiences,
  problemOf,
}: Pick<Props, 'programs' | 'audiences'> & {
  id: string;
  values: DraftValues;
  set(part: Partial<DraftValues>): void;
  problemOf(field: string): string | undefined;
}) {
  return (
    <div className="mb-4 grid gap-4 sm:grid-cols-4">
      <Labelled id={`${id}c`} label="By" problem={problemOf('channel')}>
        <select
          id={`${id}c`}
          className="input"
          value={values.channel}
          onChange={(event) => set({ channel: event.target.value as Channel })}
        >
          {CHANNELS.map((channel) => (
            <option key={channel} value={channel}>
              {CHANNEL_WORDS[channel].message}
            </option>
          ))}
        </select>
      </Labelled>
      <Labelled id={`${id}p`} label="To members of" problem={problemOf('program')}>
        <select
          id={`${id}p`}
          className="input"
          value={values.program}
          onChange={(event) => set({ program: event.target.value })}
        >
          {programs.map((program) => (
            <option key={program.id} value={program.id}>
              {program.name}
            </option>
          ))}
        </select>
      </Labelled>
      <Labelled id={`${id}a`} label="Of them" problem={problemOf('condition')}>
        <select
          id={`${id}a`}
          className="input"
          value={values.audience}
          onChange={(event) => set({ audience: event.target.value })}
        >
          <option value="">everybody</option>
          {audiences.map(({ value, label }) => (
            <option key={value} value={value}>
              {label}
            </option>
          ))}
        </select>
      </Labelled>
      <Labelled id={`${id}n`} label="Name, for you" problem={problemOf('name')}>
        <input
          id={`${id}n`}
          className="input"
          value={values.name}
          onChange={(event) => set({ name: event.target.value })}
          placeholder="Saturn week"
        />
      </Labelled>
    </div>
  );
}

interface BehindProps {
  wanted: Wanted;
  values: DraftValues;
  at: string;
  zone: string;
  onClose(): void;
  onSample(personId: string): void;
}

const behindColumns = (
  zone: string,
  onSample: (personId: string) => void,
): ListColumn<Behind['people'][number]>[] => [
  {
    title: 'Person',
    cell: ({ personId, name, address }) => (
      <Link className="link" href={`/people/${personId}`}>
        {name === address ? displayNumber(address) : name}
      </Link>
    ),
  },
  { title: 'Address', cell: ({ address }) => displayNumber(address) },
  {
    title: 'Until',
    kind: 'when',
    cell: ({ until }) => (until === null ? null : dayAndTime(until, zone)),
  },
  {
    title: 'Show',
    quiet: true,
    cell: ({ personId }) => (
      <button type="button" className="link" onClick={() => onSample(personId)}>
        read their copy
      </button>
    ),
  },
];

/** The people behind a line of the report. */
function BehindDialog({ wanted, values, at, zone, onClose, onSample }: BehindProps) {
  const [behind, setBehind] = useState<Behind | null>(null);
  const { program, channel, subject, body, audience } = values;
  const { verdict, code } = wanted;
  useEffect(() => {
    const question = { program, channel, subject, body, audience, at, verdict, code };
    void askServer<Behind>('/internal/behind', question).then(setBehind, (error: Error) =>
      toast(error.message),
    );
  }, [program, channel, subject, body, audience, at, verdict, code]);
  return (
    <Dialog open onClose={onClose} className="relative z-30">
      <div className="fixed inset-0 bg-scrim" aria-hidden="true" />
      <div className="fixed inset-0 flex justify-center p-4 pt-[8vh]">
        <DialogPanel className="flex max-h-[80vh] w-full max-w-2xl flex-col border border-ink bg-paper p-5">
          <DialogTitle className="mb-3">
            {wanted.label}
            {behind && `: ${plural(behind.total, 'person', 'people')}`}
          </DialogTitle>
          <div className="min-h-0 overflow-y-auto" tabIndex={0} role="group" aria-label="People">
            {!behind && <p className="text-soft">Looking …</p>}
            {behind && (
              <ListTable
                label="People"
                rows={behind.people}
                rowKey={({ personId }) => personId}
                columns={behindColumns(zone, onSample)}
                empty="Nobody is left in this line: it changed while you looked."
              />
            )}
            {behind && behind.total > behind.people.length && (
              <p className="mt-2 text-soft">
                The first {count(behind.people.length)} of {count(behind.total)}.
              </p>
            )}
          </div>
          <div className="mt-4">
            <button className="button" onClick={onClose}>
              Close
            </button>
          </div>
        </DialogPanel>
      </div>
    </Dialog>
  );
}
