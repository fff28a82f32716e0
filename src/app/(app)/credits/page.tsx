import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { may } from '@/core/access/roles';
import { ENTRY_WORDS } from '@/core/credits/ledger';
import type { DrainLine } from '@/core/credits/forecast';
import { DAY } from '@/core/shared/instant';
import type { CreditPack } from '@/core/credits/packs';
import { readPacksOf } from '@/services/credits/buy';
import { readCredits, type EntryRow, type SpentLine } from '@/services/credits/screen';
import { BalanceChart } from '@/ui/credits/balance-chart';
import { PriceDesk } from '@/ui/credits/price-desk';
import { SpentTable } from '@/ui/credits/spent-table';
import { ListTable, type ListColumn } from '@/ui/kit/list-table';
import { Mark } from '@/ui/kit/mark';
import { count, plural } from '@/ui/kit/numbers';
import { Empty, Facts, Page, Section } from '@/ui/kit/page';
import { PlainForm } from '@/ui/kit/plain-form';
import { Problem } from '@/ui/kit/problem';
import { dayAndTime, dayOf, plainDay } from '@/ui/kit/time';
import { readScreen } from '../../session';
import { buyAction, checkLedgerAction, creditsAction, limitAction, pricesAction } from './actions';

export const metadata: Metadata = { title: 'Credits' };

/** What is left, until when it is enough, where it went, what things cost, and how to have more. */
export default async function CreditsPage() {
  const { data, session, now } = await readScreen((scope, _, at) => readCredits(scope, at));
  const zone = session.workspaceZone;
  const mayPay = may(session.role, 'manage-keys');
  const selling = data.providers.filter(({ state }) => state === 'open');
  const sold = mayPay && selling.length > 0 ? await readPacksOf(selling) : null;
  return (
    <Page
      title="Credits"
      actions={
        <Link href="/numbers" className="button">
          Numbers
        </Link>
      }
      margin={
        <>
          {mayPay && (
            <Section title="Buy">
              <Buy sold={sold} />
            </Section>
          )}
          {data.orders.length > 0 && (
            <Section title="Bought lately">
              <Facts
                rows={data.orders.slice(0, 5).map((order) => [
                  dayAndTime(order.createdAt, zone),
                  <span key={order.id}>
                    {count(order.credits)}, {money(order)}{' '}
                    <Mark tone={order.state === 'paid' ? 'good' : order.state === 'refused' ? 'bad' : 'wait'}>
                      {order.state === 'asked' || order.state === 'waiting' ? 'being paid' : order.state}
                    </Mark>
                    {order.reason && <span className="block text-sm text-soft">{order.reason}</span>}
                  </span>,
                ])}
              />
            </Section>
          )}
          {mayPay && (
            <>
              <Section title="Most in a day">
                <Limits limits={data.limits} />
              </Section>
              <Section title="Write down by hand">
                <PlainForm
                  action={creditsAction}
                  submit="Write them down"
                  fields={[
                    { name: 'credits', label: 'Credits that came', hint: 'Below zero: a correction.' },
                    { name: 'reason', label: 'What for', hint: 'It stands in the ledger.', maxLength: 120 },
                  ]}
                />
              </Section>
            </>
          )}
          {may(session.role, 'send') && (
            <Section title="Does it add up?">
              <p className="mb-2 text-sm text-soft">
                Every entry against what is left, and what messages took against what each message says it
                cost.
              </p>
              <PlainForm action={checkLedgerAction} submit="Check the ledger" />
            </Section>
          )}
        </>
      }
    >
      <Section title="Left" note={data.ahead ? `looked at ${dayAndTime(data.ahead.at, zone)}` : null}>
        <div className="flex flex-wrap items-baseline gap-x-6 gap-y-2">
          <p className="text-3xl tabular-nums">{count(data.balance)}</p>
          <div className="min-w-0">
            <Enough ahead={data.ahead} zone={zone} now={now} />
            <AtLastRate left={data.balance} took={tookOf(data.lines)} />
          </div>
        </div>
      </Section>
      <Section title="What is ahead" note="thirty days">
        {data.ahead ? (
          <>
            <BalanceChart ahead={data.ahead} zone={zone} />
            <ListTable
              label="What is ahead"
              rows={data.ahead.ahead}
              columns={[
                { title: 'What', cell: ({ what }) => what },
                {
                  title: 'When',
                  kind: 'when',
                  cell: (line) => whenOf(line, data.ahead!.at, zone),
                },
                { title: 'Credits', kind: 'number', cell: ({ credits }) => count(credits) },
              ]}
              rowKey={({ what }) => what}
              empty="Nothing is scheduled, and no sequence runs."
            />
            <p className="mt-2 text-sm text-soft">
              {plural(Math.round(data.ahead.usualADay), 'credit')} a day go by themselves beside it: answers,
              keywords, confirmations; by the hour of the week, of the last four weeks.
            </p>
          </>
        ) : (
          <Empty>It is worked out within the minute.</Empty>
        )}
      </Section>
      <Section
        title="Where they went"
        note={`${plainDay(data.span.from)} until today, of messages ${count(tookOf(data.lines))}`}
      >
        <SpentTable lines={data.lines} />
      </Section>
      <Section title="What messages cost">
        {mayPay ? (
          <PriceDesk
            key={JSON.stringify(data.prices)}
            prices={data.prices}
            carriers={data.carriers}
            action={pricesAction}
          />
        ) : (
          <p>
            {plural(data.prices.part, 'credit')} for each part of a text, {data.prices.picture} for a picture
            message.
          </p>
        )}
        <p className="mt-2 text-sm text-soft">
          Chat messages and voicemails cost what their accounts under Numbers say. A price counts when a
          message leaves: what left before keeps what it cost.
        </p>
      </Section>
      <Section
        title="Ledger"
        note={
          <a className="link" href="/credits/ledger" download>
            all of it as CSV
          </a>
        }
      >
        <ListTable
          label="Ledger"
          rows={data.entries}
          columns={entryColumns(zone)}
          rowKey={({ id }) => String(id)}
          empty="Nothing came or went yet."
        />
      </Section>
    </Page>
  );
}

