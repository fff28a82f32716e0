import type { Metadata } from 'next';
import { displayNumber } from '@/core/phone/number';
import { readNumbers, type Standing } from '@/services/numbers/screen';
import { Mark } from '@/ui/kit/mark';
import { count, percent } from '@/ui/kit/numbers';
import { Empty, Page } from '@/ui/kit/page';
import { readScreen } from '../../session';

export const metadata: Metadata = { title: 'Numbers' };

export default async function NumbersPage() {
  const { data: senders } = await readScreen((scope, _, now) => readNumbers(scope, now));
  return (
    <Page
      title="Numbers"
      margin={
        <p className="text-soft">
          A number’s standing is its delivery against its own past eleven weeks. It is called dropped when the
          last week is clearly worse: five points, on at least fifty texts. Texts from a number that is not
          registered are held.
        </p>
      }
    >
      {senders.length === 0 ? (
        <Empty>
          No sender number yet. The carrier gives you one; docs/operations.md says how to enter it.
        </Empty>
      ) : (
        <div className="overflow-x-auto">
          <table className="w-full">
            <thead>
              <tr>
                <th>Number</th>
                <th>Registration</th>
                <th>Standing</th>
                <th className="n">sent, 7 days</th>
                <th className="n">delivered</th>
                <th className="n">blocked as spam</th>
                <th className="n">parts/s</th>
                <th>Used by</th>
              </tr>
            </thead>
            <tbody>
              {senders.map((sender) => (
                <Row key={sender.id} sender={sender} />
              ))}
            </tbody>
          </table>
        </div>
      )}
    </Page>
  );
}

function Row({ sender }: { sender: Standing }) {
  return (
    <tr>
      <td className="whitespace-nowrap">
        {displayNumber(sender.number)}{' '}
        <span className="text-sm text-soft">{sender.kind.replace('-', ' ')}</span>
      </td>
      <td>
        <Mark
          tone={
            sender.registration === 'registered' ? 'good' : sender.registration === 'refused' ? 'bad' : 'wait'
          }
        >
          {sender.registration.replace('-', ' ')}
        </Mark>
        {sender.registration_note && <div className="text-sm text-soft">{sender.registration_note}</div>}
      </td>
      <td>
        {sender.dropped ? (
          <Mark tone="bad">dropped: was {percent(sender.rateBefore)}</Mark>
        ) : sender.rateNow === null ? (
          <span className="text-soft">nothing sent</span>
        ) : (
          <Mark tone="good">as always</Mark>
        )}
      </td>
      <td className="n">{count(sender.sent_7)}</td>
      <td className="n">{percent(sender.rateNow)}</td>
      <td className="n">{count(sender.blocked_7)}</td>
      <td className="n">{count(sender.parts_per_second)}</td>
      <td>{sender.programs.join(', ')}</td>
    </tr>
  );
}
