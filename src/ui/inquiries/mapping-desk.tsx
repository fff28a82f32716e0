'use client';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import {
  INQUIRY_TARGET_WORDS,
  PLAIN_TARGETS,
  type InquiryTarget,
  type KindRule,
  type Mapping,
  type OwnTarget,
} from '@/core/inquiry/mapping';
import { ARRIVAL_WORDS, type ArrivalState } from '@/core/inquiry/arrival';
import { otherwiseAt, putAt, targetAt } from '@/core/inquiry/place';
import { leavesOf, FORMAT_WORDS, type ArrivalFormat, type Tree } from '@/core/inquiry/tree';
import { TARGET_WORDS } from '@/core/import/columns';
import type { Tried } from '@/core/inquiry/tried';
import { askServer } from '@/ui/kit/ask';
import { Mark, type Tone } from '@/ui/kit/mark';
import { plural } from '@/ui/kit/numbers';
import { Section } from '@/ui/kit/page';
import { shortTime } from '@/ui/kit/time';

export interface Sample {
  id: string;
  format: ArrivalFormat;
  content: Tree;
  state: ArrivalState;
  because: string | null;
  at: string;
}

export interface ShownProposal {
  pointer: string;
  to: InquiryTarget | null;
  because: string;
}

export interface MappingChoices {
  samples: Sample[];
  proposals: ShownProposal[];
  own: { key: string; label: string }[];
  zone: string;
  now: number;
}

interface Props extends MappingChoices {
  mapping: Mapping;
  set(mapping: Mapping): void;
}

const TONES: Record<ArrivalState, Tone> = {
  ...{ received: 'wait', taken: 'good', unread: 'bad', known: 'plain', dropped: 'plain' },
};

const wordsOf = (to: string, own: MappingChoices['own']): string =>
  INQUIRY_TARGET_WORDS[to as OwnTarget] ??
  own.find(({ key }) => to === `own.${key}`)?.label ??
  TARGET_WORDS[to] ??
  'a field that is gone';

/** The last things that came as they came, each value with the field it goes to. */
export function MappingDesk(props: Props) {
  const { samples, mapping, set, zone, now } = props;
  const [at, setAt] = useState(0);
  const sample = samples[Math.min(at, samples.length - 1)];
  if (!sample)
    return (
      <Section title="What comes">
        <p className="max-w-prose text-soft">
          Nothing came yet. Send one inquiry to the address in the margin, or a letter to its mailbox: it
          stands here as it came, and you put its values on fields. Nothing is lost meanwhile.
        </p>
      </Section>
    );
  return (
    <Section
      title="What came, as it came"
      note={`${FORMAT_WORDS[sample.format]}, ${shortTime(new Date(sample.at), now, zone)}`}
    >
      {samples.length > 1 && (
        <p className="mb-2 flex flex-wrap items-center gap-3">
          <button type="button" className="button" disabled={at === 0} onClick={() => setAt(at - 1)}>
            Newer
          </button>
          <button
            type="button"
            className="button"
            disabled={at >= samples.length - 1}
            onClick={() => setAt(at + 1)}
          >
            Older
          </button>
          <span className="text-soft">
            {at + 1} of the last {samples.length}
          </span>
        </p>
      )}
      <p className="mb-2">
        <Mark tone={TONES[sample.state]}>{ARRIVAL_WORDS[sample.state]}</Mark>
        {sample.because && <span className="text-soft">: {sample.because}</span>}
      </p>
      <Values {...props} sample={sample} />
      <Kinds mapping={mapping} set={set} />
    </Section>
  );
}

