'use client';
import { Link } from '@/ui/kit/link';
import { group } from 'd3-array';
import { Fragment } from 'react';
import type { Begin, EndingCause, SequenceDocument } from '@/core/sequence/document';
import { beginWords, endingWords, type Names } from '@/core/sequence/words';
import { CutBuilder } from '@/ui/audience/cut-builder';
import type { Askable } from '@/ui/audience/leaf-editor';
import { Hours } from './hours-form';
import { Words } from './line-form';
import { Count, Pick, Time } from './pickers';
import type { Choices, Door } from './types';

interface Props {
  document: SequenceDocument;
  names: Names;
  begunBy: readonly Door[];
  choices: Choices;
  askable: Askable;
  mayEdit: boolean;
  /** Where the workspace is: `2026-11-24`. */
  today: string;
  change(next: (document: SequenceDocument) => SequenceDocument): void;
}

/** What begins it, who may enter, what ends it early, and when it may act: read as sentences, opened to be changed. */
export function BeginForm(props: Props) {
  const { document, names } = props;
  const begins = document.begins.map((one) => beginWords(one, names)).join('; or ');
  const ends = document.ends.map(({ when }) => endingWords(when, names)).join('; or ');
  return (
    <div className="mb-4 border-b border-rule pb-2">
      <details>
        <summary className="cursor-pointer">
          <span className="text-soft">Begins when somebody </span>
          {begins || (props.begunBy.length > 0 ? 'comes by a door that begins it' : 'is put in by hand')}
          <span className="text-soft">. Ends early when </span>
          {ends || 'they opt out'}
          {ends && <span className="text-soft">, and always when they opt out</span>}.
        </summary>
        {props.mayEdit && (
          <div className="mt-3 grid gap-5">
            <Begins {...props} />
            <Who {...props} />
            <Ends {...props} />
            <Hours document={document} change={props.change} today={props.today} />
          </div>
        )}
      </details>
      {props.begunBy.length > 0 && <Doors doors={props.begunBy} />}
    </div>
  );
}

const DOORS: Record<Door['by'], { words: string; path: string }> = {
  keyword: { words: 'the keyword', path: '/programs/keywords/' },
  form: { words: 'the form', path: '/programs/forms/' },
  source: { words: 'inquiries through', path: '/programs/inquiries/' },
  outcome: { words: 'a call that came to', path: '/inbox/calls/outcomes#' },
};

/** What names it as what it begins is changed there, not here. */
function Doors({ doors }: { doors: readonly Door[] }) {
  return (
    <p className="mt-1 text-sm text-soft">
      Begun by{' '}
      {[...group(doors, ({ by }) => by)].map(([by, those], nth) => (
        <Fragment key={by}>
          {nth > 0 && '; by '}
          {DOORS[by].words}{' '}
          {those.map(({ id, name, kind }, i) => (
            <Fragment key={`${id} ${kind}`}>
              {i > 0 && (i === those.length - 1 ? ' and ' : ', ')}
              <Link className="link" href={`${DOORS[by].path}${id}`}>
                {name}
              </Link>
              {kind && ` (${kind})`}
            </Fragment>
          ))}
        </Fragment>
      ))}
      .
    </p>
  );
}

const first = (options: readonly { id: string }[]): string => options[0]?.id ?? 'none';

const BEGINS: Record<
  Begin['on'],
  { words: string; blank: (choices: Choices, document: SequenceDocument) => Begin }
