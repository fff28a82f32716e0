import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { may } from '@/core/access/roles';
import { displayNumber } from '@/core/phone/number';
import type { Offer } from '@/core/numbers/stock';
import { SearchNumbersInput } from '@/services/numbers/inputs';
import { readAreasWanted, readOrders, searchStocks, wishOf, type Found } from '@/services/numbers/market';
import { providerOffer, standingProviders } from '@/services/numbers/providers';
import { readProgramChoices } from '@/services/programs/screen';
import { readInput } from '@/services/kit/validation';
import { ConnectedAccount, connectFields } from '@/ui/kit/connected-account';
import { ListTable, type ListColumn } from '@/ui/kit/list-table';
import { Mark } from '@/ui/kit/mark';
import { count } from '@/ui/kit/numbers';
import { Empty, Page, Section } from '@/ui/kit/page';
import { PlainForm } from '@/ui/kit/plain-form';
import { Problem } from '@/ui/kit/problem';
import { dayAndTime, plainDay } from '@/ui/kit/time';
import { FindFields } from '@/ui/numbers/find-fields';
import { readScreen } from '../../../session';
import { sentence } from '../../form-result';
import {
  checkProviderAction,
  connectProviderAction,
  callPortBackAction,
  orderNumberAction,
  portInAction,
  removeProviderAction,
} from '../actions';

export const metadata: Metadata = { title: 'Find a number' };

const MOST_AREAS = 12;

/** Numbers a provider lets, found by what makes them look familiar, and taken. */
export default async function FindNumbersPage({
  searchParams,
}: {
  searchParams: Promise<Record<string, string>>;
}) {
  const asked = await searchParams;
  const { data, session } = await readScreen(async (scope) => ({
    providers: await standingProviders(scope),
    areas: await readAreasWanted(scope),
    orders: await readOrders(scope),
    programs: await readProgramChoices(scope),
  }));
  const zone = session.workspaceZone;
  const open = data.providers.filter(({ state }) => state === 'open');
  const found = await search(open, asked);
  const mayTake = may(session.role, 'manage-keys');
  return (
    <Page
      title="Find a number"
      actions={
        <Link href="/numbers" className="button">
          Numbers
        </Link>
      }
      margin={
        <>
          <Section title="Where your people are" note="by area code">
            <ul className="text-sm">
              {data.areas.slice(0, MOST_AREAS).map(({ area, region, people, known }) => (
                <li
                  key={area}
                  className="flex items-baseline justify-between gap-3 border-b border-rule py-1"
                >
                  <Link className="link" href={`/numbers/find?area=${area}`}>
                    {area} <span className="text-soft">{region}</span>
                  </Link>
                  <span className="text-right tabular-nums">{count(people)}</span>
                  <span className="text-right">
                    {known ? <Mark tone="good">yours</Mark> : <Mark tone="plain">none yet</Mark>}
                  </span>
                </li>
              ))}
            </ul>
            <p className="mt-1 text-sm text-soft">People answer a number that looks like theirs.</p>
          </Section>
          {[...data.providers, ...(data.providers.length === 0 ? [null] : [])].map((provider) => (
            <ConnectedAccount
              key={provider?.id ?? ''}
              title="Provider"
              none="None is connected. Connect one to look through its numbers."
              closed="takes no numbers"
              account={provider}
              offer={providerOffer()}
              zone={zone}
              acts={
                mayTake
                  ? {
                      connect: connectProviderAction,
                      check: checkProviderAction,
                      remove: removeProviderAction,
                    }
                  : null
              }
            />
          ))}
          {mayTake && data.providers.length > 0 && (
            <details className="mt-2">
              <summary className="cursor-pointer text-soft">Connect another</summary>
              <div className="mt-2">
                <PlainForm action={connectProviderAction} submit="Connect it" fields={connectFields(null)} />
              </div>
            </details>
          )}
        </>
      }
    >
      <FindFields asked={asked} />
      {found === null && (
        <Empty>
          {data.providers.length > 0
            ? 'No provider lets its account take numbers: see beside why.'
            : 'Connect a provider beside to look through its numbers. An area code your people have is a good beginning.'}
        </Empty>
      )}
      {typeof found === 'string' && <Problem wide>{found}</Problem>}
      {found !== null && typeof found !== 'string' && (
        <>
          {found.troubles.map(({ name, why }) => (
            <Problem key={name} wide>
              {`${name}: ${why}`}
            </Problem>
          ))}
          <ListTable
            label="Numbers to take"
            rows={found.offers}
            columns={columnsFor(mayTake ? data.programs : null, open.length > 1)}
            rowKey={({ number, provider }) => `${provider.id} ${number}`}
            empty="There is none like that now. Ask for less: fewer digits, another area code."
          />
        </>
      )}
      {mayTake && open.length > 0 && (
        <details className="mt-6">
          <summary>Bring along a number you have elsewhere</summary>
          <div className="mt-3 max-w-md">
            <p className="mb-3 text-soft">
              The two providers agree on a day; until then it works where it is. Enter what the bill of the
              present provider says.
            </p>
            <PlainForm
              action={portInAction}
              submit="Bring it along"
              main
              fields={[
                { name: 'number', label: 'Number', hint: 'With its country, such as +17195550155.' },
                { name: 'holder', label: 'Who holds it', hint: 'As the bill says.', maxLength: 120 },
                { name: 'account', label: 'Account at the present provider', maxLength: 60 },
                { name: 'pin', label: 'Transfer PIN', hint: 'Where there is one.', maxLength: 20 },
                { name: 'postal_code', label: 'Postal code of the bill', maxLength: 12 },
                ...(open.length > 1
                  ? [
                      {
                        ...{ name: 'provider', label: 'To which provider' },
                        options: open.map(({ id, name }) => ({ value: id, label: name })),
                      },
                    ]
                  : []),
                {
                  name: 'programs',
                  label: 'Program that writes from it',
                  options: [
                    { value: '', label: 'none yet' },
                    ...data.programs.map(({ id, name }) => ({ value: id, label: name })),
                  ],
                },
              ]}
            />
          </div>
        </details>
      )}
      {data.orders.length > 0 && (
        <div className="mt-8">
          <Section title="Asked for lately">
            <ListTable
              label="Asked for lately"
              rows={data.orders}
              columns={[
                { title: 'Number', cell: ({ number }) => displayNumber(number) },
                { title: 'What', cell: ({ what }) => WHAT[what] },
                {
                  title: 'How it stands',
                  cell: ({ id, what, state, reason, plannedAt: planned }) => (
                    <>
                      <Mark tone={state === 'done' ? 'good' : state === 'refused' ? 'bad' : 'wait'}>
                        {STATES[state]}
                      </Mark>
                      {planned && state === 'waiting' && (
                        <div className="text-sm">changes over on {plainDay(iso(planned))}</div>
                      )}
                      {reason && <div className="text-sm text-soft">{reason}</div>}
                      {mayTake && what === 'port-in' && (state === 'asked' || state === 'waiting') && (
                        <PlainForm action={callPortBackAction} submit="Call it back" hidden={{ order: id }} />
                      )}
                    </>
                  ),
                },
                { title: 'When', kind: 'when', cell: ({ createdAt }) => dayAndTime(createdAt, zone) },
              ]}
              rowKey={({ id }) => id}
              empty="Nothing."
            />
          </Section>
        </div>
      )}
    </Page>
  );
}

