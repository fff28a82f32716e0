'use client';
import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from '@headlessui/react';
import { X } from 'lucide-react';
import { useEffect, useId, useMemo, useState } from 'react';
import { toast } from 'sonner';
import { branches, EVERYBODY, groupKind, isGroup, type Condition } from '@/core/audience/condition';
import { isEverybody, splitLeftOut, withLeftOut, type Chosen } from '@/core/audience/left-out';
import { CutBuilder } from '@/ui/audience/cut-builder';
import { askServer } from '@/ui/kit/ask';
import { Labelled } from './draft-fields';
import type { AudienceChoices } from './draft-values';

interface Props {
  choices: AudienceChoices;
  /** A condition as JSON text; empty: everybody of the program. */
  audience: string;
  program: string;
  channel: string;
  set(audience: string): void;
  problem: string | undefined;
}

const OWN = 'own';

const readAudience = (audience: string): Chosen =>
  audience === '' ? { base: EVERYBODY, leftOut: [] } : splitLeftOut(JSON.parse(audience) as Condition);

const writeAudience = (chosen: Chosen): string => {
  const condition = withLeftOut(chosen);
  return isEverybody(condition) ? '' : JSON.stringify(condition);
};

const segmentOf = (base: Condition): string | null =>
  !isGroup(base) && base.ask === 'segment' && base.has ? base.id : null;

/** Whom of the program it is for: a segment or a cut made here, and who is left out of them. */
export function AudienceFields(props: Props) {
  const { choices, audience, set, problem } = props;
  const id = useId();
  const chosen = useMemo(() => readAudience(audience), [audience]);
  const segment = segmentOf(chosen.base);
  const [made, setMade] = useState<AudienceChoices['segments']>([]);
  const segments = [...choices.segments, ...made];
  const known = segments.some((one) => one.id === segment);
  const [own, setOwn] = useState(() => !known && !isEverybody(chosen.base));
  const choose = (value: string) => {
    setOwn(value === OWN);
    if (value === OWN) return;
    const base: Condition = value === '' ? EVERYBODY : { ask: 'segment', id: value, has: true };
    set(writeAudience({ ...chosen, base }));
  };
  return (
    <div className="mb-4">
      <div className="grid gap-4 sm:grid-cols-2">
        <Labelled id={`${id}a`} label="Of them" problem={problem}>
          <select
            id={`${id}a`}
            className="input"
            value={own ? OWN : (segment ?? '')}
            onChange={(event) => choose(event.target.value)}
          >
            <option value="">everybody</option>
            {segments.map((one) => (
              <option key={one.id} value={one.id}>
                segment: {one.name}
              </option>
            ))}
            <option value={OWN}>whom I choose here …</option>
          </select>
        </Labelled>
        <LeftOut
          chosen={chosen}
          choices={choices}
          set={(leftOut) => set(writeAudience({ ...chosen, leftOut }))}
        />
      </div>
      {own && (
        <OwnCut
          {...props}
          base={chosen.base}
          change={(base) => set(writeAudience({ ...chosen, base }))}
          kept={(one) => (setMade([...made, one]), choose(one.id))}
        />
      )}
    </div>
  );
}

