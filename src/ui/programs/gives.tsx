'use client';
import { MERGE_FIELDS, VOUCHER_FIELDS } from '@/core/text/fields';
import { LabelledChoice, problemOf, type Problems } from '@/ui/kit/labelled';
import { Section } from '@/ui/kit/page';
import { Problem } from '@/ui/kit/problem';
import { Writer } from '@/ui/kit/writer';

export interface Named {
  id: string;
  name: string;
}

/** What joining gives somebody, by a keyword or a form, and its first words. */
export interface Giving {
  /** A template; empty: the words of the program. */
  welcome: string;
  labels: string[];
  sequences: string[];
  offer: string | null;
}

export interface GivingChoices {
  labels: (Named & { kind: 'tag' | 'list' })[];
  sequences: Named[];
  offers: (Named & { words: string })[];
}

interface PartProps {
  now: Giving;
  set(part: Partial<Giving>): void;
  problems: Problems['problems'];
}

export function FirstWords({
  now,
  set,
  program,
  problems,
}: PartProps & { program: { name: string; welcome: string } }) {
  const fields =
    now.offer === null ? MERGE_FIELDS.slice(0, 1) : [...MERGE_FIELDS.slice(0, 1), ...VOUCHER_FIELDS];
  return (
    <Section title="First words">
      <p className="mb-1 text-sm text-soft">
        They go before the required wording. Empty: those of {program.name}
        {program.welcome ? `, “${program.welcome}”` : ', which has none'}.
      </p>
      <Writer
        label="The words"
        initial={now.welcome}
        value={now.welcome}
        onChange={(welcome) => set({ welcome })}
        fields={fields}
        counts
        checked={{ program: program.name, channel: 'sms', answers: true }}
        problem={problemOf(problems, 'welcome')}
      />
    </Section>
  );
}

export function Gives({ now, set, choices, problems }: PartProps & { choices: GivingChoices }) {
  return (
    <Section title="What it gives">
      <div className="grid gap-x-8 gap-y-3 sm:grid-cols-2">
        <Several
          legend="Tags and lists"
          none="None yet: make one on People."
          all={choices.labels.map(({ id, name, kind }) => ({ id, name, more: kind }))}
          chosen={now.labels}
          choose={(labels) => set({ labels })}
          problem={problemOf(problems, 'labels')}
        />
        <Several
          legend="Sequences it starts"
          none="No sequence runs."
          all={choices.sequences}
          chosen={now.sequences}
          choose={(sequences) => set({ sequences })}
          problem={problemOf(problems, 'sequences')}
        />
      </div>
      <div className="mt-3 max-w-xs">
        <LabelledChoice
          {...{ name: 'offer', label: 'An offer: each gets a voucher of their own', problems }}
          value={now.offer ?? ''}
          options={[['', 'none'], ...choices.offers.map(({ id, name }) => [id, name] as const)]}
          set={(offer) => set({ offer: offer || null })}
        />
      </div>
    </Section>
  );
}

export function Several({
  legend,
  none,
  all,
  chosen,
  choose,
  problem,
}: {
  legend: string;
  none: string;
  all: (Named & { more?: string })[];
  chosen: string[];
  choose(ids: string[]): void;
  problem: string | null;
}) {
  return (
    <fieldset>
      <legend className="mb-1 text-sm text-soft">{legend}</legend>
      {all.length === 0 && <p className="text-soft">{none}</p>}
      <div className="max-h-44 overflow-y-auto">
        {all.map(({ id, name, more }) => (
          <label key={id} className="flex items-baseline gap-2 py-0.5">
            <input
              type="checkbox"
              checked={chosen.includes(id)}
              onChange={(event) =>
                choose(event.target.checked ? [...chosen, id] : chosen.filter((one) => one !== id))
              }
            />
            <span className="min-w-0 break-words">{name}</span>
            {more && <span className="text-sm text-soft">{more}</span>}
          </label>
        ))}
      </div>
      <Problem>{problem}</Problem>
    </fieldset>
  );
}
