import type { Metadata } from 'next';
import Link from 'next/link';
import { differ, wilson } from '@/core/results/rates';
import { readResults } from '@/services/results/screen';
import { GrowthChart } from '@/ui/results/growth-chart';
import { Mark } from '@/ui/kit/mark';
import { count } from '@/ui/kit/numbers';
import { Empty, Page, Section } from '@/ui/kit/page';
import { RateLine } from '@/ui/results/result-lines';
import { dayOf } from '@/ui/kit/time';
import { readScreen } from '../../session';

export const metadata: Metadata = { title: 'Results' };

export default async function ResultsPage() {
  const { data, session } = await readScreen((scope, _, now) => readResults(scope, now));
  const total = (pick: (row: (typeof data.sends)[number]) => number) =>
    data.sends.reduce((sum, row) => sum + pick(row), 0);
  const usualReplies = wilson(
    total((row) => row.result.replies),
    total((row) => row.result.delivered),
  );
  const usualOptOuts = wilson(
    total((row) => row.result.optOuts),
    total((row) => row.result.delivered),
  );
  return (
    <Page title="Results">
      <Section title="People in and out, week by week">
        {data.growth.length === 0 ? (
          <Empty>Nobody has joined yet.</Empty>
        ) : (
          <GrowthChart
            rows={data.growth.map((row) => ({ ...row, week: row.week.getTime() }))}
            zone={session.workspaceZone}
          />
        )}
      </Section>
      <Section
        title="Broadcasts compared"
        note="rates over delivered people, with the range chance alone would explain"
      >
        {data.sends.length === 0 ? (
          <Empty>Results of broadcasts will stand here, side by side.</Empty>
        ) : (
          <div className="overflow-x-auto">
            <table className="w-full">
              <thead>
                <tr>
                  <th>Broadcast</th>
                  <th>Sent</th>
                  <th className="n">delivered</th>
                  <th className="n">replied</th>
                  <th className="n">opted out</th>
                  <th>Against the usual</th>
                </tr>
              </thead>
              <tbody>
                {data.sends.map((row) => {
                  const { replyRate, optOutRate, deliveryRate } = row.result;
                  return (
                    <tr key={row.id}>
                      <td>
                        <Link href={`/sends/${row.id}`} className="link">
                          {row.name}
                        </Link>
                      </td>
                      <td className="whitespace-nowrap text-soft">
                        {dayOf(row.begun_at!, session.workspaceZone)}
                      </td>
                      <td className="n">
                        {count(row.result.delivered)} <RateLine rate={deliveryRate} />
                      </td>
                      <td className="n">
                        <RateLine rate={replyRate} />
                      </td>
                      <td className="n">
                        <RateLine rate={optOutRate} />
                      </td>
                      <td>
                        {differ(optOutRate, usualOptOuts) && optOutRate.share! > usualOptOuts.share! && (
                          <div>
                            <Mark tone="bad">more opt-outs</Mark>
                          </div>
                        )}
                        {differ(replyRate, usualReplies) && (
                          <div>
                            <Mark tone={replyRate.share! > usualReplies.share! ? 'good' : 'plain'}>
                              {replyRate.share! > usualReplies.share! ? 'more replies' : 'fewer replies'}
                            </Mark>
                          </div>
                        )}
                      </td>
                    </tr>
                  );
                })}
              </tbody>
            </table>
          </div>
        )}
      </Section>
    </Page>
  );
}