> = {
  joined: { words: 'joins a program', blank: (_, { program }) => ({ on: 'joined', program }) },
  tag: { words: 'is tagged', blank: ({ tags }) => ({ on: 'tag', label: first(tags) }) },
  list: { words: 'comes on a list', blank: ({ lists }) => ({ on: 'list', label: first(lists) }) },
  stage: { words: 'reaches a stage', blank: ({ stages }) => ({ on: 'stage', stage: first(stages) }) },
  replied: { words: 'writes certain words', blank: () => ({ on: 'replied', words: ['yes'] }) },
  clicked: { words: 'follows a link', blank: () => ({ on: 'clicked' }) },
  redeemed: { words: 'uses a voucher', blank: () => ({ on: 'redeemed' }) },
  expiring: { words: 'has a voucher that ends in two days', blank: () => ({ on: 'expiring' }) },
  field: { words: 'gets a field changed', blank: ({ fields }) => ({ on: 'field', field: first(fields) }) },
  date: {
    words: 'comes to a date of theirs',
    blank: ({ dates }) => ({ on: 'date', field: first(dates), days: 0, yearly: true, time: '10:00' }),
  },
  ended: {
    words: 'comes out of another sequence',
    blank: ({ sequences }) => ({ on: 'ended', sequence: first(sequences) }),
  },
  inquiry: { words: 'asks something', blank: () => ({ on: 'inquiry' }) },
  request: { words: 'is sent in by the API', blank: () => ({ on: 'request' }) },
};

function Begins({ document, choices, change }: Props) {
  const set = (begins: Begin[]) => change((one) => ({ ...one, begins }));
  const put = (i: number, begins: Begin) => set(document.begins.map((one, at) => (at === i ? begins : one)));
  return (
    <fieldset>
      <legend className="mb-1 font-semibold">It begins when somebody</legend>
      {document.begins.map((begins, i) => (
        <div key={i} className="flex flex-wrap items-end gap-3 border-b border-rule py-2">
          <Pick
            label="What happens"
            value={begins.on}
            options={Object.entries(BEGINS).map(([id, { words }]) => ({ id, name: words }))}
            onPick={(on) => put(i, BEGINS[on as Begin['on']].blank(choices, document))}
          />
          <BeginFields begins={begins} choices={choices} change={(next) => put(i, next)} />
          <button
            type="button"
            className="link pb-2"
            onClick={() => set(document.begins.filter((_, at) => at !== i))}
          >
            take out
          </button>
        </div>
      ))}
      <button
        type="button"
        className="button mt-2"
        onClick={() => set([...document.begins, BEGINS.joined.blank(choices, document)])}
      >
        Add a beginning
      </button>
    </fieldset>
  );
}

const METHODS = [
  { id: 'keyword', name: 'by keyword' },
  { id: 'form', name: 'by a form' },
  { id: 'import', name: 'by an import' },
  { id: 'by-hand', name: 'by hand' },
  { id: 'api', name: 'by the API' },
];

function BeginFields({
  begins,
  choices,
  change,
}: {
  begins: Begin;
  choices: Choices;
  change(begins: Begin): void;
}) {
  switch (begins.on) {
    case 'joined':
      return (
        <>
          <Pick
            label="Program"
            value={begins.program}
            options={choices.programs}
            onPick={(program) => change({ ...begins, program: program! })}
          />
          <Pick
            label="How"
            value={begins.method ?? null}
            options={METHODS}
            none="in any way"
            onPick={(method) => {
              const { method: _, keyword: __, ...rest } = begins;
              change(method === null ? rest : { ...rest, method: method as 'keyword' });
            }}
          />
          {begins.method === 'keyword' && (
            <Words
              label="Keyword (empty: any)"
              value={begins.keyword ?? ''}
              most={40}
              change={(keyword) => {
                const { keyword: _, ...rest } = begins;
                change(keyword.trim() === '' ? rest : { ...rest, keyword });
              }}
            />
          )}
        </>
      );
    case 'tag':
      return (
        <Pick
          label="Tag"
          value={begins.label}
          options={choices.tags}
          onPick={(label) => change({ ...begins, label: label! })}
        />
      );
    case 'list':
      return (
        <Pick
          label="List"
          value={begins.label}
          options={choices.lists}
          onPick={(label) => change({ ...begins, label: label! })}
        />
      );
    case 'stage':
      return (
        <Pick
          label="Stage"
          value={begins.stage}
          options={choices.stages}
          onPick={(stage) => change({ ...begins, stage: stage! })}
        />
      );
    case 'replied':
      return (
        <Words
          label="Any of these words, with commas between"
          value={begins.words.join(', ')}
          most={400}
          change={(text) => {
            const words = text
              .split(',')
              .map((word) => word.trimStart())
              .filter((word) => word !== '');
            if (words.length > 0) change({ ...begins, words });
          }}
        />
      );
    case 'field':
      return (
        <Pick
          label="Field"
          value={begins.field}
          options={choices.fields}
          onPick={(field) => change({ ...begins, field: field! })}
        />
      );
    case 'date':
      return (
        <>
          <Count
            label="Days after (before: minus)"
            value={begins.days}
            min={-366}
            max={366}
            onCount={(days) => change({ ...begins, days })}
          />
          <Pick
            label="Date"
            value={begins.field}
            options={choices.dates}
            onPick={(field) => change({ ...begins, field: field! })}
          />
          <Time label="At" value={begins.time} onTime={(time) => change({ ...begins, time })} />
          <label className="flex items-center gap-1.5 pb-2 text-sm">
            <input
              type="checkbox"
              checked={begins.yearly}
              onChange={(event) => change({ ...begins, yearly: event.target.checked })}
            />
            every year (29 February: the 28th)
          </label>
        </>
      );
    case 'ended':
      return (
        <Pick
          label="Sequence"
          value={begins.sequence}
          options={choices.sequences}
          onPick={(sequence) => change({ ...begins, sequence: sequence! })}
        />
      );
    case 'inquiry':
      return <Asked begins={begins} sources={choices.sources} change={change} />;
    default:
      return null;
  }
}