/** Past broadcasts whose people do not get this one. */
function LeftOut({
  chosen: { leftOut },
  choices,
  set,
}: {
  chosen: Chosen;
  choices: AudienceChoices;
  set(leftOut: string[]): void;
}) {
  const [typed, setTyped] = useState('');
  const id = useId();
  const past = choices.askable.things.filter(({ kind }) => kind === 'broadcast');
  const found = past
    .filter((one) => !leftOut.includes(one.id) && one.name.toLowerCase().includes(typed.trim().toLowerCase()))
    .slice(0, 30);
  return (
    <div>
      <label htmlFor={id} className="mb-1 block text-sm text-soft">
        But not those who got
      </label>
      <Combobox<{ id: string; name: string } | null>
        immediate
        value={null}
        onChange={(one) => {
          if (one) set([...leftOut, one.id]);
          setTyped('');
        }}
      >
        <ComboboxInput
          id={id}
          className="input"
          placeholder={past.length === 0 ? 'nothing was sent yet' : 'a past broadcast …'}
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
        />
        <ComboboxOptions
          anchor="bottom start"
          className="z-20 max-h-80 w-80 overflow-y-auto border border-ink bg-paper py-1 [--anchor-gap:4px] empty:invisible"
        >
          {found.map((one) => (
            <ComboboxOption key={one.id} value={one} className="px-3 py-1 data-focus:bg-paper-2">
              {one.name}
            </ComboboxOption>
          ))}
        </ComboboxOptions>
      </Combobox>
      {leftOut.length > 0 && (
        <ul className="mt-1 flex flex-wrap gap-2">
          {leftOut.map((one) => {
            const name = past.find((broadcast) => broadcast.id === one)?.name ?? 'one that is gone';
            return (
              <li key={one} className="flex items-center gap-1 border border-rule px-2 text-sm">
                {name}
                <button
                  type="button"
                  aria-label={`Do not leave out those who got ${name}`}
                  onClick={() => set(leftOut.filter((other) => other !== one))}
                >
                  <X size={14} aria-hidden="true" />
                </button>
              </li>
            );
          })}
        </ul>
      )}
    </div>
  );
}

/** A cut made where it is needed, with what is left after each line, and kept as a segment by its name. */
function OwnCut({
  base,
  choices,
  program,
  channel,
  change,
  kept,
}: Props & {
  base: Condition;
  change(base: Condition): void;
  kept(segment: { id: string; name: string }): void;
}) {
  const id = useId();
  const [name, setName] = useState('');
  const [problem, setProblem] = useState<string | null>(null);
  const { counts, problems } = useSteps(base, program, channel);
  const keep = async () => {
    const answer = await choices.keepSegment(name, base);
    setProblem(answer.problem);
    if (answer.id === null) return;
    toast(`“${name}” is a segment now.`);
    kept({ id: answer.id, name });
  };
  return (
    <div className="mt-3 border-l-2 border-rule pl-4">
      <CutBuilder
        condition={base}
        askable={choices.askable}
        counts={counts}
        problems={problems}
        change={change}
      />
      <div className="mt-2 flex flex-wrap items-end gap-3">
        <Labelled id={`${id}n`} label="Keep it as a segment called" problem={problem ?? undefined}>
          <input
            id={`${id}n`}
            className="input w-60!"
            value={name}
            maxLength={80}
            onChange={(event) => setName(event.target.value)}
          />
        </Labelled>
        <button
          type="button"
          className="button"
          disabled={name.trim() === '' || isEverybody(base)}
          onClick={() => void keep()}
        >
          Keep
        </button>
      </div>
    </div>
  );
}

interface Steps {
  steps: { count: number }[];
  problems?: { path: string; message: string }[];
}

const NO_STEPS = { counts: null, problems: [] };

/** How many members of the program are left after each line. */
function useSteps(base: Condition, program: string, channel: string) {
  const json = JSON.stringify(stepsOf(base, program, channel));
  const [steps, setSteps] = useState<{ counts: number[] | null; problems: NonNullable<Steps['problems']> }>(
    NO_STEPS,
  );
  useEffect(() => {
    const abort = new AbortController();
    const timer = setTimeout(() => {
      askServer<Steps>('/internal/steps', { condition: json, search: '' }, abort.signal).then(
        // The first line is the program.
        (answer) =>
          setSteps({
            counts: answer.steps.slice(1).map(({ count }) => count),
            problems: answer.problems ?? [],
          }),
        () => !abort.signal.aborted && setSteps(NO_STEPS),
      );
    }, 250);
    return () => {
      clearTimeout(timer);
      abort.abort();
    };
  }, [json]);
  return steps;
}

function stepsOf(base: Condition, program: string, channel: string): Condition {
  const member: Condition = {
    ...{ ask: 'consent', program, state: 'in', has: true },
    ...(channel === 'email' ? { channel: 'email' } : {}),
  };
  return { all: [member, ...(isGroup(base) && groupKind(base) === 'all' ? branches(base) : [base])] };
}
