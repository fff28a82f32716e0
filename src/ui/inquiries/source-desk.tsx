'use client';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { useState } from 'react';
import type { AssignmentRule } from '@/core/inquiry/assign';
import type { Mapping } from '@/core/inquiry/mapping';
import { SIGNING_WORDS, type Signing } from '@/core/inquiry/signing';
import { Saving, useDesk } from '@/ui/kit/desk';
import { LabelledChoice, LabelledInput, LabelledText, problemOf, type Problems } from '@/ui/kit/labelled';
import { Section } from '@/ui/kit/page';
import { Problem } from '@/ui/kit/problem';
import { Several, type Named } from '@/ui/programs/gives';
import { MappingDesk, Otherwise, TriedOn, type MappingChoices } from './mapping-desk';

export interface SourceDraft {
  name: string;
  program: string;
  mapping: Mapping;
  assignment: AssignmentRule;
  signs: Signing;
  signHeader: string;
  /** Domains as they are typed, with commas between. */
  lettersFrom: string;
  wording: string;
  /** As it is typed, in whole units with a point. */
  cost: string;
  labels: string[];
  begins: { sequence: string; kind: string }[];
}

interface Props extends MappingChoices {
  source: SourceDraft & { id: string; stamp: number };
  choices: {
    programs: Named[];
    labels: (Named & { kind: 'tag' | 'list' })[];
    sequences: Named[];
    team: Named[];
  };
  /** Nothing is mapped yet, and this is proposed. */
  proposed: Mapping['rules'];
  mayEdit: boolean;
  save(id: string, stamp: number, draft: SourceDraft, press: string): Promise<Problems>;
  /** Below what is tried. */
  margin: React.ReactNode;
}

/** A source: what came through it and where its values go, who gets it, and what follows. */
export function SourceDesk(props: Props) {
  const [client] = useState(() => new QueryClient());
  return (
    <QueryClientProvider client={client}>
      <Desk {...props} />
    </QueryClientProvider>
  );
}

function Desk(props: Props) {
  const { source, mayEdit, proposed } = props;
  const { id, stamp, ...before } = source;
  const fresh = before.mapping.rules.length === 0 && proposed.length > 0;
  const start = fresh ? { ...before, mapping: { ...before.mapping, rules: proposed } } : before;
  const desk = useDesk<SourceDraft>(before, stamp, { first: start });
  const { now, set, problems } = desk;
  return (
    <div className="grid gap-x-10 gap-y-8 lg:grid-cols-[minmax(0,1fr)_22rem]">
      <form
        className="min-w-0"
        onSubmit={desk.saving((draft, on, press) => props.save(id, on, draft, press))}
      >
        <fieldset disabled={!mayEdit}>
          <MappingDesk {...props} mapping={now.mapping} set={(mapping) => set({ mapping })} />
          {now.mapping.rules.length > 0 && (
            <Otherwise mapping={now.mapping} set={(mapping) => set({ mapping })} own={props.own} />
          )}
          <Problem>{problemOf(problems, 'mapping')}</Problem>
          <Assignment {...{ now, set, problems }} team={props.choices.team} />
          <Follows {...{ now, set, problems }} choices={props.choices} />
          <About {...{ now, set, problems }} programs={props.choices.programs} />
          <Saving desk={desk} waits={fresh ? 'proposed, not saved yet' : 'not saved yet'} />
        </fieldset>
      </form>
      <aside aria-label="Margin" className="min-w-0 border-rule lg:border-l lg:pl-6">
        {props.samples.length > 0 && <TriedOn source={id} mapping={now.mapping} own={props.own} />}
        {props.margin}
      </aside>
    </div>
  );
}

interface PartProps {
  now: SourceDraft;
  set(part: Partial<SourceDraft>): void;
  problems: Problems['problems'];
}

function Assignment({ now, set, problems, team }: PartProps & { team: Named[] }) {
  const { assignment } = now;
  const change = (part: Partial<AssignmentRule>) => set({ assignment: { ...assignment, ...part } });
  const tick = (label: string, on: boolean, to: (on: boolean) => void) => (
    <label className="flex items-baseline gap-2 py-0.5">
      <input type="checkbox" checked={on} onChange={(event) => to(event.target.checked)} />
      {label}
    </label>
  );
  return (
    <Section title="Who gets it">
      <div className="grid gap-x-8 gap-y-3 sm:grid-cols-2">
        <Several
          legend="Among"
          none="There is no teammate who answers people yet."
          all={team}
          chosen={assignment.among}
          choose={(among) => change({ among })}
          problem={problemOf(problems, 'assignment')}
        />
        <div>
          <LabelledChoice
            {...{ name: 'by', label: 'One after the other', problems }}
            value={assignment.by}
            options={[
              ['turn', 'in turn'],
              ['load', 'to who has the fewest open'],
            ]}
            set={(by) => change({ by: by as AssignmentRule['by'] })}
          />
          {tick('Whoever belongs to a teammate stays theirs', assignment.keepsOwner, (keepsOwner) =>
            change({ keepsOwner }),
          )}
          {tick('Only to who is on, if anybody is', assignment.onlyOnDuty, (onlyOnDuty) =>
            change({ onlyOnDuty }),
          )}
        </div>
      </div>
      {now.mapping.kinds.length > 0 && (
        <div className="mt-3 grid gap-x-6 sm:grid-cols-2">
          {now.mapping.kinds.map(({ kind }) => (
            <LabelledChoice
              key={kind}
              {...{ name: `kind-${kind}`, label: `Of the kind “${kind}”`, problems }}
              value={assignment.kinds[kind] ?? ''}
              options={[
                ['', 'as all others'],
                ...team.map(({ id, name }) => [id, `always ${name}`] as const),
              ]}
              set={(account) => {
                const { [kind]: _, ...others } = assignment.kinds;
                change({ kinds: account === '' ? others : { ...others, [kind]: account } });
              }}
            />
          ))}
        </div>
      )}
    </Section>
  );
}

