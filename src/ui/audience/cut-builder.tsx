'use client';
import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from '@headlessui/react';
import { X } from 'lucide-react';
import { useMemo, useState } from 'react';
import {
  branches,
  groupKind,
  groupOf,
  isGroup,
  type Condition,
  type Group,
  type GroupKind,
  type Leaf,
} from '@/core/audience/condition';
import { suggest, type Suggestion } from '@/core/audience/suggest';
import { Choice, LeafEditor, type Askable } from './leaf-editor';
import { count } from '@/ui/kit/numbers';

interface Props {
  condition: Condition;
  askable: Askable;
  /** People left after each branch of the top group; null while they are counted. */
  counts: number[] | null;
  problems: { path: string; message: string }[];
  change(condition: Condition): void;
}

/** A condition as ruled lines that read as a sentence; groups are indented, each line can be changed or taken out. */
export function CutBuilder({ condition, askable, counts, problems, change }: Props) {
  const group: Group = isGroup(condition) ? condition : { all: [condition] };
  return (
    <GroupLines group={group} path="" askable={askable} counts={counts} problems={problems} change={change} />
  );
}

const JOIN_WORDS: Record<GroupKind, string> = { all: 'and', any: 'or', none: 'nor' };

interface GroupProps {
  group: Group;
  path: string;
  askable: Askable;
  counts: number[] | null;
  problems: Props['problems'];
  change(group: Group): void;
  remove?(): void;
}

function GroupLines({ group, path, askable, counts, problems, change, remove }: GroupProps) {
  const kind = groupKind(group);
  const children = branches(group);
  const put = (i: number, ...replacement: Condition[]) =>
    change(groupOf(kind, [...children.slice(0, i), ...replacement, ...children.slice(i + 1)]));
  const here = problems.filter((problem) => problem.path === path);
  return (
    <div role="group" aria-label={path === '' ? 'Cut' : 'Group'}>
      <div className="flex flex-wrap items-center gap-2 py-1">
        <span className="text-soft">{path === '' ? 'People who meet' : 'meet'}</span>
        <Choice
          label="How the conditions are joined"
          value={kind}
          options={[
            ['all', 'all of these'],
            ['any', 'any of these'],
            ['none', 'none of these'],
          ]}
          set={(next) => change(groupOf(next as GroupKind, children))}
        />
        {remove && <Remove label="Take this group out" act={remove} />}
        {here.map(({ message }) => (
          <span key={message} role="alert" className="text-bad">
            {message}
          </span>
        ))}
      </div>
      <ul className="border-l border-rule pl-3">
        {children.map((branch, i) => {
          const place = `${path === '' ? '' : `${path}.`}${kind}.${i}`;
          return (
            <li key={i} className="border-b border-rule py-1">
              {isGroup(branch) ? (
                <div className="flex items-start justify-between gap-3">
                  <div className="min-w-0 flex-1">
                    {i > 0 && <span className="text-soft">{JOIN_WORDS[kind]}</span>}
                    <GroupLines
                      group={branch}
                      path={place}
                      askable={askable}
                      counts={null}
                      problems={problems}
                      change={(next) => put(i, next)}
                      remove={() => put(i)}
                    />
                  </div>
                  <Left counts={counts} at={i} />
                </div>
              ) : (
                <div className="flex flex-wrap items-center gap-2">
                  {i > 0 && <span className="w-7 text-soft">{JOIN_WORDS[kind]}</span>}
                  <LeafEditor leaf={branch} askable={askable} change={(leaf) => put(i, leaf)} />
                  <Remove label="Take this condition out" act={() => put(i)} />
                  <Left counts={counts} at={i} />
                  <Problems at={place} problems={problems} />
                </div>
              )}
            </li>
          );
        })}
        <li className="flex flex-wrap items-center gap-3 py-1.5">
          <NewCondition askable={askable} add={(leaf) => change(groupOf(kind, [...children, leaf]))} />
          <button
            type="button"
            className="link"
            onClick={() => change(groupOf(kind, [...children, groupOf(kind === 'any' ? 'all' : 'any', [])]))}
          >
            add a group
          </button>
        </li>
      </ul>
    </div>
  );
}

const Problems = ({ at, problems }: { at: string; problems: Props['problems'] }) =>
  problems
    .filter(({ path }) => path === at)
    .map(({ message }) => (
      <span key={message} role="alert" className="w-full text-bad">
        {message}
      </span>
    ));

const Remove = ({ label, act }: { label: string; act(): void }) => (
  <button
    type="button"
    aria-label={label}
    title={label}
    className="p-1 text-soft hover:text-ink"
    onClick={act}
  >
    <X size={15} aria-hidden="true" />
  </button>
);

/** What is left after a line: the line that empties a cut is seen at once. */
function Left({ counts, at }: { counts: number[] | null; at: number }) {
  const left = counts?.[at];
  return (
    <span className={`ml-auto whitespace-nowrap ${left === 0 ? 'text-bad' : 'text-soft'}`}>
      {left === undefined ? '' : left === 0 ? 'nobody left' : `${count(left)} left`}
    </span>
  );
}

/** Typing finds a condition: “saturn”, “colorado”, “replied”. */
function NewCondition({ askable, add }: { askable: Askable; add(leaf: Leaf): void }) {
  const [typed, setTyped] = useState('');
  const fields = useMemo(() => new Map(askable.fields.map((field) => [field.name, field])), [askable]);
  const found = useMemo(() => suggest(typed, askable.things, fields), [typed, askable, fields]);
  return (
    <Combobox<Suggestion | null>
      immediate
      value={null}
      onChange={(suggestion) => {
        if (suggestion) add(suggestion.leaf);
        setTyped('');
      }}
    >
      <ComboboxInput
        aria-label="Add a condition"
        placeholder="Add a condition: a tag, a program, replied …"
        className="input w-96! max-w-full py-0.5!"
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
      />
      <ComboboxOptions
        anchor="bottom start"
        className="z-20 max-h-80 w-96 overflow-y-auto border border-ink bg-paper py-1 [--anchor-gap:4px] empty:invisible"
      >
        {found.map((suggestion, i) => (
          <ComboboxOption
            // With each letter the highlight begins anew at the first: what Enter takes is what stands there now.
            key={`${typed} ${i}`}
            value={suggestion}
            className="px-3 py-1 data-focus:bg-paper-2"
          >
            {suggestion.words}
          </ComboboxOption>
        ))}
        {found.length === 0 && <p className="px-3 py-1 text-soft">Nothing here is called that.</p>}
      </ComboboxOptions>
    </Combobox>
  );
}
