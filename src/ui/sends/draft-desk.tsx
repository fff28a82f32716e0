'use client';
import { useCallback, useEffect, useId, useRef, useState, useTransition } from 'react';
import { toast } from 'sonner';
import { type Channel } from '@/core/message/channel';
import { askServer } from '@/ui/kit/ask';
import { DraftReportView, type DraftReport, type Wanted } from './draft-report';
import { mended } from '@/core/wording/check';
import type { Finding } from '@/core/wording/finding';
import { hasMusts } from '@/ui/kit/findings';
import { plural } from '@/ui/kit/numbers';
import { Problem } from '@/ui/kit/problem';
import { usePress } from '@/ui/kit/press';
import { type EditorHandle } from '@/ui/kit/text-editor';
import { type DraftProps, type DraftValues, type DraftOutcome, type Sending } from './draft-values';
import { type Found } from './draft-sample';
import { DraftTry } from './draft-try';
import { BehindDialog } from './draft-behind';
import { WhoFields, Writing } from './draft-fields';

const NO_FINDINGS: readonly Finding[] = [];

/** Writing a broadcast: the text at the left, everything it leads to in the margin while it is written. */
export function DraftDesk({
  initial,
  programs,
  audiences,
  fields,
  own,
  tryActs,
  zone,
  save,
  onDone,
}: DraftProps) {
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
  const find = useFind(values, at);
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
        <Writing
          {...{ id, values, set, editor, problemOf, complaint }}
          initial={initial.body}
          findings={report?.findings ?? NO_FINDINGS}
          fields={fields}
        />
        <When
          {...{ id, when, setWhen, local, setLocal, zone }}
          channel={values.channel}
          problem={problemOf('at')}
        />
        <Problem>{problemOf('role') ?? problemOf('state')}</Problem>
        <SendButtons
          {...{ pending, cleared, submit }}
          at={when === 'later' ? local : null}
          open={hasMusts(report?.findings ?? NO_FINDINGS)}
        />
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
            onSample={setSampleId}
            find={find}
            afterSample={
              values.channel === 'sms' && (
                <DraftTry values={values} person={report.sample} own={own} acts={tryActs} />
              )
            }
            links={values.links}
            onLinks={(links) => set({ links })}
            onShow={(place) => editor.current?.show(place)}
            onMend={(mending) => editor.current?.replace(mended(values.body, mending))}
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

/** Looks for people of the audience by what they are called. */
function useFind({ program, channel, subject, body, audience }: DraftValues, at: string) {
  return useCallback(
    async (called: string): Promise<Found[]> => {
      const question = { program, channel, subject, body, audience, at, verdict: null, code: null, called };
      return (await askServer<{ people: Found[] }>('/internal/behind', question)).people;
    },
    [program, channel, subject, body, audience, at],
  );
}

/** Keeps or sends, once however often a button is hit. */
function useSubmit({
  values,
  save,
  onDone,
  kept,
}: Pick<DraftProps, 'save' | 'onDone'> & {
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

function SendButtons({
  pending,
  cleared,
  at,
  open,
  submit,
}: {
  pending: boolean;
  /** Something must be mended first. */
  open: boolean;
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
        disabled={pending || cleared === 0 || at === '' || open}
        onClick={() => submit({ at })}
      >
        {at === null ? 'Send' : 'Schedule'}
        {cleared === null ? '' : ` to ${plural(cleared, 'person', 'people')}`}
      </button>
      <button type="button" className="button" disabled={pending} onClick={() => submit(null)}>
        Keep as a draft
      </button>
      <span role="status" className="self-center text-soft">
        {pending ? 'Working …' : open ? 'Mend what must be mended, and it can go.' : ''}
      </span>
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

/** Words, as a question carries them. */
const linkQuestion = ({ links }: DraftValues) => ({
  ...{ short: links.short ? 'yes' : 'no', plain: links.plain.join('\n'), utm: links.utm ? 'yes' : 'no' },
});

/** Asks the engines a moment after the last keystroke; an older answer never overwrites a newer one. */
function useDraftReport(values: DraftValues, at: string, personId: string | null) {
  const [report, setReport] = useState<DraftReport | null>(null);
  const [complaint, setComplaint] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const { id, program, channel, subject, body, audience } = values;
  const { short, plain, utm } = linkQuestion(values);
  useEffect(() => {
    const abort = new AbortController();
    const ask = async () => {
      if (program === '' || body.trim() === '') return setReport(null);
      setBusy(true);
      try {
        setReport(
          await askServer<DraftReport>(
            '/internal/draft',
            { ...{ id, program, channel, subject, body, audience, at }, person: personId, short, plain, utm },
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
  }, [id, program, channel, subject, body, audience, at, personId, short, plain, utm]);
  return { report, complaint, busy };
}