/** Through which source, and what of. */
function Asked({
  begins: { source, kind },
  sources,
  change,
}: {
  begins: Extract<Begin, { on: 'inquiry' }>;
  sources: Choices['sources'];
  change(begins: Begin): void;
}) {
  const through = sources.filter(({ id }) => source === undefined || id === source);
  const kinds = [...new Set([...through.flatMap((one) => one.kinds), ...(kind ? [kind] : [])])];
  const named = (some: { source?: string; kind?: string }): Begin => ({ on: 'inquiry', ...some });
  return (
    <>
      <Pick
        label="Through"
        value={source ?? null}
        options={sources}
        none="any source"
        onPick={(next) => change(named({ ...(next ? { source: next } : {}), ...(kind ? { kind } : {}) }))}
      />
      <Pick
        label="Of the kind"
        value={kind ?? null}
        options={kinds.map((one) => ({ id: one, name: one }))}
        none="every kind"
        onPick={(next) => change(named({ ...(source ? { source } : {}), ...(next ? { kind: next } : {}) }))}
      />
    </>
  );
}

const AGAIN = [
  { id: 'never', name: 'never' },
  { id: 'after-end', name: 'once the last time is over' },
  { id: 'anew', name: 'at once, from the first line' },
  { id: 'not-within', name: 'not within some days' },
];

function Who({ document, choices, askable, change }: Props) {
  const { again, only } = document;
  return (
    <fieldset className="grid gap-3">
      <legend className="mb-1 font-semibold">Who, and how often</legend>
      <div className="flex flex-wrap items-end gap-3">
        <Pick
          label="Program it writes for"
          value={document.program}
          options={choices.programs}
          onPick={(program) => change((one) => ({ ...one, program: program! }))}
        />
        <Pick
          label="Comes in again"
          value={again.rule}
          options={AGAIN}
          onPick={(rule) =>
            change((one) => ({
              ...one,
              again: rule === 'not-within' ? { rule, days: 30 } : { rule: rule as 'never' },
            }))
          }
        />
        {again.rule === 'not-within' && (
          <Count
            label="Days"
            value={again.days}
            min={1}
            max={3_660}
            onCount={(days) => change((one) => ({ ...one, again: { rule: 'not-within', days } }))}
          />
        )}
        <Count
          label="Grace for batches, minutes"
          value={document.grace_minutes}
          min={0}
          max={1_440}
          onCount={(grace_minutes) => change((one) => ({ ...one, grace_minutes }))}
        />
      </div>
      {only === null ? (
        <button
          type="button"
          className="link justify-self-start"
          onClick={() => change((one) => ({ ...one, only: { all: [] } }))}
        >
          only people who meet a condition …
        </button>
      ) : (
        <div>
          <CutBuilder
            condition={only}
            askable={askable}
            counts={null}
            problems={[]}
            change={(next) => change((one) => ({ ...one, only: next }))}
          />
          <button
            type="button"
            className="link mt-1"
            onClick={() => change((one) => ({ ...one, only: null }))}
          >
            without a condition
          </button>
        </div>
      )}
    </fieldset>
  );
}

