'use client';
import { useCallback, useEffect, useId, useMemo, useRef, useState, useTransition } from 'react';
import { toast } from 'sonner';
import { askInSteps, askServer } from '@/ui/kit/ask';
import { DraftReportView, type DraftReport, type Wanted } from './draft-report';
import type { Examples } from '@/core/broadcast/examples';
import { mended } from '@/core/wording/check';
import type { Finding } from '@/core/wording/finding';
import { hasMusts } from '@/ui/kit/findings';
import { plural } from '@/ui/kit/numbers';
import { Problem } from '@/ui/kit/problem';
import { usePress } from '@/ui/kit/press';
import { type EditorHandle } from '@/ui/kit/text-editor';
import { dayAndTime } from '@/ui/kit/time';
import { useUnfinished, type Keeping } from '@/ui/kit/use-unfinished';
import {
  draftQuestion,
  type DraftProps,
  type DraftValues,
  type DraftOutcome,
  type Sending,
  type When,
} from './draft-values';
import { MOST_FILES, type KeptFile } from '@/core/media/kinds';
import { FilesField } from '@/ui/media/files-field';
import { DraftSample, type Found } from './draft-sample';
import { DraftSoFar, type DraftStep } from './draft-so-far';
import { DraftTry } from './draft-try';
import { BehindDialog } from './draft-behind';
import { WhoFields, Writing } from './draft-fields';
import { AudienceFields } from './draft-audience';
import { ComparisonFields, WordingTabs } from './draft-wordings';
import { COMPANION_OF } from '@/core/broadcast/companion';
import { INSTEAD_OF } from '@/core/broadcast/instead';
import { TemplateChoice } from '@/ui/chat/template-choice';
import { RecordingChoice } from '@/ui/voicemail/recording-choice';
import { CompanionFields } from './draft-companion';
import { InsteadFields } from './draft-instead';
import { WhenFields } from './draft-when';

const NO_FINDINGS: readonly Finding[] = [];
const pick = ({ subject, body }: { subject: string; body: string }) => ({ subject, body });

const NONE_OPEN: readonly number[] = [];
const NO_FILES: KeptFile[] = [];

const withPart = (
  others: DraftValues['others'],
  at: number,
  part: Partial<DraftValues['others'][number]>,
): DraftValues['others'] => others.map((other, i) => (i === at ? { ...other, ...part } : other));

const NO_SENDERS: DraftReport['senders'] = [];

/** What is kept of a draft as one goes. */
interface Kept extends DraftValues {
  when: When;
}

/** Writing a broadcast, from where it was left: what is typed is kept on the server until it is sent, saved or given up. */
export function DraftDesk(props: DraftProps) {
  const { initial, before = NOW, place, zone } = props;
  const { found, keep, drop, keeping } = useUnfinished<Kept>(place);
  const [anew, setAnew] = useState(false);
  if (found === undefined) return <p className="text-soft">Opening …</p>;
  const goesOn = found !== null && !anew;
  // An id is the page's own; fields that came with a newer version begin as they usually do.
  const { when = before, ...values } = goesOn ? found.content : {};
  return (
    <>
      {goesOn && (
        <p className="mb-4 border-l-2 border-accent pl-3" role="status">
          You left this unfinished on {dayAndTime(found.at, zone)}.{' '}
          <button type="button" className="link" onClick={() => (drop(), setAnew(true))}>
            {initial.id === null ? 'Begin anew' : 'Go back to what is saved'}
          </button>
        </p>
      )}
      <Desk
        key={goesOn ? 'goes on' : 'anew'}
        {...props}
        initial={{ ...initial, ...values, id: initial.id ?? values.id ?? null }}
        before={when}
        {...{ keep, keeping }}
        onDone={(id, sent) => (drop(), props.onDone(id, sent))}
      />
    </>
  );
}

const NOW: When = { kind: 'now', local: '' };

/** What goes by another channel beside it: to who cannot be reached, and before or after it. */
function OtherWays({
  id,
  fields,
  problemOf,
  values: { channel, program, instead, companion },
  set,
}: {
  id: string;
  fields: DraftProps['fields'];
  problemOf(field: string): string | undefined;
  values: DraftValues;
  set(part: Partial<DraftValues>): void;
}) {
  const given = { id, fields, problemOf, program, channel };
  return (
    <>
      {INSTEAD_OF[channel].length > 0 && (
        <InsteadFields
          key={channel}
          {...{ ...given, instead }}
          set={(written) => set({ instead: written })}
        />
      )}
      {COMPANION_OF[channel].length > 0 && (
        <CompanionFields {...{ ...given, companion }} set={(written) => set({ companion: written })} />
      )}
    </>
  );
}

