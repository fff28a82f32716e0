import { CHANNEL_WORDS, type Channel } from '@/core/message/channel';
import { KINDS, type MessageKind } from '@/core/message/kinds';
import { FAILURE_WORDS, type FailureReason } from '@/core/delivery/failure';
import { TEXT_STATE_WORDS, type TextState } from '@/core/delivery/lifecycle';
import { displayNumber } from '@/core/phone/number';
import { Link } from '@/ui/kit/link';
import { ShownFiles, type Shown } from '@/ui/media/shown-files';
import type { FormState } from '@/ui/kit/form-state';
import { Mark, type Tone } from '@/ui/kit/mark';
import { PlainForm } from '@/ui/kit/plain-form';
import { plural } from '@/ui/kit/numbers';
import { clockTime, dayAndTime, dayOf } from '@/ui/kit/time';
import { CallWords, callTitle, type ShownCall } from '@/ui/calls/call-words';
import { Why, type Grounds } from './why';

/** One line of a thread: a text in or out. */
export interface Entry {
  id: string;
  direction: 'in' | 'out';
  channel: Channel;
  /** Of an e-mail. */
  subject: string | null;
  at: Date;
  body: string;
  kind: string;
  state: string | null;
  failure: string | null;
  parts: number | null;
  program_id: string | null;
  program: string | null;
  broadcast_id: string | null;
  broadcast: string | null;
  sequence_id: string | null;
  sequence: string | null;
  sent_by: string | null;
  /** Whose stack they had been pressed in, where somebody else answered. */
  in_place_of?: string | null;
  not_before: Date | null;
  clearance: Record<string, unknown> | null;
  meaning: string | null;
  rule: string | null;
  near_keyword: string | null;
  sender: string | null;
  /** Files that went or came with it. */
  files: Shown[];
  /** Of a chat message: when it was read, the account, what could be pressed under it, and that they pressed something. */
  read_at?: Date | null;
  account?: string | null;
  buttons?: { kind: string; words: string }[] | null;
  button?: string | null;
  /** It is a call, and no message. */
  call?: ShownCall;
  /** It is a note of a teammate’s, and no message. */
  note?: ShownNote;
  /** It is something that happened, in words. */
  mark?: string;
}

export interface ShownNote {
  id: string;
  at: Date;
  body: string;
  account: string | null;
  /** Whoever looks wrote it. */
  own: boolean;
}

/** Something that happened to them beside messages: a task, a change of consent. */
export interface ThreadMark {
  id: string;
  at: Date;
  words: string;
}

const TONES: Record<TextState, Tone> = {
  queued: 'wait',
  submitting: 'wait',
  submitted: 'wait',
  'no-receipt': 'plain',
  delivered: 'good',
  failed: 'bad',
  unconfirmed: 'bad',
  blocked: 'bad',
  cancelled: 'plain',
};

const MEANINGS: Record<string, { word: string; tone: Tone }> = {
  'opt-out': { word: 'opted out', tone: 'bad' },
  'opt-in': { word: 'opted in', tone: 'good' },
  help: { word: 'asked for help', tone: 'plain' },
  keyword: { word: 'keyword', tone: 'good' },
  answer: { word: 'answers a question', tone: 'good' },
  unclear: { word: 'unclear: may be an opt-out', tone: 'wait' },
  reply: { word: 'reply', tone: 'plain' },
  automatic: { word: 'automatic answer', tone: 'plain' },
};

/** What a reply was understood as. */
function Understood({ meaning, rule }: { meaning: string; rule: string | null }) {
  const { word, tone } =
    rule === 'pausing'
      ? { word: 'unclear: seems to want a pause', tone: 'wait' as const }
      : MEANINGS[meaning]!;
  return <Mark tone={tone}>{word}</Mark>;
}

const PLACES = { broadcast: '/sends', sequence: '/programs/sequences' };

/** Entries of a thread that stand open; older ones are folded away above them. */
const OPEN_ENTRIES = 5;

/** A broadcast that means somebody, or a line of a sequence they are in. */
export interface Planned {
  from: 'broadcast' | 'sequence';
  id: string;
  name: string;
  at: Date;
  /** What it will say, as far as it is known. */
  words: string | null;
}

type Act = (state: FormState, data: FormData) => Promise<FormState>;

