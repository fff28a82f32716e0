'use client';
import { sentenceOf } from '@/core/shared/sentence';
import { useCallback, useEffect, useMemo, useState, useTransition } from 'react';
import { useRouter } from 'next/navigation';
import { toast } from 'sonner';
import {
  addLine,
  changeColumn,
  changeLine,
  freshId,
  moveLine,
  putBefore,
  removeLine,
  same,
} from '@/core/sequence/edit';
import { dayOf } from '@/core/audience/days';
import { everyLine, type Line } from '@/core/sequence/document';
import { daysOf } from '@/core/sequence/words';
import { askServer } from '@/ui/kit/ask';
import { count, plural } from '@/ui/kit/numbers';
import { Section } from '@/ui/kit/page';
import { usePress } from '@/ui/kit/press';
import { Problem } from '@/ui/kit/problem';
import { BeginForm } from './begin-form';
import { RehearsalPanel } from './rehearsal-panel';
import { Results } from './results';
import { Timetable } from './timetable';
import { TrialPanel } from './trial-panel';
import type { Tally } from '@/core/sequence/tally';
import type { DeskProps } from './types';
import { useDocument, useSaving } from './use-document';
import { Forecast } from './forecast';

/** A sequence as a timetable, with what it means in the margin: what is wrong, what changes, what one person gets. */
export function SequenceDesk(props: DeskProps) {
  const { sequence, mayEdit, zone, now } = props;
  const { document, change, undo, redo, canUndo, canRedo } = useDocument(sequence.document);
  const saving = useSaving(
    sequence.id,
    document,
    { stamp: sequence.stamp, warnings: props.warnings },
    props.acts.save,
  );
  const [selected, select] = useState<string | null>(null);
  const names = useMemo(() => new Map(Object.entries(props.names)), [props.names]);
  const days = useMemo(() => daysOf(document), [document]);
  const lines = useMemo(
    () => new Map((props.result?.lines ?? []).map((one) => [one.line, one])),
    [props.result],
  );
  const add = useCallback(
    (place: Parameters<typeof addLine>[2]) => {
      const id = freshId(document);
      const line: Line = {
        ...{ id, when: { at: 'after', minutes: 1_440, from: 'before' }, late: 'go' },
        what: { do: 'text', body: 'Write what it says.' },
      };
      change((one) =>
        addLine(one, document.lines.length === 0 ? { ...line, when: { at: 'once' } } : line, place),
      );
      select(id);
    },
    [document, change],
  );
  useKeys({
    mayEdit,
    selected,
    undo,
    redo,
    add,
    select,
    move: (id, by) => change((one) => moveLine(one, id, by)),
    ids: [...everyLine(document.lines)].map(({ id }) => id),
  });
  return (
    <div className="grid gap-x-10 gap-y-8 lg:grid-cols-[minmax(0,1fr)_21rem]">
      <div className="min-w-0">
        <Bar undo={undo} redo={redo} canUndo={canUndo} canRedo={canRedo} saving={saving} mayEdit={mayEdit} />
        <BeginForm
          document={document}
          names={names}
          begunBy={props.begunBy}
          choices={props.choices}
          askable={props.askable}
          mayEdit={mayEdit}
          today={dayOf(now, zone)}
          change={change}
        />
        <Timetable
          {...{ document, names, days, lines, selected, select, mayEdit, add }}
          choices={props.choices}
          askable={props.askable}
          warnings={saving.warnings}
          sequenceId={sequence.id}
          change={(id, next) => change((one) => changeLine(one, id, next))}
          changeColumn={(id, next) => change((one) => changeColumn(one, id, next))}
          move={(id, by) => change((one) => moveLine(one, id, by))}
          drop={(id, before) => change((one) => putBefore(one, id, before))}
          remove={(id) => {
            change((one) => removeLine(one, id));
            select(null);
          }}
        />
        <div className="mt-10">
          {props.result && sequence.version !== null && (
            <Results result={props.result} document={document} days={days} />
          )}
          {props.forecast && <Forecast forecast={props.forecast} now={now} zone={zone} />}
        </div>
      </div>
      <aside aria-label="Margin" className="min-w-0 border-rule lg:border-l lg:pl-6">
        <Standing {...props} document={document} saving={saving} />
        <RehearsalPanel document={document} zone={zone} />
        {mayEdit && (
          <TrialPanel
            sequenceId={sequence.id}
            programId={document.program}
            own={props.own}
            trial={props.trial}
            acts={props.trialActs}
            zone={zone}
            ready={saving.settled && !saving.warnings.some(({ weight }) => weight === 'must')}
          />
        )}
      </aside>
    </div>
  );
}

type SavingState = ReturnType<typeof useSaving>;