function Values({ sample, mapping, set, proposals, own }: Props & { sample: Sample }) {
  const leaves = leavesOf(sample.content);
  return (
    <table className="list-table mb-6 w-full" aria-label="Values that came">
      <thead>
        <tr>
          <th className="w-1/4">Called</th>
          <th>Value</th>
          <th className="w-[15rem]">Goes to</th>
        </tr>
      </thead>
      <tbody>
        {leaves.map(({ pointer, value }) => {
          const to = targetAt(mapping.rules, pointer);
          const proposal = proposals.find((one) => one.pointer === pointer);
          return (
            <tr key={pointer}>
              <td data-title="Called" className="[overflow-wrap:anywhere]">
                {pointer.slice(1).replaceAll('~1', '/').replaceAll('~0', '~')}
              </td>
              <td data-title="Value" className="[overflow-wrap:anywhere]">
                {value}
              </td>
              <td data-title="Goes to">
                <select
                  className="input"
                  aria-label={`Goes to: ${pointer.slice(1)}`}
                  value={to ?? ''}
                  onChange={(event) =>
                    set(putAt(mapping, pointer, (event.target.value || null) as InquiryTarget | null))
                  }
                >
                  <option value="">nowhere</option>
                  {[...PLAIN_TARGETS, ...own.map(({ key }) => `own.${key}` as const)].map((target) => (
                    <option key={target} value={target}>
                      {wordsOf(target, own)}
                    </option>
                  ))}
                </select>
                {to === null && proposal?.to && (
                  <button
                    type="button"
                    className="link mt-0.5 text-sm"
                    onClick={() => set(putAt(mapping, pointer, proposal.to))}
                  >
                    {wordsOf(proposal.to, own)}: {proposal.because}
                  </button>
                )}
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

/** Kinds of inquiries and the words by which they are known. */
function Kinds({ mapping, set }: Pick<Props, 'mapping' | 'set'>) {
  const { kinds } = mapping;
  const change = (place: number, part: Partial<KindRule>) =>
    set({ ...mapping, kinds: kinds.map((one, i) => (i === place ? { ...one, ...part } : one)) });
  return (
    <fieldset className="mb-4">
      <legend className="mb-1 font-semibold">Kinds of inquiry</legend>
      <p className="mb-2 max-w-prose text-sm text-soft">
        A kind is known by its name, or by these words in what they chose or wrote. Sequences and teammates
        can be chosen by kind.
      </p>
      {kinds.map(({ kind, words }, place) => (
        <div key={place} className="mb-2 grid gap-2 sm:grid-cols-[12rem_minmax(0,1fr)_auto]">
          <input
            className="input"
            aria-label={`Kind ${place + 1}`}
            maxLength={60}
            value={kind}
            onChange={(event) => change(place, { kind: event.target.value })}
          />
          <input
            className="input"
            aria-label={`Words that mean ${kind}`}
            placeholder="class trip, school"
            defaultValue={words.join(', ')}
            onBlur={(event) => change(place, { words: listed(event.target.value) })}
          />
          <button
            type="button"
            className="link"
            onClick={() => set({ ...mapping, kinds: kinds.filter((_, i) => i !== place) })}
          >
            remove
          </button>
        </div>
      ))}
      <div className="flex flex-wrap items-center gap-3">
        <button
          type="button"
          className="button"
          onClick={() => set({ ...mapping, kinds: [...kinds, { kind: '', words: [] }] })}
        >
          Another kind
        </button>
        <label className="flex items-center gap-2">
          <span className="text-sm text-soft">the others are</span>
          <input
            className="input w-44"
            maxLength={60}
            value={mapping.otherKind}
            onChange={(event) => set({ ...mapping, otherKind: event.target.value })}
          />
        </label>
      </div>
    </fieldset>
  );
}

const listed = (text: string): string[] =>
  text
    .split(/[,;]/)
    .map((word) => word.trim())
    .filter((word) => word !== '');

/** What would be read of everything that came, as it is mapped now. */
export function TriedOn({
  source,
  mapping,
  own,
}: { source: string; mapping: Mapping } & Pick<MappingChoices, 'own'>) {
  const json = JSON.stringify(mapping);
  const { data, error, isFetching } = useQuery({
    queryKey: ['inquiries', 'try', source, json],
    queryFn: ({ signal }) =>
      askServer<{ tried: ({ id: string } & Tried)[] }>(
        '/internal/inquiries',
        { source, mapping: json },
        signal,
      ),
    placeholderData: (before) => before,
  });
  const tried = data?.tried ?? [];
  const read = tried.filter(({ problem }) => problem === null);
  const [first] = read;
  return (
    <Section title="What is read" note={isFetching ? 'trying …' : undefined}>
      {error && <p className="text-bad">{error.message}</p>}
      {tried.length > 0 && (
        <p className="mb-2" role="status">
          <Mark tone={read.length === tried.length ? 'good' : 'wait'}>
            {read.length} of {plural(tried.length, 'that came', 'that came')} can be read
          </Mark>
        </p>
      )}
      {first && (
        <dl className="mb-3">
          {first.rows.map(([what, value]) => (
            <div key={what} className="flex justify-between gap-3 border-b border-rule py-1">
              <dt className="text-soft">{what}</dt>
              <dd className="min-w-0 [overflow-wrap:anywhere] text-right">{value}</dd>
            </div>
          ))}
        </dl>
      )}
      {[...new Set(tried.flatMap(({ problem }) => problem ?? []))].map((problem) => (
        <p key={problem} className="text-bad">
          {problem}
        </p>
      ))}
      {[...new Set(tried.flatMap(({ told }) => told))].slice(0, 5).map((one) => (
        <p key={one} className="text-sm text-wait">
          {one}
        </p>
      ))}
      <Places mapping={mapping} own={own} />
    </Section>
  );
}

/** Which values make which field. */
const Places = ({ mapping, own }: { mapping: Mapping } & Pick<MappingChoices, 'own'>) => (
  <details className="mt-2">
    <summary className="cursor-pointer text-soft">{plural(mapping.rules.length, 'field')} mapped</summary>
    <ul className="text-sm">
      {mapping.rules.map(({ to, from, otherwise }) => (
        <li key={to} className="border-b border-rule py-0.5 [overflow-wrap:anywhere]">
          {wordsOf(to, own)}: {from.join(' and ') || '–'}
          {otherwise !== undefined && <span className="text-soft">, else “{otherwise}”</span>}
        </li>
      ))}
    </ul>
  </details>
);

/** What stands where nothing came, for a field that is mapped. */
export function Otherwise({ mapping, set, own }: Pick<Props, 'mapping' | 'set' | 'own'>) {
  const [to, setTo] = useState<InquiryTarget>('words');
  const rule = mapping.rules.find((one) => one.to === to);
  return (
    <div className="mb-4 flex flex-wrap items-center gap-2">
      <span className="text-sm text-soft">Where nothing comes for</span>
      <select
        className="input w-auto"
        aria-label="Field without a value"
        value={to}
        onChange={(event) => setTo(event.target.value as InquiryTarget)}
      >
        {mapping.rules.map((one) => (
          <option key={one.to} value={one.to}>
            {wordsOf(one.to, own)}
          </option>
        ))}
      </select>
      <span className="text-sm text-soft">take</span>
      <input
        className="input w-56"
        aria-label="Value that stands there"
        maxLength={200}
        value={rule?.otherwise ?? ''}
        disabled={!rule}
        onChange={(event) => set(otherwiseAt(mapping, to, event.target.value))}
      />
    </div>
  );
}
