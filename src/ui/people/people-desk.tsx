'use client';
import { Problem } from '@/ui/kit/problem';
import {
  keepPreviousData,
  QueryClient,
  QueryClientProvider,
  useInfiniteQuery,
  useQuery,
} from '@tanstack/react-query';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { EVERYBODY, branches, isGroup, type Condition } from '@/core/audience/condition';
import { askServer } from '@/ui/kit/ask';
import { BatchBar, type BatchOrder, type BatchOutcome, type Meant } from '@/ui/batches/batch-bar';
import { ColumnChooser } from './column-chooser';
import { CutBuilder } from '@/ui/audience/cut-builder';
import type { Askable } from '@/ui/audience/leaf-editor';
import { count, plural } from '@/ui/kit/numbers';
import { PeopleTable, type Column, type TableRow } from './people-table';
import {
  SegmentIndex,
  type SegmentActs,
  type SegmentCounts,
  type SegmentView,
} from '@/ui/audience/segment-index';
import { Empty, Section } from '@/ui/kit/page';

export interface DeskProps {
  askable: Askable;
  segments: SegmentView[];
  teammates: { id: string; name: string }[];
  me: string;
  columns: Column[];
  usual: string[];
  chosen: string[];
  zone: string;
  now: number;
  /** Changes with every change in the workspace, so that what is shown is asked for again. */
  stamp: number;
  start: { condition: Condition; search: string; sort: string; segment: string | null };
  maySend: boolean;
  mayEdit: boolean;
  acts: SegmentActs & {
    saveColumns(columns: string[]): Promise<void>;
    startBatch(order: BatchOrder): Promise<BatchOutcome>;
  };
}

interface Answer {
  sentence: string;
  count: number;
  problems: { path: string; message: string }[];
}

interface Steps {
  everybody: number;
  steps: { words: string; count: number; condition: Condition }[];
}

/** The people, a cut of them, and what is done with it. */
export function PeopleDesk(props: DeskProps) {
  const [client] = useState(
    () => new QueryClient({ defaultOptions: { queries: { retry: 1, refetchOnWindowFocus: false } } }),
  );
  return (
    <QueryClientProvider client={client}>
      <Desk {...props} />
    </QueryClientProvider>
  );
}

/** A value that follows another once that has been still for a moment. */
function useSettled<T>(value: T, ms: number): T {
  const [settled, setSettled] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(value), ms);
    return () => clearTimeout(timer);
  }, [value, ms]);
  return settled;
}

const TYPING_MS = 220;
/** Counting goes through everybody: not more often than this, however busy the workspace is. */
const RECOUNT_MS = 5_000;
const MOST_PAGES_KEPT_FRESH = 3;

function useCut(json: string, search: string, sort: string, stamp: number) {
  const rows = useInfiniteQuery({
    queryKey: ['people', json, search, sort],
    queryFn: ({ pageParam, signal }) =>
      askServer<{ rows: TableRow[]; next: string | null }>(
        '/internal/people',
        { condition: json, search, sort, after: pageParam },
        signal,
      ),
    initialPageParam: '',
    getNextPageParam: (page) => page.next,
    placeholderData: keepPreviousData,
  });
  const answer = useQuery({
    queryKey: ['audience', json, search],
    queryFn: ({ signal }) => askServer<Answer>('/internal/audience', { condition: json, search }, signal),
    placeholderData: keepPreviousData,
  });
  // How many it comes to is known first: the counts on the way there would slow it, several of them being large.
  const steps = useQuery({
    queryKey: ['steps', json, search],
    queryFn: ({ signal }) => askServer<Steps>('/internal/steps', { condition: json, search }, signal),
    placeholderData: keepPreviousData,
    enabled: answer.isFetched,
  });
  const counted = useRef(0);
  const { refetch: refetchRows } = rows;
  const { refetch: recount } = answer;
  const { refetch: recountSteps } = steps;
  const pages = rows.data?.pages.length ?? 0;
  const fresh = useRef(stamp);
  useEffect(() => {
    if (fresh.current === stamp) return;
    fresh.current = stamp;
    if (pages <= MOST_PAGES_KEPT_FRESH) void refetchRows();
    if (Date.now() - counted.current < RECOUNT_MS) return;
    counted.current = Date.now();
    void recount().then(() => recountSteps());
  }, [stamp, pages, refetchRows, recount, recountSteps]);
  return { rows, answer, steps };
}