function Bar({
  undo,
  redo,
  canUndo,
  canRedo,
  saving,
  mayEdit,
}: {
  undo(): void;
  redo(): void;
  canUndo: boolean;
  canRedo: boolean;
  saving: SavingState;
  mayEdit: boolean;
}) {
  if (!mayEdit)
    return (
      <p className="mb-3 text-sm text-soft">Your role reads sequences; an owner or a manager changes them.</p>
    );
  return (
    <div className="mb-3 flex flex-wrap items-center gap-3 text-sm">
      <button type="button" className="link" disabled={!canUndo} onClick={undo}>
        undo <kbd>Ctrl Z</kbd>
      </button>
      <button type="button" className="link" disabled={!canRedo} onClick={redo}>
        redo
      </button>
      <span className="text-soft" role="status">
        {saving.saving === 'saving'
          ? 'saving …'
          : saving.saving === 'saved'
            ? 'saved as a draft'
            : 'not saved'}
      </span>
      <Problem>{saving.problem}</Problem>
    </div>
  );
}

/** Keys: n new line, up and down to go, with Alt to move, Ctrl Z and Ctrl Y. Not while something is typed. */
function useKeys({
  mayEdit,
  selected,
  undo,
  redo,
  add,
  select,
  move,
  ids,
}: {
  mayEdit: boolean;
  selected: string | null;
  undo(): void;
  redo(): void;
  add(place: { after: string } | null): void;
  select(id: string | null): void;
  move(id: string, by: -1 | 1): void;
  ids: readonly string[];
}) {
  useEffect(() => {
    if (!mayEdit) return;
    const hit = (event: KeyboardEvent) => {
      const typing = (event.target as HTMLElement).closest('input, select, textarea, [contenteditable]');
      const step = event.key === 'ArrowUp' ? -1 : event.key === 'ArrowDown' ? 1 : null;
      if (selected && event.altKey && step) move(selected, step);
      else if (typing) return;
      else if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'z')
        (event.shiftKey ? redo : undo)();
      else if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'y') redo();
      else if (event.ctrlKey || event.metaKey || event.altKey) return;
      else if (event.key === 'n') add(selected ? { after: selected } : null);
      else if (step && selected) {
        const next = ids[ids.indexOf(selected) + step];
        if (!next) return;
        select(next);
        document.getElementById(`line-${next}`)?.focus();
      } else return;
      event.preventDefault();
    };
    window.addEventListener('keydown', hit);
    return () => window.removeEventListener('keydown', hit);
  }, [mayEdit, selected, undo, redo, add, select, move, ids]);
}

/** Whether it runs, what is wrong with it, and what publishing does: said before it is done. */
function Standing({
  sequence,
  acts,
  mayEdit,
  document,
  saving,
  result,
}: DeskProps & { document: DeskProps['sequence']['document']; saving: SavingState }) {
  const router = useRouter();
  const press = usePress();
  const [busy, start] = useTransition();
  const [problem, setProblem] = useState<string | null>(null);
  const changed = !same(document, sequence.published);
  const musts = saving.warnings.filter(({ weight }) => weight === 'must');
  const whole = saving.warnings.filter(({ line }) => line === null);
  const act = (verb: Parameters<typeof acts.move>[1]) =>
    start(async () => {
      const outcome = await acts.move(sequence.id, verb, press.token());
      press.settle();
      if (outcome.problems.length > 0)
        setProblem(outcome.problems.map(({ message }) => sentenceOf(message)).join(' '));
      else {
        setProblem(null);
        toast(outcome.done);
        router.refresh();
      }
    });
  const publish = (others: 'stay' | 'move') =>
    start(async () => {
      const outcome = await acts.publish(sequence.id, saving.stamp, others, press.token());
      press.settle();
      if (outcome.problems.length > 0)
        setProblem(outcome.problems.map(({ message }) => sentenceOf(message)).join(' '));
      else {
        setProblem(null);
        toast(
          others === 'move'
            ? 'Published; everybody on the way moved.'
            : 'Published. Whoever comes in from now on gets this.',
        );
        router.refresh();
      }
    });
  return (
    <Section
      title={STATE_WORDS[sequence.state]}
      note={sequence.version === null ? undefined : `version ${sequence.version}`}
    >
      {whole.map(({ message, weight }) => (
        <p key={message} className={`py-1 text-sm ${weight === 'must' ? 'text-bad' : 'text-wait'}`}>
          {weight === 'must' ? '✕ ' : '! '}
          {message}
        </p>
      ))}
      {mayEdit && changed && (
        <Publishing
          id={sequence.id}
          people={result?.counts.open ?? 0}
          musts={musts.length}
          ready={saving.settled && !busy}
          stamp={saving.stamp}
          publish={publish}
        />
      )}
      {!changed && <p className="py-1 text-sm text-soft">What is written is what runs.</p>}
      {mayEdit && sequence.version !== null && (
        <Acts
          state={sequence.state}
          grace={result?.counts.in_grace ?? 0}
          open={result?.counts.open ?? 0}
          versions={sequence.version}
          busy={busy}
          act={act}
        />
      )}
      <Problem>{problem}</Problem>
    </Section>
  );
}

const STATE_WORDS = {
  draft: 'Not published yet',
  running: 'Running',
  paused: 'Paused',
  stopped: 'Ended for all',
};

