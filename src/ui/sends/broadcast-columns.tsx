import { Link } from '@/ui/kit/link';
import { CHANNEL_WORDS, type Channel } from '@/core/message/channel';
import type { BroadcastState } from '@/core/broadcast/lifecycle';
import type { BroadcastResult } from '@/core/results/broadcast-result';
import type { ListColumn } from '@/ui/kit/list-table';
import { count, percent } from '@/ui/kit/numbers';
import { BroadcastMark } from './broadcast-state';

interface BroadcastRow {
  id: string;
  name: string;
  channel: Channel;
  state: BroadcastState;
  result: BroadcastResult;
}

/** Columns of lists of broadcasts, the same wherever they stand. */
export const BROADCAST: ListColumn<Pick<BroadcastRow, 'id' | 'name' | 'channel'>> = {
  title: 'Broadcast',
  cell: ({ id, name, channel }) => (
    <>
      <Link href={`/sends/${id}`} className="link">
        {name}
      </Link>
      {channel !== 'sms' && <span className="text-sm text-soft"> {CHANNEL_WORDS[channel].by}</span>}
    </>
  ),
};

export const STATE: ListColumn<Pick<BroadcastRow, 'state'>> = {
  title: 'State',
  cell: ({ state }) => <BroadcastMark state={state} />,
};

/** A column of numbers; a dash as long as nothing of a broadcast was made ready, and there is nothing to count. */
const ofResult = (
  title: string,
  cell: (result: BroadcastResult) => React.ReactNode,
): ListColumn<Pick<BroadcastRow, 'result'>> => ({
  title,
  kind: 'number',
  cell: ({ result }) => (result.people === 0 ? '–' : cell(result)),
});

export const counts = (title: string, number: (result: BroadcastResult) => number) =>
  ofResult(title, (result) => count(number(result)));

/** A count with the share it is. */
const counted = (
  title: string,
  number: (result: BroadcastResult) => number,
  rate: (result: BroadcastResult) => { share: number | null },
) =>
  ofResult(title, (result) => (
    <>
      {count(number(result))}
      <span className="inline-block w-14 text-right text-soft">{percent(rate(result).share)}</span>
    </>
  ));

export const DELIVERED = counted(
  'Delivered',
  ({ delivered }) => delivered,
  ({ deliveryRate }) => deliveryRate,
);
export const REPLIED = counted(
  'Replied',
  ({ replies }) => replies,
  ({ replyRate }) => replyRate,
);
export const OPTED_OUT = counted(
  'Opted out',
  ({ optOuts }) => optOuts,
  ({ optOutRate }) => optOutRate,
);