function Follows({ now, set, problems, choices }: PartProps & { choices: Props['choices'] }) {
  const kinds = ['', ...now.mapping.kinds.map(({ kind }) => kind), now.mapping.otherKind];
  return (
    <Section title="What follows">
      <p className="mb-2 max-w-prose text-sm text-soft">
        The first line of a sequence that begins so goes at once, at any hour: it is the answer to them. By
        text it may be followed up for a week; for longer, put “asks for their YES” into it. By e-mail the
        rules for e-mail hold.
      </p>
      {now.begins.map(({ sequence, kind }, place) => (
        <div key={place} className="mb-2 flex flex-wrap items-center gap-2">
          <select
            className="input w-auto"
            aria-label={`Sequence ${place + 1}`}
            value={sequence}
            onChange={(event) =>
              set({ begins: replaced(now.begins, place, { sequence: event.target.value }) })
            }
          >
            {choices.sequences.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </select>
          <span className="text-sm text-soft">for</span>
          <select
            className="input w-auto"
            aria-label={`Of which kind, ${place + 1}`}
            value={kind}
            onChange={(event) => set({ begins: replaced(now.begins, place, { kind: event.target.value }) })}
          >
            {[...new Set([...kinds, kind])].map((one) => (
              <option key={one} value={one}>
                {one === '' ? 'every kind' : one}
              </option>
            ))}
          </select>
          <button
            type="button"
            className="link"
            onClick={() => set({ begins: now.begins.filter((_, i) => i !== place) })}
          >
            remove
          </button>
        </div>
      ))}
      {choices.sequences.length === 0 ? (
        <p className="text-soft">There is no sequence yet: make one under Sequences, then choose it here.</p>
      ) : (
        <button
          type="button"
          className="button"
          onClick={() => set({ begins: [...now.begins, { sequence: choices.sequences[0]!.id, kind: '' }] })}
        >
          Begin a sequence
        </button>
      )}
      <Problem>{problemOf(problems, 'begins')}</Problem>
      <div className="mt-3 max-w-sm">
        <Several
          legend="Tags and lists they get"
          none="None yet: make one on People."
          all={choices.labels.map(({ id, name, kind }) => ({ id, name, more: kind }))}
          chosen={now.labels}
          choose={(labels) => set({ labels })}
          problem={problemOf(problems, 'labels')}
        />
      </div>
    </Section>
  );
}

const replaced = <T,>(list: T[], place: number, part: Partial<T>): T[] =>
  list.map((one, i) => (i === place ? { ...one, ...part } : one));

function About({ now, set, problems, programs }: PartProps & { programs: Named[] }) {
  return (
    <Section title="The source">
      <div className="grid gap-x-6 sm:grid-cols-2">
        <LabelledInput
          {...{ name: 'name', label: 'Name', problems, maxLength: 80 }}
          value={now.name}
          set={(name) => set({ name })}
        />
        <LabelledChoice
          {...{ name: 'program', label: 'Program an inquiry belongs to', problems }}
          value={now.program}
          options={programs.map(({ id, name }) => [id, name] as const)}
          set={(program) => set({ program })}
        />
        <LabelledChoice
          {...{ name: 'signs', label: 'How the sender signs', problems }}
          value={now.signs}
          options={Object.entries(SIGNING_WORDS)}
          set={(signs) => set({ signs: signs as Signing })}
        />
        {now.signs === 'header' && (
          <LabelledInput
            {...{ name: 'sign_header', label: 'In the header', problems, maxLength: 80 }}
            placeholder="x-signature"
            value={now.signHeader}
            set={(signHeader) => set({ signHeader })}
          />
        )}
        <LabelledInput
          {...{
            name: 'letters_from',
            label: 'Letters count only from these domains; empty: from any',
            problems,
          }}
          placeholder="portal.example.org"
          value={now.lettersFrom}
          set={(lettersFrom) => set({ lettersFrom })}
        />
        <LabelledInput
          {...{ name: 'cost_cents', label: 'What one inquiry costs', problems, inputMode: 'decimal' }}
          placeholder="not entered"
          value={now.cost}
          set={(cost) => set({ cost })}
        />
        <LabelledText
          {...{
            name: 'wording',
            label: 'Words beside the box they tick there for texts; empty: none',
            problems,
          }}
          maxLength={600}
          value={now.wording}
          set={(wording) => set({ wording })}
        />
      </div>
    </Section>
  );
}