/** The text at the left, everything it leads to in the margin while it is written. */
function Desk({
  initial,
  before,
  keep,
  keeping,
  programs,
  audience,
  fields,
  own,
  tryActs,
  kept,
  chats,
  recordings,
  zone,
  save,
  onDone,
}: DraftProps & { before: When; keep(content: Kept): void; keeping: Keeping }) {
  // What it was opened with; the page is read again at each change of others.
  const [opened] = useState({ values: initial, when: before });
  const [values, setValues] = useState(opened.values);
  const [when, setWhen] = useState(opened.when);
  useEffect(() => {
    if (values !== opened.values || when !== opened.when) keep({ ...values, when });
  }, [values, when, keep, opened]);
  const [behind, setBehind] = useState<Wanted | null>(null);
  const [sampleId, setSampleId] = useState<string | null>(null);
  const { submit, pending, problemOf } = useSubmit({
    ...{ values, save, onDone },
    kept: (draftId) => setValues((old) => ({ ...old, id: draftId })),
  });
  const editor = useRef<EditorHandle>(null);
  const id = useId();
  const set = (part: Partial<DraftValues>) => setValues((old) => ({ ...old, ...part }));
  const [shown, setShown] = useState(0);
  const current = shown === 0 ? values : values.others[shown - 1]!;
  const question = useQuestion(values, when, shown);
  const { report, soFar, complaint, busy } = useDraftReport(question, sampleId);
  const find = useFind(question);
  // Of a large audience the figures of what was asked before stand for a while: no button says them.
  const cleared = report && !soFar ? report.report.cleared + report.report.held : null;
  return (
    <div className="grid gap-x-10 gap-y-8 lg:grid-cols-[minmax(0,1fr)_20rem]">
      <div>
        <WhoFields id={id} values={values} set={set} programs={programs} problemOf={problemOf} />
        <AudienceFields
          choices={audience}
          {...{ audience: values.audience, program: values.program, channel: values.channel }}
          set={(chosen) => set({ audience: chosen })}
          problem={problemOf('condition') ?? problemOf('audience')}
        />
        {saysChosen(values.channel) ? (
          <ChosenWords {...{ id, values, set, chats, recordings, problemOf, complaint }} />
        ) : (
          <>
            <WordingTabs
              wordings={values.others.length + 1}
              shown={shown}
              open={report?.open ?? NONE_OPEN}
              show={setShown}
              add={() => (
                set({ others: [...values.others, pick(current)] }),
                setShown(values.others.length + 1)
              )}
              takeOut={() => (
                set({ others: values.others.filter((_, i) => i !== shown - 1) }),
                setShown(shown - 1)
              )}
            />
            <FilesField
              files={values.channel === 'sms' ? values.files : NO_FILES}
              change={(files) => set({ files })}
              kept={kept}
              off={values.channel !== 'sms'}
              problem={problemOf('media')}
            >
              <Writing
                key={`${shown} of ${values.others.length}`}
                {...{ id, editor, fields }}
                letter={values.channel === 'email'}
                subject={current.subject}
                body={current.body}
                set={(part) => set(shown === 0 ? part : { others: withPart(values.others, shown - 1, part) })}
                onTemplate={(template) =>
                  setValues((old) => ({
                    ...old,
                    template: template.id,
                    ...(old.subject === '' && template.subject ? { subject: template.subject } : {}),
                  }))
                }
                onItem={({ file }) => {
                  const has = values.files.some(({ id: known }) => known === file?.id);
                  if (file && !has && values.files.length < MOST_FILES)
                    set({ files: [...values.files, file] });
                }}
                subjectProblem={problemOf(shown === 0 ? 'subject' : `comparison.others.${shown - 1}.subject`)}
                problem={problemOf(shown === 0 ? 'body' : `comparison.others.${shown - 1}.body`) ?? complaint}
                findings={report?.findings ?? NO_FINDINGS}
              />
            </FilesField>
          </>
        )}
        <OtherWays {...{ id, fields, problemOf, values, set }} />
        {values.others.length > 0 && !saysChosen(values.channel) && (
          <ComparisonFields
            comparison={values.comparison}
            set={(part) => set({ comparison: { ...values.comparison, ...part } })}
            problem={problemOf('comparison') ?? problemOf('comparison.first')}
          />
        )}
        <WhenFields
          {...{ id, when, setWhen, zone, problemOf }}
          channel={values.channel}
          timing={values.timing}
          setTiming={(part) => set({ timing: { ...values.timing, ...part } })}
          repeat={values.repeat}
          setRepeat={(repeat) => set({ repeat })}
          senders={report?.senders ?? NO_SENDERS}
        />
        <Problem>{problemOf('role') ?? problemOf('state')}</Problem>
        <SendButtons
          {...{ pending, cleared, submit, when, keeping }}
          open={
            hasMusts(report?.findings ?? NO_FINDINGS) ||
            (report?.open.length ?? 0) > 0 ||
            recordingMusts(values, recordings) > 0
          }
        />
      </div>
      <aside aria-label="Margin" aria-busy={busy} className="border-rule lg:border-l lg:pl-6">
        {soFar && <DraftSoFar step={soFar} again={report !== null} />}
        {report ? (
          <DraftReportView
            data={soFar?.sample ? { ...report, sample: soFar.sample } : report}
            files={values.files}
            zone={zone}
            inWaves={values.timing.pace.kind === 'phones'}
            byHand={values.timing.pace.kind === 'hands'}
            onOpen={setBehind}
            onSwap={(body) => editor.current?.replace(body)}
            onSample={setSampleId}
            find={find}
            afterSample={
              values.channel === 'sms' && (
                <DraftTry
                  values={{ ...values, ...pick(current) }}
                  person={report.sample}
                  own={own}
                  acts={tryActs}
                />
              )
            }
            links={values.links}
            onLinks={(links) => set({ links })}
            onShow={(place) => editor.current?.show(place)}
            onMend={(mending) => editor.current?.replace(mended(current.body, mending))}
          />
        ) : (
          <Waiting
            {...{ soFar, find }}
            files={values.files}
            words={waitingWords(values, current.body, complaint)}
            onSample={setSampleId}
          />
        )}
      </aside>
      {behind && (
        <BehindDialog
          wanted={behind}
          question={question}
          zone={zone}
          onClose={() => setBehind(null)}
          onSample={(personId) => (setSampleId(personId), setBehind(null))}
        />
      )}
    </div>
  );
}