/** Each segment is a count over everybody: asked again when one changes, else not more often than this. */
const RECOUNT_SEGMENTS_MS = 60_000;

function useSegmentCounts(segments: SegmentView[], stamp: number) {
  const versions = segments.map(({ id, version }) => `${id} ${version}`).join();
  return useQuery({
    queryKey: ['segments', versions, Math.floor(stamp / RECOUNT_SEGMENTS_MS)],
    queryFn: ({ signal }) =>
      askServer<{ everybody: number; counts: SegmentCounts }>('/internal/segments', {}, signal),
    placeholderData: keepPreviousData,
  });
}

/** What is looked at: the cut, what is typed, the order, the columns and the segment it came from. */
function useView({ start, chosen: first }: DeskProps, untick: () => void) {
  const [condition, setCondition] = useState<Condition>(start.condition);
  const [segmentId, setSegmentId] = useState(start.segment);
  const [typed, setTyped] = useState(start.search);
  const [sort, setSort] = useState(start.sort);
  const [chosen, setChosen] = useState(first);
  const json = useSettled(JSON.stringify(condition), TYPING_MS);
  const search = useSettled(typed, TYPING_MS);
  useEffect(() => writeAddress({ json, search, sort, segment: segmentId }), [json, search, sort, segmentId]);
  const cut = (next: Condition) => {
    setCondition(next);
    untick();
  };
  const type = (text: string) => {
    setTyped(text);
    untick();
  };
  const open = (view: SegmentView | null) => {
    setSegmentId(view?.id || null);
    cut(view?.condition ?? EVERYBODY);
    if (view && view.columns.length > 0) setChosen(view.columns);
    setSort(view?.sort ?? '');
    setTyped('');
  };
  /** What was asked for is what is written by now. */
  const still = json === JSON.stringify(condition);
  const values = { condition, segmentId, typed, sort, chosen, json, search, still };
  return { ...values, cut, type, open, setSort, setChosen, setSegmentId };
}

function Desk(props: DeskProps) {
  const { segments, stamp, acts } = props;
  const ticks = useTicks();
  const view = useView(props, ticks.untick);
  const asked = useCut(view.json, view.search, view.sort, stamp);
  const counts = useSegmentCounts(segments, stamp).data;
  const segment = segments.find(({ id }) => id === view.segmentId) ?? null;
  return (
    <div className="grid gap-x-10 gap-y-6 lg:grid-cols-[minmax(0,1fr)_19rem] lg:grid-rows-[auto_1fr]">
      <div className="min-w-0 border-rule lg:col-start-2 lg:border-l lg:pl-6">
        <SegmentIndex
          segments={segments}
          counts={counts?.counts ?? null}
          everybody={counts?.everybody ?? null}
          current={segment}
          open={view.open}
          acts={acts}
          me={props.me}
          teammates={props.teammates}
        />
      </div>
      <div className="min-w-0 lg:col-start-1 lg:row-span-2 lg:row-start-1">
        <Tools desk={props} view={view} asked={asked} ticks={ticks} />
        <People desk={props} view={view} asked={asked} ticks={ticks} />
      </div>
      <aside
        id="cut"
        tabIndex={-1}
        aria-label="Margin"
        className="min-w-0 border-rule lg:col-start-2 lg:border-l lg:pl-6"
      >
        <Who
          answer={asked.answer.data ?? null}
          steps={asked.steps.data ?? null}
          busy={asked.answer.isFetching || asked.steps.isFetching}
          open={view.cut}
          search={view.search.trim()}
        />
        <SaveCut
          key={segment?.id ?? 'new'}
          segment={segment}
          json={view.json}
          columns={view.chosen}
          sort={view.sort}
          acts={acts}
          saved={(id) => view.setSegmentId(id)}
        />
      </aside>
    </div>
  );
}

interface PartProps {
  desk: DeskProps;
  view: ReturnType<typeof useView>;
  asked: ReturnType<typeof useCut>;
  ticks: ReturnType<typeof useTicks>;
}

