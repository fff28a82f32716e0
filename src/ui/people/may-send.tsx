import { CHANNEL_WORDS, type Channel } from '@/core/message/channel';
import { REASON_WORDS, type ReasonCode } from '@/core/clearance/reasons';
import { Mark } from '@/ui/kit/mark';
import { dayAndTime, dayOf } from '@/ui/kit/time';

interface MaySend {
  channel: Channel;
  verdict: 'cleared' | 'held' | 'blocked';
  until: Date | null;
  /** Null: cleared. */
  because: { code: ReasonCode } | null;
  since: Date | null;
}

/** Whether something of each program may go to somebody now, by which channel, and what stands against it. */
export function MaySendTable({
  programs,
  never,
  zone,
}: {
  programs: { id: string; name: string; channels: MaySend[] }[];
  never: string[];
  zone: string;
}) {
  return (
    <>
      {programs.length === 0 ? (
        <p className="text-soft">They never agreed to anything: nothing we begin can be sent to them.</p>
      ) : (
        <table className="w-full" aria-label="What may be sent to them now">
          <tbody>
            {programs.map(({ id, name, channels }) =>
              channels.map((one, i) => (
                <tr key={`${id} ${one.channel}`}>
                  {i === 0 && (
                    <th
                      scope="rowgroup"
                      rowSpan={channels.length}
                      className="py-1.5 pr-4 text-left align-top font-normal"
                    >
                      {name}
                    </th>
                  )}
                  <td className="py-1 pr-4 align-top text-soft">{CHANNEL_WORDS[one.channel].message}</td>
                  <td className="py-1 align-top">
                    <Verdict one={one} zone={zone} />
                  </td>
                </tr>
              )),
            )}
          </tbody>
        </table>
      )}
      {never.length > 0 && <p className="mt-1 pt-1.5 text-sm text-soft">never joined: {never.join(', ')}</p>}
    </>
  );
}

function Verdict({ one, zone }: { one: MaySend; zone: string }) {
  const { verdict, because, until, since } = one;
  if (verdict === 'cleared')
    return (
      <Mark tone="good">
        may go now{since && <span className="text-soft">, in since {dayOf(since, zone)}</span>}
      </Mark>
    );
  const words = because ? REASON_WORDS[because.code] : null;
  return (
    <span title={words?.remedy}>
      <Mark tone={verdict === 'held' ? 'wait' : 'bad'}>
        {verdict === 'held' ? (until ? `may go from ${dayAndTime(until, zone)}` : 'held') : 'nothing goes'}
        {words && `: ${words.short}`}
      </Mark>
    </span>
  );
}
