import { Link } from '@/ui/kit/link';
import { REASON_WORDS } from '@/core/clearance/reasons';
import type { Channel } from '@/core/message/channel';
import { FAILURE_WORDS } from '@/core/delivery/failure';
import type { BroadcastResult } from '@/core/results/broadcast-result';
import { wilson, type Rate } from '@/core/results/rates';
import { ListTable, type ListColumn } from '@/ui/kit/list-table';
import { Mark } from '@/ui/kit/mark';
import { count, percent } from '@/ui/kit/numbers';

/** A share with its counts and its interval, so that a small sample looks small. */
export function RateLine({ rate }: { rate: Rate }) {
  if (rate.share === null) return <span className="text-soft">–</span>;
  return (
    <span
      className="whitespace-nowrap"
      title={`95 % interval: ${percent(rate.low)} to ${percent(rate.high)}`}
    >
      {percent(rate.share)}{' '}
      <span className="text-soft">
        ({percent(rate.low).replace(' %', '')}–{percent(rate.high).replace(' %', '')})
      </span>
    </span>
  );
}

/** What is known of a message that was taken and of which no more was heard. */
const TAKEN: Record<Channel, string> = {
  sms: 'sent, no receipt yet',
  email: 'taken by their server, nothing came back',
  chat: 'taken by the network, not delivered yet',
  voicemail: 'on its way, nothing came back yet',
};

/** What is usual, and whether this really differs from it. */
interface Usual {
  rate: Rate;
  differs: boolean;
}

export interface UsualRates {
  broadcasts: number;
  delivery: Usual;
  reply: Usual;
  click: Usual;
  optOut: Usual;
}

interface ResultLine {
  label: React.ReactNode;
  n: number;
  /** Whom the count opens to. */
  what: string;
  rate?: Rate;
  usual?: Usual | undefined;
}

/** Every line there is for a result; those of what failed, was held back or cannot be only where there are some. */
const linesOf = (
  result: BroadcastResult,
  channel: Channel,
  links: boolean,
  usual: UsualRates | null,
  read: number | null,
): ResultLine[] => [
  ...[
    {
      ...{ label: <Mark tone="good">delivered</Mark>, n: result.delivered, what: 'state:delivered' },
      ...{ rate: result.deliveryRate, usual: usual?.delivery },
    },
    ...(read === null
      ? []
      : [{ label: 'read', n: read, what: 'reads', rate: wilson(read, result.delivered) }]),
    { label: <Mark tone="wait">{TAKEN[channel]}</Mark>, n: result.submitted, what: 'state:submitted' },
    ...some({
      ...{ label: <Mark tone="plain">no receipt came</Mark>, n: result.noReceipt, what: 'state:no-receipt' },
    }),
    { label: <Mark tone="wait">waiting or held</Mark>, n: result.open, what: 'state:queued,submitting' },
  ],
  ...result.failures.map(({ reason, count: n }) => ({
    ...{ label: <Mark tone="bad">failed: {FAILURE_WORDS[reason]}</Mark>, n, what: `failure:${reason}` },
  })),
  ...some({
    ...{ label: <Mark tone="bad">unconfirmed</Mark>, n: result.unconfirmed, what: 'state:unconfirmed' },
  }),
  ...result.blocks.map(({ reason, count: n }) => ({
    ...{ label: <Mark tone="bad">not sent: {REASON_WORDS[reason].short}</Mark>, n, what: `code:${reason}` },
  })),
  ...some({
    ...{ label: <Mark tone="plain">called back</Mark>, n: result.cancelled, what: 'state:cancelled' },
  }),
  ...(channel === 'email' || links || result.clicks > 0
    ? [
        {
          ...{ label: 'clicked', n: result.clicks, what: 'clicks', rate: result.clickRate },
          usual: usual?.click,
        },
      ]
    : []),
  // Nobody replies to a recording: what a drop brought back stands in a table of its own.
  ...(channel === 'voicemail' ? [] : answered(result, usual)),
];

const answered = (result: BroadcastResult, usual: UsualRates | null): ResultLine[] => [
  {
    ...{ label: 'replied', n: result.replies, what: 'replies', rate: result.replyRate },
    usual: usual?.reply,
  },
  {
    ...{ label: 'opted out', n: result.optOuts, what: 'opt-outs', rate: result.optOutRate },
    usual: usual?.optOut,
  },
];

const some = (line: ResultLine): ResultLine[] => (line.n > 0 ? [line] : []);

const resultColumns = (id: string, usual: UsualRates | null): ListColumn<ResultLine>[] => [
  { title: 'What became of it', cell: ({ label }) => label },
  {
    title: 'People',
    kind: 'number',
    cell: ({ n, what }) =>
      n === 0 ? (
        0
      ) : (
        <Link className="link" href={`/sends/${id}/people?what=${encodeURIComponent(what)}`}>
          {count(n)}
        </Link>
      ),
  },
  { title: 'Share', kind: 'number', cell: ({ rate }) => (rate ? <RateLine rate={rate} /> : null) },
  ...(usual
    ? [
        {
          title: 'Usual here',
          kind: 'number' as const,
          cell: ({ rate, usual: one }: ResultLine) => one && rate && <UsualLine own={rate} usual={one} />,
        },
      ]
    : []),
];

/** The usual share of the last broadcasts, and a word where this one really differs. */
const UsualLine = ({ own, usual: { rate, differs } }: { own: Rate; usual: Usual }) => (
  <span className="text-soft">
    {percent(rate.share)}
    {differs && own.share !== null && (own.share > (rate.share ?? 0) ? ', really more' : ', really fewer')}
  </span>
);

/** What became of a broadcast; every count opens to its people. */
export function ResultLines({
  id,
  result,
  channel,
  links,
  usual,
  read = null,
}: {
  id: string;
  result: BroadcastResult;
  channel: Channel;
  /** It has links that count. */
  links: boolean;
  usual: UsualRates | null;
  /** Who read it, where that is known; null or left out: it is not. */
  read?: number | null;
}) {
  return (
    <ListTable
      label="What became of it"
      rows={linesOf(result, channel, links, usual, read)}
      columns={resultColumns(id, usual)}
      rowKey={({ what }) => what}
      empty="Nothing was sent yet."
    />
  );
}
