'use client';
import { Problem } from '@/ui/kit/problem';
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react';
import { Pin } from 'lucide-react';
import { useState } from 'react';
import { count } from '@/ui/kit/numbers';
import type { Condition } from '@/core/audience/condition';
import { parseCondition } from '@/core/audience/parse';
import { FilePicker } from '@/ui/kit/file-picker';

export interface SegmentView {
  id: string;
  name: string;
  condition: Condition;
  columns: string[];
  sort: string;
  pinned: boolean;
  shared: 'me' | 'some' | 'all';
  /** Teammates it is shared with, when it is one's own. */
  accounts: string[];
  ownerId: string;
  version: number;
}

export interface SegmentActs {
  save(values: {
    id: string | null;
    version: number;
    name: string;
    condition: string;
    columns: string[];
    sort: string;
  }): Promise<{ id: string | null; problem: string | null }>;
  /** A sentence when it was refused. */
  change(id: string, verb: SegmentVerb): Promise<string | null>;
}

export type SegmentVerb =
  | { verb: 'rename'; name: string }
  | { verb: 'pin'; on: boolean }
  | { verb: 'move'; up: boolean }
  | { verb: 'copy' }
  | { verb: 'delete' }
  | { verb: 'share'; shared: 'me' | 'some' | 'all'; accounts: string[] };

/** How many are in a segment now, and how that changed since last week; null: not known. */
export type SegmentCounts = Record<string, { count: number | null; change: number | null }>;

interface Props {
  segments: SegmentView[];
  /** Null: not counted yet. */
  counts: SegmentCounts | null;
  everybody: number | null;
  current: SegmentView | null;
  me: string;
  teammates: { id: string; name: string }[];
  open(segment: SegmentView | null): void;
  acts: SegmentActs;
}

const ITEM = 'block w-full px-3 py-1 text-left data-focus:bg-paper-2';

/**
 * The index of segments in the margin: pinned ones first, each with how many are in it now and how that changed since
 * last week; and what can be done with the one that is open. On a narrow page it unfolds.
 */
export function SegmentIndex({ segments, counts, everybody, current, me, teammates, open, acts }: Props) {
  const [problem, setProblem] = useState<string | null>(null);
  const [asking, setAsking] = useState<Asking | null>(null);
  const [unfolded, setUnfolded] = useState(false);
  const act = async (verb: SegmentVerb) => {
    setAsking(null);
    const refused = current ? await acts.change(current.id, verb) : null;
    setProblem(refused);
    if (verb.verb === 'delete' && refused === null) open(null);
  };
  const choose = (segment: SegmentView | null) => {
    setUnfolded(false);
    open(segment);
  };
  return (
    <section>
      <div className="mb-1 flex items-baseline justify-between gap-3 border-b border-ink">
        <h2 className="border-0">Segments</h2>
        <button
          type="button"
          className="link lg:hidden"
          aria-expanded={unfolded}
          onClick={() => setUnfolded(!unfolded)}
        >
          {unfolded ? 'fold' : `unfold: ${current?.name ?? 'Everybody'}`}
        </button>
        <span className="hidden text-sm text-soft lg:inline">now · since last week</span>
      </div>
      <nav aria-label="Segments" className={unfolded ? 'block' : 'hidden lg:block'}>
        <Line
          here={current === null}
          act={() => choose(null)}
          name="Everybody"
          count={everybody}
          change={null}
        />
        {segments.map((segment) => (
          <Line
            key={segment.id}
            here={segment.id === current?.id}
            act={() => choose(segment)}
            name={segment.name}
            pinned={segment.pinned}
            count={counts?.[segment.id]?.count ?? null}
            change={counts?.[segment.id]?.change ?? null}
          />
        ))}
      </nav>
      <div
        className={`mt-2 flex-wrap items-center justify-between gap-x-3 gap-y-1 ${unfolded || current ? 'flex' : 'hidden lg:flex'}`}
      >
        {current && (
          <SegmentMenu
            segment={current}
            mine={current.ownerId === me}
            ask={setAsking}
            act={(verb) => void act(verb)}
          />
        )}
        <FileButton take={(condition) => choose({ ...BLANK, condition })} refuse={setProblem} />
      </div>
      {current && asking && (
        <Question
          {...{ asking, current }}
          teammates={teammates.filter(({ id }) => id !== me)}
          act={(verb) => void act(verb)}
          leave={() => setAsking(null)}
        />
      )}
      <Problem wide>{problem}</Problem>
    </section>
  );
}

/** What is done with a segment that needs an answer first. */
type Asking = 'rename' | 'share' | 'delete';

/** What can be done with the segment that is open. */
function SegmentMenu({
  segment,
  mine,
  ask,
  act,
}: {
  segment: SegmentView;
  mine: boolean;
  ask(asking: Asking): void;
  act(verb: SegmentVerb): void;
}) {
  const items: [words: string, run: () => void][] = [
    ['Rename …', () => ask('rename')],
    ['Copy', () => act({ verb: 'copy' })],
    [segment.pinned ? 'Unpin' : 'Pin', () => act({ verb: 'pin', on: !segment.pinned })],
    ['Move earlier', () => act({ verb: 'move', up: true })],
    ['Move later', () => act({ verb: 'move', up: false })],
    ...(mine ? [['Share …', () => ask('share')] as [string, () => void]] : []),
    ['Save as a file', () => saveFile(segment)],
    ['Delete …', () => ask('delete')],
  ];
  return (
    <Menu>
      <MenuButton className="button py-0.5">Segment …</MenuButton>
      <MenuItems
        anchor="bottom start"
        className="z-20 w-56 border border-ink bg-paper py-1 [--anchor-gap:4px] focus:outline-none"
      >
        {items.map(([words, run]) => (
          <MenuItem key={words}>
            <button className={ITEM} onClick={run}>
              {words}
            </button>
          </MenuItem>
        ))}
      </MenuItems>
    </Menu>
  );
}

