import Link from 'next/link';
import { REASON_WORDS } from '@/core/clearance/reasons';
import type { Channel } from '@/core/message/channel';
import { FAILURE_WORDS } from '@/core/delivery/failure';
import type { BroadcastResult } from '@/core/results/broadcast-result';
import type { Rate } from '@/core/results/rates';
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

const LINK = 'link';

/** What is known of a message that was taken and of which no more was heard. */
const TAKEN: Record<Channel, string> = {
  sms: 'sent, no receipt yet',
  email: 'taken by their server, nothing came back',
};

/** What became of a broadcast; every count opens to its people. */
export function ResultLines({
  id,
  result,
  channel,
}: {
  id: string;
  result: BroadcastResult;
  channel: Channel;
}) {
  const line = (label: React.ReactNode, n: number, what: string, rate?: Rate) => (
    <tr>
      <th scope="row" className="text-ink!">
        {label}
      </th>
      <td className="n">
        {n === 0 ? (
          0
        ) : (
          <Link className={LINK} href={`/sends/${id}/people?what=${encodeURIComponent(what)}`}>
            {count(n)}
          </Link>
        )}
      </td>
      <td className="n">{rate ? <RateLine rate={rate} /> : null}</td>
    </tr>
  );
  return (
    <table className="w-full">
      <thead>
        <tr>
          <th scope="col">What became of it</th>
          <th scope="col" className="n">
            people
          </th>
          <th scope="col" className="n">
            share
          </th>
        </tr>
      </thead>
      <tbody>
        {line(<Mark tone="good">delivered</Mark>, result.delivered, 'state:delivered', result.deliveryRate)}
        {line(<Mark tone="wait">{TAKEN[channel]}</Mark>, result.submitted, 'state:submitted')}
        {line(<Mark tone="wait">waiting or held</Mark>, result.open, 'state:queued,submitting')}
        {result.failures.map(({ reason, count: n }) => (
          <FragmentRow key={reason}>
            {line(<Mark tone="bad">failed: {FAILURE_WORDS[reason]}</Mark>, n, `failure:${reason}`)}
          </FragmentRow>
        ))}
        {result.unconfirmed > 0 &&
          line(<Mark tone="bad">unconfirmed</Mark>, result.unconfirmed, 'state:unconfirmed')}
        {result.blocks.map(({ reason, count: n }) => (
          <FragmentRow key={reason}>
            {line(<Mark tone="bad">not sent: {REASON_WORDS[reason].short}</Mark>, n, `code:${reason}`)}
          </FragmentRow>
        ))}
        {result.cancelled > 0 &&
          line(<Mark tone="plain">called back</Mark>, result.cancelled, 'state:cancelled')}
        {channel === 'email' && line('clicked', result.clicks, 'clicks', result.clickRate)}
        {line('replied', result.replies, 'replies', result.replyRate)}
        {line('opted out', result.optOuts, 'opt-outs', result.optOutRate)}
      </tbody>
    </table>
  );
}

const FragmentRow = ({ children }: { children: React.ReactNode }) => <>{children}</>;