interface LineActs {
  /** Takes one’s own note away. */
  removeNote: Act;
  /** Says anew what a call came to. */
  changeCall: { outcomes: readonly { id: string; name: string }[]; act: Act };
}

interface LogbookProps {
  entries: Entry[];
  /** Calls with them; left out: none. */
  calls?: readonly ShownCall[];
  /** Words of teammates; left out: none. */
  notes?: readonly ShownNote[];
  /** What can be done to its lines; left out: nothing. */
  acts?: LineActs;
  /** Tasks and changes of consent; left out: none. */
  marks?: readonly ThreadMark[];
  coming: Entry[];
  /** What means them as things stand now, and is not queued yet. */
  planned: Planned[];
  /** What says why somebody got something. */
  grounds: Grounds;
  now: number;
  zone: string;
}

/** A thread as a logbook: time in the left gutter, one ruled line per entry, newest last, then "now" and what comes. */
export function Logbook({
  entries,
  calls = [],
  notes = [],
  marks = [],
  acts,
  coming,
  planned,
  grounds,
  now,
  zone,
}: LogbookProps) {
  const oldestFirst = [...entries, ...calls.map(ofCall), ...notes.map(ofNote), ...marks.map(ofMark)].sort(
    (a, b) => a.at.getTime() - b.at.getTime(),
  );
  const open = firstOpen(oldestFirst);
  const older = oldestFirst.slice(0, open);
  return (
    <>
      {older.length > 0 && (
        <details className="border-t border-ink py-1.5">
          <summary className="cursor-pointer text-soft">
            {plural(older.length, 'earlier entry', 'earlier entries')}
          </summary>
          <Lines entries={older} {...{ zone, grounds, acts }} label="Earlier" />
        </details>
      )}
      <Lines entries={oldestFirst.slice(open)} {...{ zone, grounds, acts }} label="Thread">
        <li id="now" className="flex items-center gap-3 py-1.5 text-sm text-accent">
          <span className="w-24 shrink-0">{clockTime(now, zone)}</span>
          <span className="border-b-2 border-accent px-2">now</span>
          {coming.length + planned.length === 0 && (
            <span className="text-soft">nothing is scheduled for them</span>
          )}
        </li>
        {coming.map((entry) => (
          <Line key={entry.id} {...{ entry, grounds, zone }} time={dueTime(entry, zone)} day={null} />
        ))}
        {planned.map(({ from, id, name, at, words }) => (
          <li key={`${id} ${at.getTime()}`} className="flex gap-3 border-b border-rule py-2 text-sm">
            <span className="w-24 shrink-0 text-soft">{dayAndTime(at, zone)}</span>
            <span className="pl-8">
              → {from}{' '}
              <Link href={`${PLACES[from]}/${id}`} className="link">
                {name}
              </Link>
              <span className="text-soft">
                {from === 'broadcast' ? ', if they are still meant then' : ', unless they answer or leave'}
              </span>
              {words !== null && <span className="block [overflow-wrap:anywhere]">{words}</span>}
            </span>
          </li>
        ))}
      </Lines>
    </>
  );
}

/**
 * Where the entries begin that stand open: what they last wrote always does, and what only says that something changed
 * takes no place of the others.
 */
function firstOpen(entries: readonly Entry[]): number {
  const said = entries.flatMap(({ mark }, i) => (mark === undefined ? [i] : []));
  const wrote = entries.findLastIndex(({ direction, mark }) => direction === 'in' && mark === undefined);
  const open = said.at(-OPEN_ENTRIES) ?? 0;
  return wrote < 0 ? open : Math.min(open, wrote);
}

/** What is no message, as a line of the log. */
const beside = (id: string, at: Date, direction: Entry['direction'], kind: string): Entry => ({
  ...{ id, direction, channel: 'sms', subject: null, at, body: '' },
  ...{ kind, state: null, failure: null, parts: null, program_id: null, program: null },
  ...{ broadcast_id: null, broadcast: null, sequence_id: null, sequence: null, sent_by: null },
  ...{ not_before: null, clearance: null, meaning: null, rule: null, near_keyword: null, sender: null },
  files: [],
});
const ofCall = (call: ShownCall): Entry => ({
  ...beside(call.id, call.at, call.direction, 'call'),
  ...{ body: call.note, call },
});
const ofNote = (note: ShownNote): Entry => ({ ...beside(note.id, note.at, 'out', 'note'), note });
const ofMark = ({ id, at, words }: ThreadMark): Entry => ({ ...beside(id, at, 'in', 'mark'), mark: words });

