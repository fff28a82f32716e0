import type { Metadata } from 'next';
import { notFound } from 'next/navigation';
import type { ConsentState } from '@/core/consent/ledger';
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

const LABELS: Record<string, string> = {
  number: 'number',
  firstName: 'first name',
  lastName: 'last name',
  email: 'e-mail',
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
              The stricter of the two. Agreement given from a number that goes does not carry over.
            </p>
            {programs.map(({ id, name, one: kept, other: gone, after }) => (
              <div key={id} className="mb-3">
                <p className="font-medium">{name}</p>
                <Facts
                  rows={[
                    ['now, kept', CONSENT_WORDS[kept]],
                    ['now, goes', CONSENT_WORDS[gone]],
                    ...(choices.number === undefined || after.one === after.other
                      ? [['afterwards', CONSENT_WORDS[after.one]] as [string, string]]
                      : [one, other].map((side, i): [string, string] => [
                          `keeping ${displayNumber(side.number)}`,
                          CONSENT_WORDS[after[i === 0 ? 'one' : 'other']],
                        ])),
                  ]}
                />
              </div>
            ))}
          </Section>
          <Section title="History">
            <p className="text-soft">
              Texts, replies, tags and lists go along. A text from the number that goes still finds the
              person. It can be undone on their page.
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
