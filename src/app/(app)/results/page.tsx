import { BROADCAST } from '@/ui/sends/broadcast-columns';
import type { Metadata } from 'next';
import { differ, wilson } from '@/core/results/rates';
import { readResults } from '@/services/results/screen';
import { GrowthChart } from '@/ui/results/growth-chart';
import { ListTable } from '@/ui/kit/list-table';
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
        <ListTable
          label="Broadcasts compared"
          rows={data.sends}
          columns={[
            BROADCAST,
            { title: 'Sent', kind: 'when', cell: (row) => dayOf(row.begun_at!, session.workspaceZone) },
            {
              title: 'Delivered',
              kind: 'number',
              cell: (row) => (
                <>
                  {count(row.result.delivered)} · <RateLine rate={row.result.deliveryRate} />
                </>
              ),
            },
            {
              title: 'Replied',
              kind: 'number',
              cell: (row) => <RateLine rate={row.result.replyRate} />,
            },
            {
              title: 'Opted out',
              kind: 'number',
              cell: (row) => <RateLine rate={row.result.optOutRate} />,
            },
            {
              title: 'Against the usual',
              cell: (row) => (
                <>
                  {differ(row.result.optOutRate, usualOptOuts) &&
                    row.result.optOutRate.share! > usualOptOuts.share! && (
                      <div>
                        <Mark tone="bad">more opt-outs</Mark>
                      </div>
                    )}
                  {differ(row.result.replyRate, usualReplies) && (
                    <div>
                      <Mark tone={row.result.replyRate.share! > usualReplies.share! ? 'good' : 'plain'}>
                        {row.result.replyRate.share! > usualReplies.share! ? 'more replies' : 'fewer replies'}
                      </Mark>
                    </div>
                  )}
                </>
              ),
            },
          ]}
          rowKey={(row) => row.id}
          empty="Results of broadcasts will stand here, side by side."
        />
      </Section>
    </Page>
  );
}
