'use client';
import { commaList } from '@/core/shared/comma-list';
import { useState } from 'react';
import { CONSEQUENCES, FAILURE_WORDS, type FailureReason } from '@/core/delivery/failure';
import { CHANNELS, CHANNEL_WORDS } from '@/core/message/channel';
import type {
  AskedConsent,
  AskedVoucher,
  ConsentLeaf,
  FieldLeaf,
  Leaf,
  Target,
  VoucherLeaf,
} from '@/core/audience/condition';
import { TEST_WORDS, TESTS_OF, type AskableField } from '@/core/audience/fields';
import type { NamedThing } from '@/core/audience/suggest';

/** What the conditions of this workspace can name. */
export interface Askable {
  fields: AskableField[];
  things: NamedThing[];
}

interface Props<L extends Leaf = Leaf> {
  leaf: L;
  askable: Askable;
  change(leaf: Leaf): void;
}

/** One condition as a sentence whose words can be changed. */
export function LeafEditor({ leaf, askable, change }: Props) {
  switch (leaf.ask) {
    case 'field':
      return <FieldWords leaf={leaf} askable={askable} change={change} />;
    case 'tag':
    case 'list':
    case 'segment':
    case 'import':
    case 'batch': {
      const [yes, no] = HAS_WORDS[leaf.ask];
      return (
        <>
          <YesNo has={leaf.has} yes={yes} no={no} set={(has) => change({ ...leaf, has })} />
          <Thing kind={leaf.ask} id={leaf.id} askable={askable} set={(id) => change({ ...leaf, id })} />
        </>
      );
    }
    case 'voucher':
      return <VoucherWords leaf={leaf} askable={askable} change={change} />;
    case 'consent':
      return (
        <>
          <YesNo has={leaf.has} yes="who" no="who not" set={(has) => change({ ...leaf, has })} />
          <Choice
            label="Consent"
            value={leaf.state}
            options={leaf.days === undefined ? CONSENT_WORDS : CONSENT_CAME}
            set={(state) => change(withState(leaf, state as AskedConsent))}
          />
          <Thing
            kind="program"
            id={leaf.program}
            askable={askable}
            set={(program) => change({ ...leaf, program })}
          />
          <Choice
            label="Channel"
            value={leaf.channel ?? 'sms'}
            options={CHANNELS.map((channel) => [channel, CHANNEL_WORDS[channel].by])}
            set={(channel) => change(byChannel(leaf, channel))}
          />
          {leaf.state !== 'never' && (
            <LastDays days={leaf.days} first={30} set={(days) => change(withDays(leaf, days))} />
          )}
        </>
      );
    case 'sent':
      return <SentWords leaf={leaf} askable={askable} change={change} />;
    case 'did':
      return (
        <>
          <YesNo has={leaf.has} yes="who" no="who did not" set={(has) => change({ ...leaf, has })} />
          <Choice
            label="What they did"
            value={leaf.act}
            options={[
              ['replied', 'reply to'],
              ['clicked', 'click in'],
              ['redeemed', 'redeem a voucher of'],
              ['opted-out', 'opt out after'],
            ]}
            set={(act) => change({ ...leaf, act: act as typeof leaf.act })}
          />
          <TargetWords of={leaf.of} askable={askable} set={(of) => change({ ...leaf, of })} />
          <LastDays days={leaf.days} set={(days) => change(withDays(leaf, days))} />
        </>
      );
    case 'texts':
      return (
        <>
          <span>who got</span>
          <Choice
            label="More or fewer"
            value={leaf.test}
            options={[
              ['at-least', 'at least'],
              ['at-most', 'at most'],
              ['exactly', 'exactly'],
            ]}
            set={(test) => change({ ...leaf, test: test as typeof leaf.test })}
          />
          <Whole label="Number of texts" value={leaf.count} set={(count) => change({ ...leaf, count })} />
          <span>texts in the last</span>
          <Whole label="Days" value={leaf.days} set={(days) => change({ ...leaf, days })} />
          <span>days</span>
        </>
      );
  }
}

