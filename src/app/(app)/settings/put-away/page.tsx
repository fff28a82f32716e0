import type { Metadata } from 'next';
import { may } from '@/core/access/roles';
import { PUT_AWAY_CHOICES } from '@/core/delivery/bundle';
import { readPutAway, type PutAwayScreen } from '@/services/delivery/put-away';
import { ListTable, type ListColumn } from '@/ui/kit/list-table';
import { count, sizeWords } from '@/ui/kit/numbers';
import { Empty, Page, Section } from '@/ui/kit/page';
import { PlainForm } from '@/ui/kit/plain-form';
import { plainMonth } from '@/ui/kit/time';
import { readScreen } from '../../../session';
import { Stuck } from '../../stuck';
import { putAwayAction } from './actions';

export const metadata: Metadata = { title: 'Old messages' };

/** From which age on messages are put away, and what of them is. */
export default async function PutAwayPage() {
  const { data, session } = await readScreen(async (scope, signedIn, now) =>
    may(signedIn.role, 'manage-keys') ? readPutAway(scope, now) : null,
  );
  if (!data)
    return (
      <Page title="Old messages">
        <Empty>Owners and managers say what is put away. Ask one of them.</Empty>
      </Page>
    );
  return (
    <Page title="Old messages">
      <Section title="What is put away">
        <p className="mb-3 max-w-prose text-soft">
          What messages of months long past said, and their history, is packed into files in the database.
          They take a fraction of the room there. Every count stays as it is; threads, exports and proofs open
          the files by themselves. What a human wrote is never put away.
        </p>
        <div className="max-w-md">
          <PlainForm
            stamp={data.stamp}
            action={putAwayAction}
            submit="Keep it"
            fields={[
              {
                name: 'months',
                label: 'Put away what is older than',
                hint: 'A longer time, or never, brings back what was put away.',
                initial: String(data.months ?? ''),
                options: [
                  { value: '', label: 'never' },
                  ...PUT_AWAY_CHOICES.map((months) => ({ value: String(months), label: `${months} months` })),
                ],
              },
            ]}
          />
        </div>
      </Section>
      <Stuck id={session.workspaceId} />
      <Section title="By month" note={progressOf(data)}>
        <ListTable
          label="Messages by month"
          rows={data.rows}
          columns={COLUMNS}
          rowKey={({ month }) => month}
          empty="Nothing has left yet."
        />
      </Section>
    </Page>
  );
}

function progressOf({ rows, goesOn }: PutAwayScreen): string {
  const [plain, kept] = [
    rows.reduce((sum, row) => sum + row.plain, 0),
    rows.reduce((sum, row) => sum + row.kept, 0),
  ];
  const saved = kept > 0 ? `${sizeWords(plain)} in ${sizeWords(kept)}` : '';
  return [goesOn ? 'at work' : '', saved].filter(Boolean).join(', ');
}

const COLUMNS: ListColumn<PutAwayScreen['rows'][number]>[] = [
  { title: 'Month', kind: 'when', cell: ({ month }) => plainMonth(month) },
  { title: 'Left', kind: 'number', cell: ({ left }) => count(left) },
  { title: 'Put away', kind: 'number', cell: ({ away }) => (away === 0 ? '' : count(away)) },
  { title: 'Their words', kind: 'number', cell: ({ away, plain }) => (away === 0 ? '' : sizeWords(plain)) },
  { title: 'Packed', kind: 'number', cell: ({ away, kept }) => (away === 0 ? '' : sizeWords(kept)) },
  {
    title: 'What becomes of it',
    cell: ({ away, goes, month }) =>
      away > 0 ? (
        <a className="link" href={`/settings/put-away/file?month=${month}`}>
          As a file (JSON lines, gzip)
        </a>
      ) : (
        <span className="text-soft">{goes ? 'is put away' : 'stays as it is'}</span>
      ),
  },
];
