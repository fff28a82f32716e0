'use client';
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react';
import { Pin } from 'lucide-react';
import { useState } from 'react';
import type { Condition } from '@/core/audience/condition';
import { parseCondition } from '@/core/audience/parse';

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

interface Props {
  segments: SegmentView[];
  current: SegmentView | null;
  me: string;
  teammates: { id: string; name: string }[];
  open(segment: SegmentView | null): void;
  acts: SegmentActs;
}

const ITEM = 'block w-full px-3 py-1 text-left data-focus:bg-paper-2';

/** The segments, pinned ones first, and what can be done with the one that is open. */
export function SegmentBar({ segments, current, me, teammates, open, acts }: Props) {
  const [problem, setProblem] = useState<string | null>(null);
  const [asking, setAsking] = useState<'rename' | 'share' | 'delete' | null>(null);
  const act = async (verb: SegmentVerb) => {
    setAsking(null);
    const refused = current ? await acts.change(current.id, verb) : null;
    setProblem(refused);
    if (verb.verb === 'delete' && refused === null) open(null);
  };
  return (
    <div className="mb-2 border-b border-rule pb-2">
      <nav aria-label="Segments" className="flex flex-wrap items-center gap-x-1 gap-y-1">
        <Tab here={current === null} act={() => open(null)}>
          Everybody
        </Tab>
        {segments.map((segment) => (
          <Tab key={segment.id} here={segment.id === current?.id} act={() => open(segment)}>
            {segment.pinned && <Pin size={12} aria-label="pinned" className="mr-1 inline" />}
            {segment.name}
          </Tab>
        ))}
        {current && (
          <Menu>
            <MenuButton className="button ml-auto py-0.5">Segment …</MenuButton>
            <MenuItems
              anchor="bottom end"
              className="z-20 w-56 border border-ink bg-paper py-1 [--anchor-gap:4px] focus:outline-none"
            >
              {(
                [
                  ['Rename …', () => setAsking('rename')],
                  ['Copy', () => void act({ verb: 'copy' })],
                  [current.pinned ? 'Unpin' : 'Pin', () => void act({ verb: 'pin', on: !current.pinned })],
                  ['Move earlier', () => void act({ verb: 'move', up: true })],
                  ['Move later', () => void act({ verb: 'move', up: false })],
                  ...(current.ownerId === me ? ([['Share …', () => setAsking('share')]] as const) : []),
                  ['Save as a file', () => saveFile(current)],
                  ['Delete …', () => setAsking('delete')],
                ] as const
              ).map(([words, run]) => (
                <MenuItem key={words}>
                  <button className={ITEM} onClick={run}>
                    {words}
                  </button>
                </MenuItem>
              ))}
            </MenuItems>
          </Menu>
        )}
        <FileButton
          take={(condition) => open({ ...BLANK, condition })}
          refuse={setProblem}
          away={current !== null}
        />
      </nav>
      {current && asking === 'rename' && (
        <Rename name={current.name} act={(name) => void act({ verb: 'rename', name })} />
      )}
      {current && asking === 'share' && (
        <Share
          segment={current}
          teammates={teammates.filter(({ id }) => id !== me)}
          act={(shared, accounts) => void act({ verb: 'share', shared, accounts })}
        />
      )}
      {current && asking === 'delete' && (
        <p className="mt-2 flex flex-wrap items-center gap-3">
          Delete “{current.name}”? The people stay.
          <button className="button" onClick={() => void act({ verb: 'delete' })}>
            Delete the segment
          </button>
          <button className="link" onClick={() => setAsking(null)}>
            keep it
          </button>
        </p>
      )}
      {problem && (
        <p role="alert" className="mt-2 border-l-2 border-bad pl-3 text-bad">
          {problem}
        </p>
      )}
    </div>
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

const Tab = ({ here, act, children }: { here: boolean; act(): void; children: React.ReactNode }) => (
  <button
    type="button"
    aria-current={here ? 'true' : undefined}
    className={`px-2 py-0.5 ${here ? 'border-b-2 border-accent font-semibold' : 'hover:bg-paper-2'}`}
    onClick={act}
  >
    {children}
  </button>
);

function Rename({ name, act }: { name: string; act(name: string): void }) {
  const [typed, setTyped] = useState(name);
  return (
    <form className="mt-2 flex gap-2" onSubmit={(event) => (event.preventDefault(), act(typed))}>
      <input
        aria-label="New name"
        className="input w-64!"
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
function FileButton({
  take,
  refuse,
  away,
}: {
  take(condition: Condition): void;
  refuse(problem: string): void;
  away: boolean;
}) {
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
    <label
      className={`link cursor-pointer ${away ? '' : 'ml-auto'} focus-within:outline-2 focus-within:outline-accent`}
    >
      open a file
      <input
        type="file"
        accept="application/json,.json"
        className="sr-only"
        onChange={(event) => {
          const file = event.target.files?.[0];
          if (file) void read(file);
          event.target.value = '';
        }}
      />
    </label>
  );
}