const VOUCHER_WORDS: [AskedVoucher, string][] = [
  ['got', 'got a voucher'],
  ['valid', 'have a valid voucher'],
  ['ending', 'have a voucher that ends soon'],
  ['ended', 'let a voucher end'],
  ['used', 'used a voucher'],
];

function VoucherWords({ leaf, askable, change }: Props<VoucherLeaf>) {
  return (
    <>
      <YesNo has={leaf.has} yes="who" no="who not" set={(has) => change({ ...leaf, has })} />
      <Choice
        label="How it stands with the voucher"
        value={leaf.state}
        options={VOUCHER_WORDS}
        set={(state) =>
          change(withDays({ ...leaf, state: state as AskedVoucher }, state === 'ending' ? 2 : undefined))
        }
      />
      <span>of</span>
      <Thing kind="offer" id={leaf.id} askable={askable} set={(id) => change({ ...leaf, id })} />
      {leaf.state === 'ending' && (
        <>
          <span>within</span>
          <Whole label="Days" value={leaf.days ?? 2} set={(days) => change({ ...leaf, days })} />
          <span>days</span>
        </>
      )}
    </>
  );
}

const withDays = <L extends { days?: number }>(leaf: L, days: number | undefined): L => {
  const { days: _, ...rest } = leaf;
  return (days === undefined ? rest : { ...rest, days }) as L;
};

const HAS_WORDS = {
  tag: ['with the tag', 'without the tag'],
  list: ['on the list', 'not on the list'],
  segment: ['in the segment', 'not in the segment'],
  import: ['from the import', 'not from the import'],
  batch: ['in the batch', 'not in the batch'],
} as const;

/** By text is what a condition means that does not say. */
function byChannel({ channel: _, ...leaf }: ConsentLeaf, channel: string): ConsentLeaf {
  return channel === 'email' || channel === 'chat' || channel === 'voicemail' ? { ...leaf, channel } : leaf;
}

const CONSENT_WORDS: [AskedConsent, string][] = [
  ['in', 'are in'],
  ['out', 'left'],
  ['asked', 'are asked to confirm'],
  ['lapsed', 'lapsed from'],
  ['never', 'never joined'],
];

/** Never is no day. */
const withState = (leaf: ConsentLeaf, state: AskedConsent): ConsentLeaf =>
  withDays({ ...leaf, state }, state === 'never' ? undefined : leaf.days);

/** The same of what came to be so within some days. */
const CONSENT_CAME: [AskedConsent, string][] = [
  ['in', 'joined'],
  ['out', 'left'],
  ['asked', 'were asked to confirm'],
  ['lapsed', 'lapsed from'],
  ['never', 'never joined'],
];

const BOX = 'input w-auto! py-0.5! max-w-56';

export function Choice({
  label,
  value,
  options,
  set,
}: {
  label: string;
  value: string;
  options: readonly (readonly [value: string, words: string])[];
  set(value: string): void;
}) {
  return (
    <select aria-label={label} className={BOX} value={value} onChange={(event) => set(event.target.value)}>
      {!options.some(([one]) => one === value) && <option value={value}>something gone</option>}
      {options.map(([one, words]) => (
        <option key={one} value={one}>
          {words}
        </option>
      ))}
    </select>
  );
}

const YesNo = ({ has, yes, no, set }: { has: boolean; yes: string; no: string; set(has: boolean): void }) => (
  <Choice
    label="Whether"
    value={has ? 'yes' : 'no'}
    options={[
      ['yes', yes],
      ['no', no],
    ]}
    set={(value) => set(value === 'yes')}
  />
);

function Thing({
  kind,
  id,
  askable,
  set,
}: {
  kind: NamedThing['kind'];
  id: string;
  askable: Askable;
  set(id: string): void;
}) {
  const options = askable.things
    .filter((thing) => thing.kind === kind)
    .map((thing) => [thing.id, thing.name] as const);
  return <Choice label={`Which ${kind}`} value={id} options={options} set={set} />;
}