const WHAT = { take: 'take', 'give-back': 'give back', 'port-in': 'bring along' };
const STATES = {
  ...{ asked: 'asked for', waiting: 'the two providers agree on it', done: 'done' },
  ...{ refused: 'refused', 'called-back': 'called back' },
};
const iso = (at: Date): string => at.toISOString().slice(0, 10);

/** What the providers let, or why that cannot be said; null: there is nobody to ask. */
async function search(
  providers: Awaited<ReturnType<typeof standingProviders>>,
  asked: Record<string, string>,
): Promise<Found | string | null> {
  if (providers.length === 0) return null;
  const { kind, area, town, digits, pictures, calls } = asked;
  const input = await readInput(SearchNumbersInput, {
    ...(kind ? { kind } : {}),
    ...{
      area: area ?? '',
      town: town ?? '',
      digits: digits ?? '',
      pictures: pictures === 'on',
      calls: calls === 'on',
    },
  });
  if (!input.ok) return sentence(input.reason);
  const wish = wishOf(input.value);
  if (!wish.ok) return sentence(wish.reason);
  return searchStocks(providers, wish.value);
}

const columnsFor = (
  programs: { id: string; name: string }[] | null,
  several: boolean,
): ListColumn<Offer>[] => [
  {
    title: 'Number',
    cell: ({ number, kind }) => (
      <span className="whitespace-nowrap">
        {displayNumber(number)} <span className="text-sm text-soft">{kind.replace('-', ' ')}</span>
      </span>
    ),
  },
  { title: 'From', cell: ({ town }) => town },
  {
    title: 'It can',
    cell: ({ sms, mms, voice }) =>
      [sms && 'texts', mms && 'pictures', voice && 'calls'].filter(Boolean).join(', '),
  },
  ...(several ? [{ title: 'By', cell: ({ provider }: Offer) => provider.name }] : []),
  { title: 'Credits at once', kind: 'number', cell: ({ setup }) => count(setup) },
  { title: 'Each month', kind: 'number', cell: ({ monthly }) => count(monthly) },
  ...(programs === null
    ? []
    : [
        {
          ...{ title: 'Take it', kind: 'act' as const, quiet: true as const },
          cell: ({ number, provider }: Offer) => (
            <details>
              <summary className="cursor-pointer whitespace-nowrap">Take {displayNumber(number)}</summary>
              <div className="py-2 text-left">
                <PlainForm
                  action={orderNumberAction}
                  submit="Take it"
                  hidden={{ number, provider: provider.id }}
                  fields={[
                    {
                      name: 'program',
                      label: 'Which program writes from it',
                      options: [
                        { value: '', label: 'none yet' },
                        ...programs.map(({ id, name }) => ({ value: id, label: name })),
                      ],
                    },
                  ]}
                />
                <p className="mt-1 max-w-60 text-sm text-soft">
                  Texts leave from it once it is registered: hand it in under Registration.
                </p>
              </div>
            </details>
          ),
        },
      ]),
];