function Publishing({
  id,
  people,
  musts,
  ready,
  stamp,
  publish,
}: {
  id: string;
  people: number;
  musts: number;
  ready: boolean;
  stamp: number;
  publish(others: 'stay' | 'move'): void;
}) {
  // Whoever writes on is not made to wait for all once more.
  const [allOf, setAllOf] = useState<number | null>(null);
  const all = allOf === stamp;
  const move = useMove(id, people > 0, stamp, all);
  if (musts > 0)
    return (
      <p className="py-1 text-sm text-bad">
        {plural(musts, 'thing')} must be mended before it can be published.
      </p>
    );
  if (people === 0)
    return (
      <button type="button" className="button button-main" disabled={!ready} onClick={() => publish('stay')}>
        Publish: people come in from now on
      </button>
    );
  return (
    <div className="grid gap-2">
      <p className="text-sm text-soft">
        {plural(people, 'person', 'people')} on the way. If they moved to what is written:
      </p>
      {move ? (
        <Difference move={move} counting={all} countAll={() => setAllOf(stamp)} />
      ) : (
        <p className="text-sm text-soft">counting …</p>
      )}
      <button type="button" className="button button-main" disabled={!ready} onClick={() => publish('stay')}>
        Publish for those who come; {count(people)} stay on theirs
      </button>
      <button type="button" className="button" disabled={!ready || !move} onClick={() => publish('move')}>
        Publish, and move {count(people)} to it
      </button>
    </div>
  );
}

function useMove(id: string, wanted: boolean, stamp: number, all: boolean): Tally | null {
  const [move, setMove] = useState<{ stamp: number; tally: Tally } | null>(null);
  useEffect(() => {
    if (!wanted) return;
    const abort = new AbortController();
    askServer<Tally>('/internal/sequence-move', { id, all: all ? 'yes' : 'no' }, abort.signal)
      .then((tally) => setMove({ stamp, tally }))
      .catch(() => undefined);
    return () => abort.abort();
  }, [id, wanted, stamp, all]);
  return move?.stamp === stamp ? move.tally : null;
}

const DIFFERENCES = [
  ['more', 'get more messages'],
  ['fewer', 'get fewer'],
  ['losesNext', 'lose one that would go within a day'],
  ['shifts', 'get some at other times'],
  ['ends', 'are through at once'],
] as const;

/** Counts that open to the people behind them. */
function Difference({ move, counting, countAll }: { move: Tally; counting: boolean; countAll(): void }) {
  const some = move.counted < move.people;
  const about = some ? 'about ' : '';
  return (
    <>
      <ul className="text-sm">
        {DIFFERENCES.filter(([key]) => move[key].people > 0).map(([key, words]) => (
          <li key={key} className="border-b border-rule py-1">
            <details>
              <summary className="cursor-pointer">
                {about}
                <b>{count(move[key].people)}</b> {words}
              </summary>
              {move[key].examples.slice(0, 20).map((person) => (
                <a key={person} className="link mr-2" href={`/people/${person}`}>
                  {person.slice(-6)}
                </a>
              ))}
            </details>
          </li>
        ))}
        <li className="py-1 text-soft">
          {about}
          {count(move.same)} see no difference
        </li>
      </ul>
      {some && (
        <p className="text-sm text-soft" aria-live="polite">
          Worked out for {count(move.counted)} of {count(move.people)}, drawn by lot.{' '}
          {counting ? (
            'Counting all …'
          ) : (
            <button type="button" className="link" onClick={countAll}>
              Count all
            </button>
          )}
        </p>
      )}
    </>
  );
}

function Acts({
  state,
  grace,
  open,
  versions,
  busy,
  act,
}: {
  state: DeskProps['sequence']['state'];
  grace: number;
  open: number;
  versions: number;
  busy: boolean;
  act(verb: 'pause' | 'resume' | 'stop' | 'call-back' | 'take-back'): void;
}) {
  const [asked, setAsked] = useState(false);
  return (
    <div className="mt-3 flex flex-wrap gap-2">
      {grace > 0 && (
        <button type="button" className="button button-main" disabled={busy} onClick={() => act('call-back')}>
          Call back {count(grace)} in their grace
        </button>
      )}
      {state === 'running' && (
        <button type="button" className="button" disabled={busy} onClick={() => act('pause')}>
          Pause for all
        </button>
      )}
      {(state === 'paused' || state === 'stopped') && (
        <button type="button" className="button" disabled={busy} onClick={() => act('resume')}>
          Let it go on
        </button>
      )}
      {(state === 'running' || state === 'paused') &&
        (asked ? (
          <>
            <button type="button" className="button button-main" disabled={busy} onClick={() => act('stop')}>
              Yes, end it for {count(open)}: what has not left is called back
            </button>
            <button type="button" className="button" onClick={() => setAsked(false)}>
              No
            </button>
          </>
        ) : (
          <button type="button" className="button" disabled={busy} onClick={() => setAsked(true)}>
            End it for {count(open)} …
          </button>
        ))}
      {versions > 1 && (
        <button type="button" className="button" disabled={busy} onClick={() => act('take-back')}>
          Back to version {versions - 1}
        </button>
      )}
    </div>
  );
}