function Whole({ label, value, set }: { label: string; value: number; set(value: number): void }) {
  return (
    <input
      aria-label={label}
      type="number"
      min={0}
      max={3_660}
      className={`${BOX} w-20!`}
      value={value}
      onChange={(event) => set(Math.max(0, Math.min(3_660, Math.trunc(Number(event.target.value)))))}
    />
  );
}

function LastDays({
  days,
  first = 90,
  set,
}: {
  days: number | undefined;
  /** As many are proposed. */
  first?: number;
  set(days: number | undefined): void;
}) {
  return (
    <>
      <Choice
        label="When"
        value={days === undefined ? 'ever' : 'last'}
        options={[
          ['ever', 'at any time'],
          ['last', 'in the last'],
        ]}
        set={(value) => set(value === 'ever' ? undefined : first)}
      />
      {days !== undefined && (
        <>
          <Whole label="Days" value={days} set={set} />
          <span>days</span>
        </>
      )}
    </>
  );
}

const TARGETS = ['broadcast', 'sequence', 'step', 'item', 'program'] as const;

function TargetWords({ of, askable, set }: { of: Target; askable: Askable; set(of: Target): void }) {
  const kind = TARGETS.find((one) => of[one]) ?? 'any';
  const first = (wanted: NamedThing['kind']) => askable.things.find((thing) => thing.kind === wanted)?.id;
  const choose = (value: string) => {
    if (value === 'any') return set({});
    const id = first(value as (typeof TARGETS)[number]);
    if (id) set({ [value]: id });
  };
  return (
    <>
      <Choice
        label="Of what"
        value={kind}
        options={[
          ['any', 'any text'],
          ['broadcast', 'the broadcast'],
          ['sequence', 'the sequence'],
          ['step', 'the line'],
          ['item', 'a text about'],
          ['program', 'a text of'],
        ]}
        set={choose}
      />
      {kind !== 'any' && (
        <Thing kind={kind} id={of[kind]!} askable={askable} set={(id) => set({ [kind]: id })} />
      )}
    </>
  );
}

function SentWords({ leaf, askable, change }: Props<Extract<Leaf, { ask: 'sent' }>>) {
  return (
    <>
      <YesNo has={leaf.has} yes="who" no="who did not" set={(has) => change({ ...leaf, has })} />
      <Choice
        label="Outcome"
        value={leaf.outcome}
        options={[
          ['got', 'get'],
          ['delivered', 'have delivered'],
          ['failed', 'miss'],
        ]}
        set={(outcome) => {
          const { failure: _, ...rest } = leaf;
          change({ ...rest, outcome: outcome as typeof leaf.outcome });
        }}
      />
      <TargetWords of={leaf.of} askable={askable} set={(of) => change({ ...leaf, of })} />
      {leaf.outcome === 'failed' && (
        <Choice
          label="Failed because"
          value={leaf.failure ?? 'any'}
          options={[
            ['any', 'for any reason'],
            ...Object.keys(CONSEQUENCES).map(
              (reason) => [reason, `because: ${FAILURE_WORDS[reason as FailureReason]}`] as const,
            ),
          ]}
          set={(failure) => {
            const { failure: _, ...rest } = leaf;
            change(failure === 'any' ? rest : { ...rest, failure: failure as FailureReason });
          }}
        />
      )}
      <LastDays days={leaf.days} set={(days) => change(withDays(leaf, days))} />
    </>
  );
}

