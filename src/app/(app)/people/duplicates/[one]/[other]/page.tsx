import type { Metadata } from 'next';
import { notFound } from 'next/navigation';
import type { ConsentState } from '@/core/consent/ledger';
import { CHANNEL_WORDS } from '@/core/message/channel';
import { valueOf, type MergeSide } from '@/core/duplicates/merge';
import { showOwnValue } from '@/core/people/values';
import { displayNumber } from '@/core/phone/number';
import { namesById } from '@/services/people/people-screen';
import { readMerge } from '@/services/people/merge-people';
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
  const shown = (side: MergeSide, name: string) => {
    const value = valueOf(side, name);
    if (value === null || value === '') return 'empty';
    const text = showOwnValue(value);
    return name === 'number'
      ? displayNumber(text)
      : name === 'stageId' || name === 'ownerId'
        ? (data.names[text] ?? 'gone')
        : text;
  };
  const labelOf = (name: string) => LABELS[name] ?? data.names[name] ?? name.replace('own.', '');
  const side = (each: MergeSide) =>
    `added ${dayOf(each.createdAt, session.workspaceZone)}, ${each.texts} ${each.texts === 1 ? 'text' : 'texts'}`;
  return (
    <Page
      title="Merge two people"
      margin={
        <>
          <Section title="Consent afterwards">
            <p className="mb-2 text-soft">
              Both numbers and e-mail addresses stay, each with what it agreed to. A message goes to the
              address their last word came by; after an opt-out none of them gets any.
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
              Messages, replies, tags and lists go along. A text from either number finds the person. It can
              be undone on their page.
            </p>
          </Section>
        </>
      }
    >
      <PlainForm
        action={mergeAction}
        submit="Merge these two into one"
        main
        hidden={{ kept: one.id, gone: other.id }}
      >
        <table className="mb-4 w-full">
          <thead>
            <tr>
              <th>Field</th>
              <th>Kept: {side(one)}</th>
              <th>Goes: {side(other)}</th>
            </tr>
          </thead>
          <tbody>
            {Object.entries(choices).map(([name, proposed]) => (
              <tr key={name}>
                <td className="text-soft">{labelOf(name)}</td>
                {(['one', 'other'] as const).map((which) => (
                  <td key={which}>
                    <label className="flex items-center gap-2">
                      <input
                        type="radio"
                        name={`choice:${name}`}
                        value={which}
                        defaultChecked={proposed === which}
                        aria-label={`${labelOf(name)}: ${shown(which === 'one' ? one : other, name)}`}
                      />
                      {shown(which === 'one' ? one : other, name)}
                    </label>
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
        <p className="mb-4 text-soft">What is the same in both is not shown.</p>
      </PlainForm>
    </Page>
  );
}