function Question({
  asking,
  current,
  teammates,
  act,
  leave,
}: {
  asking: Asking;
  current: SegmentView;
  teammates: Props['teammates'];
  act(verb: SegmentVerb): void;
  leave(): void;
}) {
  if (asking === 'rename')
    return <Rename name={current.name} act={(name) => act({ verb: 'rename', name })} />;
  if (asking === 'share')
    return (
      <Share
        segment={current}
        teammates={teammates}
        act={(shared, accounts) => act({ verb: 'share', shared, accounts })}
      />
    );
  return (
    <p className="mt-2 flex flex-wrap items-center gap-3">
      Delete “{current.name}”? The people stay.
      <button className="button" onClick={() => act({ verb: 'delete' })}>
        Delete the segment
      </button>
      <button className="link" onClick={leave}>
        keep it
      </button>
    </p>
  );
}

const BLANK: SegmentView = {
  id: '',
  name: '',
  condition: { all: [] },
  columns: [],
  sort: '',
  pinned: false,
  shared: 'me',
  accounts: [],
  ownerId: '',
  version: 0,
};

function Line({
  here,
  act,
  name,
  pinned = false,
  count: people,
  change,
}: {
  here: boolean;
  act(): void;
  name: string;
  pinned?: boolean;
  count: number | null;
  change: number | null;
}) {
  return (
    <button
      type="button"
      aria-current={here ? 'true' : undefined}
      className={`flex w-full items-baseline gap-2 border-b border-rule py-1 text-left hover:bg-paper-2 ${here ? 'border-l-2 border-l-accent pl-2 font-semibold' : ''}`}
      onClick={act}
    >
      <span className="min-w-0 flex-1 [overflow-wrap:anywhere]">
        {pinned && <Pin size={12} aria-label="pinned" className="mr-1 inline" />}
        {name}
      </span>
      <span className="n">{people === null ? <span className="text-soft">…</span> : count(people)}</span>
      <span className="n w-12 text-right text-sm font-normal text-soft">
        {change === null ? '' : change === 0 ? '±0' : change > 0 ? `+${count(change)}` : `−${count(-change)}`}
      </span>
    </button>
  );
}

function Rename({ name, act }: { name: string; act(name: string): void }) {
  const [typed, setTyped] = useState(name);
  return (
    <form className="mt-2 flex gap-2" onSubmit={(event) => (event.preventDefault(), act(typed))}>
      <input
        aria-label="New name"
        className="input min-w-0 flex-1"
        value={typed}
        maxLength={80}
        onChange={(event) => setTyped(event.target.value)}
      />
      <button className="button">Rename</button>
    </form>
  );
}

function Share({
  segment,
  teammates,
  act,
}: {
  segment: SegmentView;
  teammates: Props['teammates'];
  act(shared: SegmentView['shared'], accounts: string[]): void;
}) {
  const [shared, setShared] = useState(segment.shared);
  const [accounts, setAccounts] = useState(segment.accounts);
  return (
    <form className="mt-2" onSubmit={(event) => (event.preventDefault(), act(shared, accounts))}>
      <fieldset className="flex flex-wrap items-center gap-4">
        <legend className="text-sm text-soft">Who sees “{segment.name}”</legend>
        {(
          [
            ['me', 'only I'],
            ['some', 'these teammates'],
            ['all', 'everybody'],
          ] as const
        ).map(([value, words]) => (
          <label key={value} className="flex items-center gap-1.5">
            <input type="radio" name="shared" checked={shared === value} onChange={() => setShared(value)} />
            {words}
          </label>
        ))}
        {shared === 'some' &&
          teammates.map(({ id, name }) => (
            <label key={id} className="flex items-center gap-1.5">
              <input
                type="checkbox"
                checked={accounts.includes(id)}
                onChange={(event) =>
                  setAccounts(event.target.checked ? [...accounts, id] : accounts.filter((one) => one !== id))
                }
              />
              {name}
            </label>
          ))}
        <button className="button">Share so</button>
      </fieldset>
    </form>
  );
}

function saveFile({ name, condition }: SegmentView): void {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(
    new Blob([JSON.stringify({ name, condition }, null, 2)], { type: 'application/json' }),
  );
  link.download = `${name.replace(/[^\p{L}\p{N}]+/gu, '-')}.segment.json`;
  link.click();
  URL.revokeObjectURL(link.href);
}

/** A condition from a file: opened as a cut, checked like any other, kept only when somebody says so. */
function FileButton({ take, refuse }: { take(condition: Condition): void; refuse(problem: string): void }) {
  const read = async (file: File) => {
    try {
      const data = JSON.parse(await file.text()) as { condition?: unknown } | null;
      const condition = parseCondition(data?.condition);
      if (condition.ok) take(condition.value);
      else
        refuse(
          `The condition in the file cannot be read${condition.reason.path && ` at ${condition.reason.path}`}: ${condition.reason.message}`,
        );
    } catch {
      refuse('The file holds no segment. Choose one that was saved here, or a JSON file with a "condition".');
    }
  };
  return (
    <FilePicker look="link" accept="application/json,.json" onFile={(file) => void read(file)}>
      open a file
    </FilePicker>
  );
}