function FieldWords({ leaf, askable, change }: Props<FieldLeaf>) {
  const field = askable.fields.find(({ name }) => name === leaf.field);
  if (!field) return <span className="text-bad">a field that is gone</span>;
  return (
    <>
      <span>whose</span>
      <Choice
        label="Field"
        value={leaf.field}
        options={askable.fields.map(({ name, label }) => [name, label] as const)}
        set={(name) => change(firstTest(askable.fields.find((one) => one.name === name)!))}
      />
      <Choice
        label="Test"
        value={leaf.test}
        options={TESTS_OF[field.kind].map((test) => [test, TEST_WORDS[test]!] as const)}
        set={(test) => change(turned(leaf, test, field))}
      />
      <FieldValue leaf={leaf} field={field} change={change} />
    </>
  );
}

const firstTest = (field: AskableField): FieldLeaf =>
  turned({ ask: 'field', field: field.name, test: 'not-empty' }, TESTS_OF[field.kind][0]!, field);

/** The same field asked another way, keeping what was typed where it still fits. */
function turned(leaf: FieldLeaf, test: string, field: AskableField): FieldLeaf {
  const base = { ask: 'field' as const, field: field.name };
  const was =
    'value' in leaf ? leaf.value : 'values' in leaf ? leaf.values[0] : 'from' in leaf ? leaf.from : undefined;
  const usual =
    field.kind === 'number'
      ? '1'
      : field.kind === 'date' || field.kind === 'instant'
        ? '2026-01-01'
        : (field.options?.[0]?.value ?? '…');
  const value = was ?? usual;
  if (test === 'empty' || test === 'not-empty') return { ...base, test };
  if (test === 'any-of') return { ...base, test, values: 'values' in leaf ? leaf.values : [value] };
  if (test === 'between') return { ...base, test, from: value, to: value };
  if (test === 'in-last' || test === 'in-next' || test === 'anniversary')
    return { ...base, test, days: 'days' in leaf ? leaf.days : 30 };
  return { ...base, test: test as 'is', value };
}

function FieldValue({
  leaf,
  field,
  change,
}: {
  leaf: FieldLeaf;
  field: AskableField;
  change(leaf: Leaf): void;
}) {
  const type =
    field.kind === 'number' ? 'number' : field.kind === 'date' || field.kind === 'instant' ? 'date' : 'text';
  if ('days' in leaf)
    return (
      <>
        <Whole label="Days" value={leaf.days} set={(days) => change({ ...leaf, days })} />
        <span>days</span>
      </>
    );
  if ('from' in leaf)
    return (
      <>
        <Typed label="From" type={type} value={leaf.from} set={(from) => change({ ...leaf, from })} />
        <span>and</span>
        <Typed label="To" type={type} value={leaf.to} set={(to) => change({ ...leaf, to })} />
      </>
    );
  if ('values' in leaf) return <Several values={leaf.values} set={(values) => change({ ...leaf, values })} />;
  if (!('value' in leaf)) return null;
  if (field.options && (leaf.test === 'is' || leaf.test === 'is-not'))
    return (
      <Choice
        label="Value"
        value={leaf.value}
        options={field.options.map(({ value, label }) => [value, label] as const)}
        set={(value) => change({ ...leaf, value })}
      />
    );
  return <Typed label="Value" type={type} value={leaf.value} set={(value) => change({ ...leaf, value })} />;
}

/** What is typed stays as it is typed: a comma at the end is the beginning of the next value. */
function Several({ values, set }: { values: string[]; set(values: string[]): void }) {
  const [typed, setTyped] = useState(values.join(', '));
  const shown = commaList(typed).join() === values.join() ? typed : values.join(', ');
  return (
    <Typed
      label="Values, with commas between"
      type="text"
      value={shown}
      set={(text) => (setTyped(text), set(commaList(text)))}
    />
  );
}

const Typed = ({
  label,
  type,
  value,
  set,
}: {
  label: string;
  type: 'text' | 'number' | 'date';
  value: string;
  set(value: string): void;
}) => (
  <input
    aria-label={label}
    type={type}
    step="any"
    className={`${BOX} w-44!`}
    value={value === '…' ? '' : value}
    placeholder={value === '…' ? 'type a value' : undefined}
    onChange={(event) => set(event.target.value)}
  />
);