/** What was due and waits goes now. */
function whenOf({ from, until }: DrainLine, at: number, zone: string): string {
  if (until <= at) return 'now';
  if (from === until) return dayAndTime(from, zone);
  return `${from <= at ? 'now' : dayOf(from, zone)} to ${dayOf(until, zone)}`;
}

type Credits = Awaited<ReturnType<typeof readCredits>>;

function Enough({ ahead, zone, now }: { ahead: Credits['ahead']; zone: string; now: number }) {
  if (!ahead) return null;
  const { enoughUntil, because, lacking } = ahead;
  if (enoughUntil === null) return <p>Enough for all that is known of the next thirty days.</p>;
  return (
    <p className={enoughUntil - now < 3 * DAY ? 'text-bad' : 'text-wait'}>
      Enough until <strong>{dayAndTime(enoughUntil, zone)}</strong>
      {because && `, when “${because}” is to leave`}. {plural(lacking, 'credit')} more would do for thirty
      days.
    </p>
  );
}

/** What nobody has scheduled yet is not known: going on as before, they last so long. */
function AtLastRate({ left, took }: { left: number; took: number }) {
  if (took <= 0 || left <= 0) return null;
  const days = Math.floor((left / took) * 30);
  return (
    <p className="text-sm text-soft">
      Going on as in the last thirty days ({count(took)} for messages) they last{' '}
      {days > 365 ? 'more than a year' : plural(days, 'day')}.
    </p>
  );
}

const money = ({ price, currency }: Pick<CreditPack, 'price' | 'currency'>): string =>
  new Intl.NumberFormat('en-US', { style: 'currency', currency }).format(price / 100);

function Buy({ sold }: { sold: Awaited<ReturnType<typeof readPacksOf>> | null }) {
  if (sold === null)
    return (
      <p className="text-soft">
        No provider is connected.{' '}
        <Link className="link" href="/numbers/find">
          Connect one
        </Link>{' '}
        to buy from it; what was bought elsewhere is written down below.
      </p>
    );
  const { packs, troubles } = sold;
  const several = new Set(packs.map(({ provider }) => provider.id)).size > 1;
  return (
    <>
      {troubles.map(({ name, why }) => (
        <Problem key={name}>{`${name}: ${why}`}</Problem>
      ))}
      {packs.length > 0 && (
        <PlainForm
          action={buyAction}
          submit="Buy"
          main
          fields={[
            {
              name: 'pack',
              label: 'Pack',
              options: packs.map((pack) => ({
                value: `${pack.provider.id} ${pack.id}`,
                label: `${count(pack.credits)} for ${money(pack)}${several ? `, ${pack.provider.name}` : ''}`,
              })),
            },
          ]}
        />
      )}
    </>
  );
}

function Limits({ limits: { workspace, spentToday, programs } }: Pick<Credits, 'limits'>) {
  const limited = programs.filter(({ credits }) => credits !== null);
  return (
    <>
      <Facts
        rows={[
          [
            'All of it',
            workspace === null
              ? `no limit; ${count(spentToday)} today`
              : `${count(spentToday)} of ${count(workspace)} today`,
          ],
          ...limited.map(({ name, credits }): [string, string] => [name, `${count(credits!)} a day`]),
        ]}
      />
      <p className="my-2 text-sm text-soft">
        What is begun over it waits for the next day. Whoever writes is answered.
      </p>
      <PlainForm
        action={limitAction}
        submit="Keep it"
        fields={[
          {
            name: 'program',
            label: 'Of',
            options: [
              { value: '', label: 'all of it' },
              ...programs.map(({ id, name }) => ({ value: id, label: name })),
            ],
          },
          { name: 'credits', label: 'Credits in a day', hint: 'Empty: no limit.' },
        ]}
      />
    </>
  );
}

const tookOf = (lines: readonly SpentLine[]): number =>
  -lines
    .filter(({ kind }) => kind === 'messages' || kind === 'returned')
    .reduce((sum, { delta }) => sum + delta, 0);

const entryColumns = (zone: string): ListColumn<EntryRow>[] => [
  { title: 'When', kind: 'when', cell: ({ at }) => dayAndTime(at, zone) },
  {
    title: 'What',
    cell: ({ kind, texts }) =>
      kind === 'messages' || kind === 'returned'
        ? `${ENTRY_WORDS[kind].word} (${count(texts)})`
        : ENTRY_WORDS[kind].word,
  },
  {
    title: 'For',
    cell: ({ send, program, reason, kind }) =>
      kind === 'messages' || kind === 'returned' ? [send, program].filter(Boolean).join(', ') : reason,
  },
  {
    title: 'Credits',
    kind: 'number',
    cell: ({ delta }) => (delta > 0 ? `+${count(delta)}` : `−${count(-delta)}`),
  },
  { title: 'Left', kind: 'number', cell: ({ left }) => count(left) },
];