/** What stands where the report will: how it reads for one person, as soon as that is known. */
function Waiting({
  soFar,
  words,
  ...rest
}: { soFar: DraftStep | null; words: string } & Omit<Parameters<typeof DraftSample>[0], 'data'>) {
  return soFar?.sample ? (
    <DraftSample data={{ sample: soFar.sample, examples: NO_EXAMPLES }} {...rest} />
  ) : (
    !soFar && <p className="text-soft">{words}</p>
  );
}

const NO_EXAMPLES: Examples = {
  ...{ first: null, next: null, any: null, longest: null, dearest: null, emptiest: null },
};

/** What goes is chosen, and not written here. */
const saysChosen = (channel: DraftValues['channel']): boolean =>
  channel === 'chat' || channel === 'voicemail';

/** The template of a chat, or the recording of a voicemail. */
function ChosenWords({
  id,
  values,
  set,
  chats,
  recordings,
  problemOf,
  complaint,
}: Pick<DraftProps, 'chats' | 'recordings'> & {
  id: string;
  values: DraftValues;
  set(part: Partial<DraftValues>): void;
  problemOf(field: string): string | undefined;
  complaint: string | null;
}) {
  const trouble = problemOf('body') ?? complaint;
  return values.channel === 'chat' ? (
    <TemplateChoice
      {...{ id, templates: chats, chosen: values.chatTemplate }}
      choose={(chosen) => set(byTemplate(chats, chosen))}
      problem={problemOf('chat_template') ?? trouble}
    />
  ) : (
    <RecordingChoice
      {...{ id, recordings, chosen: values.recording }}
      choose={(recording) =>
        set({ recording, body: recordings.find((one) => one.id === recording)?.words ?? values.body })
      }
      problem={problemOf('recording') ?? trouble}
    />
  );
}

