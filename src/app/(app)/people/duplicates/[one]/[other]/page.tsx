import type { Metadata } from 'next';
import { notFound } from 'next/navigation';
import type { ConsentState } from '@/core/consent/ledger';
import { CHANNEL_WORDS } from '@/core/message/channel';
import { valueOf, type MergeSide } from '@/core/duplicates/merge';
import { showOwnValue } from '@/core/people/values';
import { displayNumber } from '@/core/phone/number';
import { namesById } from '@/services/people/people-screen';
import { readMerge } from '@/services/people/merge-people';
import { ListTable, type ListColumn } from '@/ui/kit/list-table';
import { plural } from '@/ui/kit/numbers';
import { PlainForm } from '@/ui/kit/plain-form';
import { Facts, Page, Section } from '@/ui/kit/page';
import { dayOf } from '@/ui/kit/time';
import { readScreen } from '../../../../../session';
import { mergeAction } from '../../actions';

export const metadata: Metadata = { title: 'Merge two people' };

const CONSENT_WORDS: Record<ConsentState, string> = {
  none: 'nothing recorded',
  asked: 'asked',
  in: 'in',
  out: 'left',
  lapsed: 'lapsed',
};

type After = { state: ConsentState; address: string | null };

const same = (a: After, b: After): boolean => a.state === b.state && a.address === b.address;

const wordsOf = ({ state, address }: After): string =>
  state === 'in' && address ? `in, by ${displayNumber(address)}` : CONSENT_WORDS[state];

const LABELS: Record<string, string> = {
  number: 'preferred number',
  firstName: 'first name',
  lastName: 'last name',
  email: 'preferred e-mail',
  region: 'state',
  postalCode: 'postal code',
  zone: 'time zone',
  stageId: 'stage',
  ownerId: 'owner',
};

export default async function MergePage({ params }: { params: Promise<{ one: string; other: string }> }) {
  const { one: a, other: b } = await params;
  const { data, session } = await readScreen(async (scope) => ({
    merge: await readMerge(scope, [a, b]),
    names: await namesById(scope),
  }));
  if (!data.merge) notFound();
  const { one, other, choices, programs } = data.merge;
  return (
    <Page title="Merge two people" margin={<Consequences programs={programs} />}>
      <PlainForm
        action={mergeAction}
        submit="Merge these two into one"
        main
        hidden={{ kept: one.id, gone: other.id }}
      >
        <div className="mb-4">
          <ListTable
            label="Where they differ"
            rows={Object.entries(choices)}
            rowKey={([name]) => name}
            columns={choiceColumns(one, other, data.names, session.workspaceZone)}
            empty="They differ in nothing that has to be chosen."
          />
        </div>
        <p className="mb-4 text-soft">What is the same in both is not shown.</p>
      </PlainForm>
    </Page>
  );
}

type Choice = [name: string, proposed: 'one' | 'other'];

/** The field, and what either has in it, of which one is chosen. */
function choiceColumns(
  one: MergeSide,
  other: MergeSide,
  names: Record<string, string>,
  zone: string,
): ListColumn<Choice>[] {
  const labelOf = (name: string) => LABELS[name] ?? names[name] ?? name.replace('own.', '');
  const choosing = (which: 'one' | 'other', person: MergeSide): ListColumn<Choice> => ({
    title: `${which === 'one' ? 'Kept' : 'Goes'}: added ${dayOf(person.createdAt, zone)}, ${plural(person.texts, 'text')}`,
    cell: ([name, proposed]) => {
      const shown = shownValue(person, name, names);
      return (
        <label className="flex items-center gap-2">
          <input
            type="radio"
            name={`choice:${name}`}
            value={which}
            defaultChecked={proposed === which}
            aria-label={`${labelOf(name)}: ${shown}`}
          />
          {shown}
        </label>
      );
    },
  });
  return [
    { title: 'Field', cell: ([name]) => <span className="text-soft">{labelOf(name)}</span> },
    choosing('one', one),
    choosing('other', other),
  ];
}

function shownValue(person: MergeSide, name: string, names: Record<string, string>): string {
  const value = valueOf(person, name);
  if (value === null || value === '') return 'empty';
  const text = showOwnValue(value);
  if (name === 'number') return displayNumber(text);
  return name === 'stageId' || name === 'ownerId' ? (names[text] ?? 'gone') : text;
}

/** What the merge leads to, before it is done. */
function Consequences({
  programs,
}: {
  programs: NonNullable<Awaited<ReturnType<typeof readMerge>>>['programs'];
}) {
  return (
    <>
      <Section title="Consent afterwards">
        <p className="mb-2 text-soft">
          Both numbers and e-mail addresses stay, each with what it agreed to. A message goes to the address
          their last word came by; after an opt-out none of them gets any.
        </p>
        {programs.map(({ id, name, channel, one: kept, other: gone, after }) => (
          <div key={`${id} ${channel}`} className="mb-3">
            <p className="font-medium">
              {name}, {CHANNEL_WORDS[channel].by}
            </p>
            <Facts
              rows={[
                ['now, kept', CONSENT_WORDS[kept]],
                ['now, goes', CONSENT_WORDS[gone]],
                ...(same(after.one, after.other)
                  ? [['afterwards', wordsOf(after.one)] as [string, string]]
                  : ([
                      ['afterwards, preferring the kept', wordsOf(after.one)],
                      ['afterwards, preferring the other', wordsOf(after.other)],
                    ] as [string, string][])),
              ]}
            />
          </div>
        ))}
      </Section>
      <Section title="History">
        <p className="text-soft">
          Messages, replies, tags and lists go along. A text from either number finds the person. It can be
          undone on their page.
        </p>
      </Section>
    </>
  );
}