/** What stands above the table: the cut, the search, the columns, and what can be done with those who are ticked. */
function Tools({ desk, view, asked: { answer, steps }, ticks }: PartProps) {
  const { askable, acts } = desk;
  const matching = answer.data?.count ?? null;
  const meant: Meant = ticks.allTicked
    ? { kind: 'all', condition: view.json, search: view.search, count: matching ?? 0 }
    : { kind: 'ids', ids: [...ticks.ticked] };
  const counted = steps.data && !steps.isPlaceholderData && view.still ? steps.data.steps : null;
  return (
    <>
      <CutBuilder
        condition={view.condition}
        askable={askable}
        counts={counted?.map((step) => step.count) ?? null}
        problems={answer.data?.problems ?? []}
        change={view.cut}
      />
      <div className="mt-3 mb-2 flex flex-wrap items-end gap-3">
        <Search typed={view.typed} type={view.type} />
        <ColumnChooser
          columns={desk.columns}
          chosen={view.chosen}
          usual={desk.usual}
          change={(next) => (view.setChosen(next), void acts.saveColumns(next))}
        />
      </div>
      <BatchBar
        meant={meant}
        matching={matching}
        askable={askable}
        mayEdit={desk.mayEdit}
        maySend={desk.maySend}
        startBatch={acts.startBatch}
        takeAll={ticks.takeAll}
        clear={ticks.untick}
      />
    </>
  );
}

/** The table, or a sentence where there is nobody to show. */
function People({ desk, view, asked: { rows, answer }, ticks }: PartProps) {
  const { askable, columns, zone, now } = desk;
  const list = useMemo(() => rows.data?.pages.flatMap((page) => page.rows) ?? [], [rows.data]);
  const { fetchNextPage } = rows;
  const loadMore = useCallback(() => void fetchNextPage(), [fetchNextPage]);
  const names = useMemo(
    () => ({
      names: Object.fromEntries(askable.things.map(({ id, name }) => [id, name])),
      lists: askable.things.filter(({ kind }) => kind === 'list').map(({ id }) => id),
      ...{ zone, now },
    }),
    [askable, zone, now],
  );
  const failed = rows.error ?? answer.error;
  if (list.length === 0 && !rows.isFetching)
    return failed ? <Problem wide>{failed.message}</Problem> : <Nobody view={view} />;
  return (
    <>
      <Problem wide>{failed?.message}</Problem>
      <SkipTable />
      <PeopleTable
        rows={list}
        columns={view.chosen.flatMap((name) => columns.find((column) => column.name === name) ?? [])}
        names={names}
        sort={view.sort}
        setSort={view.setSort}
        ticked={ticks.ticked}
        allTicked={ticks.allTicked}
        tick={(id, on) => ticks.tick([id], on)}
        tickPage={(on) => {
          const ids = list.map(({ id }) => id);
          ticks.tick(ids, on);
        }}
        more={rows.hasNextPage}
        loading={rows.isFetching}
        loadMore={loadMore}
      />
    </>
  );
}

function Nobody({ view: { condition, search } }: Pick<PartProps, 'view'>) {
  const isCut = !isGroup(condition) || branches(condition).length > 0;
  return (
    <Empty>
      {isCut || search
        ? 'Nobody matches. The line that says “nobody left” is the one that empties it; or try fewer letters.'
        : 'Nobody is here yet. Import a file, add somebody by hand, or let them text a keyword.'}
    </Empty>
  );
}

const Search = ({ typed, type }: { typed: string; type(text: string): void }) => (
  <label className="min-w-56 flex-1 text-sm text-soft">
    Name, number or e-mail
    <input
      type="search"
      className="input mt-1 text-ink"
      value={typed}
      maxLength={80}
      onChange={(event) => type(event.target.value)}
    />
  </label>
);

const SkipTable = () => (
  <button
    type="button"
    className="sr-only focus:not-sr-only"
    onClick={() => document.getElementById('cut')?.focus()}
  >
    Skip the table
  </button>
);

/** Who is ticked: some by name, or all that match. */
function useTicks() {
  const [ticked, setTicked] = useState<ReadonlySet<string>>(new Set());
  const [allTicked, setAllTicked] = useState(false);
  const tick = (ids: readonly string[], on: boolean) => {
    const next = new Set(ticked);
    for (const id of ids)
      if (on) next.add(id);
      else next.delete(id);
    setTicked(next);
  };
  const untick = () => {
    setTicked(new Set());
    setAllTicked(false);
  };
  return { ticked, allTicked, tick, untick, takeAll: () => setAllTicked(true) };
}