/** What must be mended in the recording that is chosen. */
const recordingMusts = ({ channel, recording }: DraftValues, recordings: DraftProps['recordings']): number =>
  channel === 'voicemail' ? (recordings.find(({ id }) => id === recording)?.musts ?? 0) : 0;

/** What a draft says is what its template says. */
const byTemplate = (chats: DraftProps['chats'], chosen: string): Partial<DraftValues> => ({
  ...{ chatTemplate: chosen, body: chats.find(({ id }) => id === chosen)?.body ?? '' },
});

/** What stands where the report will. */
function waitingWords(
  { channel, chatTemplate }: DraftValues,
  body: string,
  complaint: string | null,
): string {
  if (complaint) return 'Mend the text, and the report comes back.';
  const unwritten = channel === 'chat' ? chatTemplate === '' : body.trim() === '';
  if (!unwritten) return 'Working out who gets it …';
  return `${channel === 'chat' ? 'Choose the template' : channel === 'voicemail' ? 'Choose the voice message' : 'Write the text'}: here you will see who gets it, who not and why, and what it costs.`;
}

/** What the engines are asked about it; the same as long as nothing changed that they look at. */
function useQuestion(values: DraftValues, when: When, shown: number): Record<string, string | null> {
  const words = JSON.stringify(draftQuestion(values, when, shown));
  return useMemo(() => JSON.parse(words) as Record<string, string | null>, [words]);
}

/** Looks for people of the audience by what they are called. */
function useFind(question: Record<string, string | null>) {
  return useCallback(
    async (called: string): Promise<Found[]> => {
      const asked = { ...question, verdict: null, code: null, called };
      return (await askServer<{ people: Found[] }>('/internal/behind', asked)).people;
    },
    [question],
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
  when,
  open,
  keeping,
  submit,
}: {
  pending: boolean;
  keeping: Keeping;
  /** Something must be mended first. */
  open: boolean;
  /** How many get it; null while that is worked out. */
  cleared: number | null;
  when: When;
  submit(send: Sending): void;
}) {
  const now = when.kind === 'now';
  return (
    <div className="mt-6 flex flex-wrap gap-3">
      <button
        type="button"
        className="button button-main"
        disabled={pending || cleared === 0 || (!now && when.local === '') || open}
        onClick={() => submit(when)}
      >
        {now ? 'Send' : 'Schedule'}
        {cleared === null ? '' : ` to ${plural(cleared, 'person', 'people')}`}
      </button>
      <button type="button" className="button" disabled={pending} onClick={() => submit(null)}>
        Keep as a draft
      </button>
      <span role="status" className="self-center text-soft">
        {pending ? 'Working …' : open ? 'Mend what must be mended, and it can go.' : ''}
        {keeping === 'lost' && (
          <span className="text-bad"> What you write is not kept: no connection. It is tried again.</span>
        )}
      </span>
    </div>
  );
}

/** Asks the engines a moment after the last keystroke; an older answer never overwrites a newer one. */
function useDraftReport(question: Record<string, string | null>, personId: string | null) {
  const [report, setReport] = useState<DraftReport | null>(null);
  const [complaint, setComplaint] = useState<string | null>(null);
  const [soFar, setSoFar] = useState<DraftStep | null>(null);
  const [busy, setBusy] = useState(false);
  useEffect(() => {
    const abort = new AbortController();
    const ask = async () => {
      const unwritten = question.channel === 'chat' ? !question.template : question.body?.trim() === '';
      if (question.program === '' || unwritten) {
        setReport(null);
        setSoFar(null);
        setBusy(false);
        return;
      }
      setBusy(true);
      try {
        const asked = { ...question, person: personId };
        setReport(await askInSteps<DraftReport, DraftStep>('/internal/draft', asked, abort.signal, setSoFar));
        setComplaint(null);
      } catch (error) {
        if (abort.signal.aborted) return;
        setReport(null);
        setComplaint((error as Error).message);
      }
      setSoFar(null);
      setBusy(false);
    };
    const timer = setTimeout(() => void ask(), 250);
    return () => {
      clearTimeout(timer);
      abort.abort();
    };
  }, [question, personId]);
  return { report, soFar, complaint, busy };
}