const dueTime = ({ not_before }: Entry, zone: string): string =>
  not_before && Number.isFinite(not_before.getTime()) ? dayAndTime(not_before, zone) : 'when resumed';

interface LinesProps {
  entries: Entry[];
  grounds: Grounds;
  zone: string;
  label: string;
  acts?: LineActs | undefined;
  children?: React.ReactNode;
}

/** Entries in order, each new day named once. */
function Lines({ entries, grounds, zone, label, acts, children }: LinesProps) {
  return (
    <ol className="border-t border-ink" aria-label={label}>
      {entries.map((entry, i) => {
        const day = dayOf(entry.at, zone);
        const fresh = i === 0 || dayOf(entries[i - 1]!.at, zone) !== day;
        return (
          <Line
            key={entry.id}
            {...{ entry, grounds, zone, acts }}
            time={clockTime(entry.at, zone)}
            day={fresh ? day : null}
            folds={isQuiet(entry) && i < entries.length - 1 && entries[i + 1]!.direction === 'out'}
          />
        );
      })}
      {children}
    </ol>
  );
}

/** What went to many, or by itself: nobody answered it where the next entry is ours again. */
const isQuiet = ({ direction, kind }: Entry): boolean =>
  direction === 'out' && (kind === 'broadcast' || kind === 'sequence');

interface LineProps {
  entry: Entry;
  grounds: Grounds;
  zone: string;
  time: string;
  day: string | null;
  /** Its words are folded away. */
  folds?: boolean;
  acts?: LineActs | undefined;
}

function Line({ entry, grounds, zone, time, day, folds = false, acts }: LineProps) {
  const out = entry.direction === 'out';
  if (entry.mark !== undefined)
    return (
      <li className="flex gap-3 border-b border-rule py-1 text-sm text-soft">
        <span className="w-24 shrink-0">{day === null ? time : `${day}, ${time}`}</span>
        <span>{entry.mark}</span>
      </li>
    );
  if (entry.note) return <Note {...{ note: entry.note, time, day }} removeNote={acts?.removeNote} />;
  return (
    <li className="border-b border-rule py-2">
      {day && <div className="mb-1 text-sm font-semibold">{day}</div>}
      <div className="flex gap-3">
        <span className="w-24 shrink-0 text-sm text-soft">{time}</span>
        <div className={`min-w-0 flex-1 ${out ? 'pl-8' : ''}`}>
          <div className="flex flex-wrap items-baseline gap-x-3 text-sm">
            <span className="text-soft">
              {out ? '→' : '←'} {entry.channel === 'sms' ? '' : `${CHANNEL_WORDS[entry.channel].message}, `}
              {entry.files.length > 0 && 'picture message, '}
              {entry.call ? (
                callTitle(entry.call)
              ) : out ? (
                <SentBy entry={entry} />
              ) : entry.kind === 'inquiry' ? (
                'inquiry'
              ) : (
                <>
                  in{entry.sender && ` to ${displayNumber(entry.sender)}`}
                  {entry.account && ` to ${entry.account}`}
                  {entry.button && ', pressed'}
                </>
              )}
            </span>
            {out && entry.state && <Status entry={entry} state={entry.state as TextState} />}
            {out && entry.read_at && <span className="text-soft">read {clockTime(entry.read_at, zone)}</span>}
            {!out && entry.meaning && <Understood meaning={entry.meaning} rule={entry.rule} />}
            {!out && entry.near_keyword && (
              <span className="text-wait">nearly the keyword {entry.near_keyword.toUpperCase()}</span>
            )}
          </div>
          {folds ? (
            <details>
              <summary className="cursor-pointer truncate text-soft">{entry.subject ?? entry.body}</summary>
              <Words {...{ entry, grounds, zone, acts }} />
            </details>
          ) : (
            <Words {...{ entry, grounds, zone, acts }} />
          )}
        </div>
      </div>
    </li>
  );
}