/** What is shown stands in the address, so that it can be kept, sent and come back to. */
function writeAddress({
  json,
  search,
  sort,
  segment,
}: {
  json: string;
  search: string;
  sort: string;
  segment: string | null;
}) {
  const query = new URLSearchParams();
  if (segment) query.set('segment', segment);
  if (json !== JSON.stringify(EVERYBODY)) query.set('cut', json);
  if (search) query.set('q', search);
  if (sort) query.set('sort', sort);
  const text = query.toString();
  window.history.replaceState(null, '', text ? `/people?${text}` : '/people');
}

/** The cut in words, and the count after each line, each of which opens to its people. */
function Who({
  answer,
  steps,
  busy,
  open,
  search,
}: {
  answer: Answer | null;
  steps: Steps | null;
  busy: boolean;
  open(condition: Condition): void;
  /** What is looked for among names, numbers and addresses: it narrows each count, so the words say so. */
  search: string;
}) {
  return (
    <Section title="Who this is" note={busy ? 'counting …' : undefined}>
      {answer && (
        <>
          <p className="font-head text-3xl" data-count={answer.count}>
            {plural(answer.count, 'person', 'people')}
          </p>
          <p className="mb-3 text-soft">
            {answer.sentence}
            {search && `, found by “${search}”`}.
          </p>
          {steps && steps.steps.length > 1 && (
            <ol>
              <li className="flex justify-between gap-3 border-b border-rule py-1">
                <span className="text-soft">everybody{search && ` found by “${search}”`}</span>
                <span>{count(steps.everybody)}</span>
              </li>
              {steps.steps.map((step, i) => (
                <li key={i} className="flex justify-between gap-3 border-b border-rule py-1">
                  <span className="min-w-0 [overflow-wrap:anywhere] text-soft">{step.words}</span>
                  <button
                    type="button"
                    className="link whitespace-nowrap"
                    onClick={() => open(step.condition)}
                    title="Show these people"
                  >
                    {count(step.count)}
                  </button>
                </li>
              ))}
            </ol>
          )}
        </>
      )}
    </Section>
  );
}

function SaveCut({
  segment,
  json,
  columns,
  sort,
  acts,
  saved,
}: {
  segment: SegmentView | null;
  json: string;
  columns: string[];
  sort: string;
  acts: SegmentActs;
  saved(id: string): void;
}) {
  const [name, setName] = useState(segment?.name ?? '');
  const [said, setSaid] = useState<{ bad: boolean; words: string } | null>(null);
  const save = async (id: string | null) => {
    const outcome = await acts.save({
      id,
      version: segment?.version ?? 0,
      name,
      condition: json,
      columns,
      sort,
    });
    if (outcome.problem) return setSaid({ bad: true, words: outcome.problem });
    setSaid({ bad: false, words: id ? 'Saved.' : `Kept as “${name}”.` });
    saved(outcome.id!);
  };
  const changed = segment !== null && JSON.stringify(segment.condition) !== json;
  return (
    <Section title="Keep it as a segment">
      <form onSubmit={(event) => (event.preventDefault(), void save(null))}>
        <label className="mb-2 block text-sm text-soft">
          Name of the segment
          <input
            className="input mt-1 text-ink"
            value={name}
            maxLength={80}
            onChange={(event) => setName(event.target.value)}
          />
        </label>
        <div className="flex flex-wrap gap-2">
          {segment && (
            <button
              type="button"
              className={`button ${changed ? 'button-main' : ''}`}
              onClick={() => void save(segment.id)}
            >
              Save the change
            </button>
          )}
          <button className="button" disabled={name.trim() === ''}>
            {segment ? 'Keep as another' : 'Keep this cut'}
          </button>
        </div>
      </form>
      {said && (
        <p role={said.bad ? 'alert' : 'status'} className={`mt-2 ${said.bad ? 'text-bad' : 'text-good'}`}>
          {said.words}
        </p>
      )}
      <p className="mt-2 text-sm text-soft">A segment stays live: whoever meets it later is in it then.</p>
    </Section>
  );
}