const ENDINGS: Record<EndingCause['on'], { words: string; blank: (choices: Choices) => EndingCause }> = {
  reply: { words: 'they reply', blank: () => ({ on: 'reply' }) },
  stage: { words: 'they reach a stage', blank: ({ stages }) => ({ on: 'stage', stage: first(stages) }) },
  tag: { words: 'they get a tag', blank: ({ tags }) => ({ on: 'tag', label: first(tags) }) },
  list: { words: 'they come on a list', blank: ({ lists }) => ({ on: 'list', label: first(lists) }) },
  field: {
    words: 'a field changes',
    blank: ({ fields }) => ({ on: 'field', field: first(fields), value: null }),
  },
  date: { words: 'a date of theirs is over', blank: ({ dates }) => ({ on: 'date', field: first(dates) }) },
};

function Ends({ document, choices, change }: Props) {
  const set = (ends: SequenceDocument['ends']) => change((one) => ({ ...one, ends }));
  const put = (i: number, ending: SequenceDocument['ends'][number]) =>
    set(document.ends.map((one, at) => (at === i ? ending : one)));
  return (
    <fieldset>
      <legend className="mb-1 font-semibold">It ends early when</legend>
      {document.ends.map((ending, i) => {
        const told = ending.then.find((deed) => deed.do === 'task');
        return (
          <div key={i} className="flex flex-wrap items-end gap-3 border-b border-rule py-2">
            <Pick
              label="What happens"
              value={ending.when.on}
              options={Object.entries(ENDINGS).map(([id, { words }]) => ({ id, name: words }))}
              onPick={(on) => put(i, { ...ending, when: ENDINGS[on as EndingCause['on']].blank(choices) })}
            />
            <EndingFields
              when={ending.when}
              choices={choices}
              change={(when) => put(i, { ...ending, when })}
            />
            <label className="flex items-center gap-1.5 pb-2 text-sm">
              <input
                type="checkbox"
                checked={told !== undefined}
                onChange={(event) =>
                  put(i, {
                    ...ending,
                    then: event.target.checked
                      ? [
                          ...ending.then,
                          { do: 'task', title: 'Answer them', for: { to: 'owner' }, due_minutes: 60 },
                        ]
                      : ending.then.filter((deed) => deed.do !== 'task'),
                  })
                }
              />
              and their owner gets a task
            </label>
            <button
              type="button"
              className="link pb-2"
              onClick={() => set(document.ends.filter((_, at) => at !== i))}
            >
              take out
            </button>
          </div>
        );
      })}
      <button
        type="button"
        className="button mt-2"
        onClick={() => set([...document.ends, { when: { on: 'reply' }, then: [] }])}
      >
        Add an ending
      </button>
    </fieldset>
  );
}

function EndingFields({
  when,
  choices,
  change,
}: {
  when: EndingCause;
  choices: Choices;
  change(when: EndingCause): void;
}) {
  switch (when.on) {
    case 'stage':
      return (
        <Pick
          label="Stage"
          value={when.stage}
          options={choices.stages}
          onPick={(stage) => change({ ...when, stage: stage! })}
        />
      );
    case 'tag':
    case 'list':
      return (
        <Pick
          label={when.on === 'tag' ? 'Tag' : 'List'}
          value={when.label}
          options={when.on === 'tag' ? choices.tags : choices.lists}
          onPick={(label) => change({ ...when, label: label! })}
        />
      );
    case 'field':
      return (
        <Pick
          label="Field"
          value={when.field}
          options={choices.fields}
          onPick={(field) => change({ ...when, field: field! })}
        />
      );
    case 'date':
      return (
        <Pick
          label="Date"
          value={when.field}
          options={choices.dates}
          onPick={(field) => change({ ...when, field: field! })}
        />
      );
    default:
      return null;
  }
}