/** Words between teammates, told apart from what went to anybody. */
function Note({
  note,
  time,
  day,
  removeNote,
}: {
  note: ShownNote;
  time: string;
  day: string | null;
  removeNote: Act | undefined;
}) {
  return (
    <li className="border-b border-rule py-2">
      {day && <div className="mb-1 text-sm font-semibold">{day}</div>}
      <div className="flex gap-3">
        <span className="w-24 shrink-0 text-sm text-soft">{time}</span>
        <div className="min-w-0 flex-1 border-l-2 border-accent bg-paper-2 px-3 py-1">
          <p className="text-sm text-soft">note by {note.account ?? 'a key'}, for teammates only</p>
          <p className="max-w-[62ch] whitespace-pre-wrap [overflow-wrap:anywhere]">{note.body}</p>
          {note.own && removeNote && (
            <PlainForm action={removeNote} submit="Take it away" hidden={{ id: note.id }} />
          )}
        </div>
      </div>
    </li>
  );
}

/** Another outcome of a call; what that one says follows, once within the hour as always. */
function ChangeCall({
  call: { id, outcome, note },
  outcomes,
  act,
}: { call: ShownCall } & LineActs['changeCall']) {
  return (
    <details className="text-sm">
      <summary className="cursor-pointer text-soft">
        {outcome ? 'It came to something else' : 'What it came to'}
      </summary>
      <div className="mt-2 max-w-xs">
        <PlainForm
          action={act}
          submit="Note it"
          hidden={{ call: id }}
          fields={[
            {
              ...{ name: 'outcome', label: 'Outcome' },
              initial: outcomes.find(({ name }) => name === outcome)?.id ?? '',
              options: outcomes.map(({ id: value, name: label }) => ({ value, label })),
            },
            { name: 'note', label: 'Note', maxLength: 2_000, initial: note },
          ]}
        />
      </div>
    </details>
  );
}

/** What a message said, the files it carried, and why it went. */
function Words({ entry, grounds, zone, acts }: Pick<LineProps, 'entry' | 'grounds' | 'zone' | 'acts'>) {
  if (entry.call)
    return (
      <>
        <CallWords call={entry.call} />
        {acts && entry.call.over && <ChangeCall call={entry.call} {...acts.changeCall} />}
      </>
    );
  return (
    <>
      {entry.subject && <p className="font-semibold [overflow-wrap:anywhere]">{entry.subject}</p>}
      <p className="max-w-[62ch] whitespace-pre-wrap [overflow-wrap:anywhere]">
        {entry.body === '' && entry.files.length === 0 && entry.kind !== 'inquiry' ? (
          <em className="text-soft">an empty {CHANNEL_WORDS[entry.channel].message}</em>
        ) : (
          entry.body
        )}
      </p>
      {entry.buttons && entry.buttons.length > 0 && (
        <p className="text-sm text-soft">{entry.buttons.map(({ words }) => `▸ ${words}`).join('   ')}</p>
      )}
      <ShownFiles files={entry.files} />
      {entry.direction === 'out' && entry.clearance && <Why {...{ entry, grounds, zone }} />}
    </>
  );
}

function SentBy({ entry }: { entry: Entry }) {
  if (entry.broadcast_id)
    return (
      <>
        broadcast{' '}
        <Link href={`/sends/${entry.broadcast_id}`} className="link">
          {entry.broadcast}
        </Link>
      </>
    );
  if (entry.sequence_id)
    return (
      <>
        sequence{' '}
        <Link href={`/programs/sequences/${entry.sequence_id}`} className="link">
          {entry.sequence}
        </Link>
      </>
    );
  if (entry.kind in KINDS && entry.kind !== 'answer')
    return (
      <>
        {KINDS[entry.kind as MessageKind].words} ({entry.program})
      </>
    );
  return (
    <>
      out{entry.sent_by && `, by ${entry.sent_by}`}
      {entry.in_place_of && `, in the place of ${entry.in_place_of}`}
    </>
  );
}

function Status({ entry, state }: { entry: Entry; state: TextState }) {
  const why = entry.failure ? `: ${FAILURE_WORDS[entry.failure as FailureReason]}` : '';
  return (
    <Mark tone={TONES[state]}>
      <span title={TEXT_STATE_WORDS[state].means}>
        {TEXT_STATE_WORDS[state].word}
        {why}
      </span>
    </Mark>
  );
}
