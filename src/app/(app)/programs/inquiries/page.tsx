import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { may } from '@/core/access/roles';
import { ASSIGNMENT_WORDS, type AssignmentReason } from '@/core/inquiry/assign';
import { HELD_WORDS, type InquiryHeld } from '@/core/inquiry/held';
import { tookWords, type BoardRow } from '@/core/inquiry/board';
import { BOARD_DAYS, readBoard, readInquiries, silentSources } from '@/services/inquiries/board';
import { readSources } from '@/services/inquiries/screen';
import { ListTable } from '@/ui/kit/list-table';
import { Mark } from '@/ui/kit/mark';
import { count } from '@/ui/kit/numbers';
import { Page, Section } from '@/ui/kit/page';
import { PlainForm } from '@/ui/kit/plain-form';
import { shortTime } from '@/ui/kit/time';
import { PersonLink } from '@/ui/people/people-list';
import { RateLine } from '@/ui/results/result-lines';
import { readScreen } from '../../../session';
import { createSourceAction } from './actions';

export const metadata: Metadata = { title: 'Inquiries' };

interface Query {
  days?: string;
  source?: string;
  kind?: string;
  late?: string;
  before?: string;
}

export default async function InquiriesPage({ searchParams }: { searchParams: Promise<Query> }) {
  const query = await searchParams;
  const days = BOARD_DAYS.find((one) => String(one) === query.days) ?? 90;
  const { data, session, now } = await readScreen(async (scope, _, at) => ({
    ...(await readSources(scope)),
    board: await readBoard(scope, days, at),
    silent: await silentSources(scope, at),
    lines: await readInquiries(scope, {
      ...{ sourceId: query.source ?? null, kind: query.kind ?? null, late: query.late === 'yes' },
      before: query.before ?? '',
    }),
  }));
  const mayEdit = may(session.role, 'edit-programs');
  return (
    <Page
      title="Inquiries"
      actions={BOARD_DAYS.map((one) => (
        <Link
          key={one}
          href={`/programs/inquiries?days=${one}`}
          aria-current={one === days ? 'true' : undefined}
          className={one === days ? 'button font-semibold' : 'button'}
        >
          {one === 365 ? 'a year' : `${one} days`}
        </Link>
      ))}
      margin={<Sources data={data} mayEdit={mayEdit} />}
    >
      <div className="mb-8">
        <Board rows={data.board} days={days} />
      </div>
      <Lines lines={data.lines} query={query} zone={session.workspaceZone} now={now} />
    </Page>
  );
}

const money = (cents: number | null): string => (cents === null ? '–' : (cents / 100).toFixed(2));

function Board({ rows, days }: { rows: BoardRow[]; days: number }) {
  const to = (row: BoardRow, more = '') =>
    `/programs/inquiries?days=${days}&source=${row.sourceId}&kind=${encodeURIComponent(row.kind)}${more}`;
  return (
    <ListTable
      label="Inquiries by source and kind"
      rows={rows}
      rowKey={(row) => `${row.sourceId} ${row.kind}`}
      empty="No inquiry in this time. Make a source in the margin, and send one to it."
      columns={[
        {
          title: 'Source',
          cell: (row) => (
            <>
              {row.source} <span className="text-sm text-soft">{row.kind}</span>
            </>
          ),
        },
        {
          title: 'Came',
          kind: 'number',
          cell: (row) => (
            <Link className="link" href={to(row)}>
              {count(row.came)}
            </Link>
          ),
        },
        {
          title: 'Half within (19 of 20)',
          kind: 'number',
          cell: (row) => (
            <span
              className="whitespace-nowrap"
              title={`${count(row.answered)} of ${count(row.came)} were answered; nineteen of twenty within ${tookWords(row.p95)}`}
            >
              {tookWords(row.median)} <span className="text-soft">({tookWords(row.p95)})</span>
              {row.answered < row.came && (
                <span className="block text-sm">
                  <Mark tone="wait">{count(row.came - row.answered)} not yet</Mark>
                </span>
              )}
            </span>
          ),
        },
        {
          title: 'Replied',
          kind: 'number',
          cell: (row) => (
            <>
              {count(row.replied)} <RateLine rate={row.replies} />
              {row.against && (
                <span className={`block text-sm ${row.against === 'more' ? 'text-good' : 'text-bad'}`}>
                  really {row.against} than the others
                </span>
              )}
            </>
          ),
        },
        {
          title: 'After day 60',
          kind: 'number',
          cell: (row) =>
            row.late === 0 ? (
              '0'
            ) : (
              <Link className="link" href={to(row, '&late=yes')}>
                {count(row.late)}
              </Link>
            ),
        },
        { title: 'In conversation', kind: 'number', cell: (row) => count(row.conversations) },
        {
          title: 'Became',
          cell: (row) => row.stages.map(({ stage, people }) => `${stage} ${count(people)}`).join(', ') || '–',
        },
        {
          title: 'Cost',
          kind: 'number',
          cell: (row) => (
            <>
              {money(row.cost)}
              {row.perConversation !== null && (
                <span className="block text-sm text-soft">{money(row.perConversation)} a conversation</span>
              )}
            </>
          ),
        },
      ]}
    />
  );
}

function Lines({
  lines: { rows, next },
  query,
  zone,
  now,
}: {
  lines: Awaited<ReturnType<typeof readInquiries>>;
  query: Query;
  zone: string;
  now: number;
}) {
  const narrowed = query.source !== undefined || query.kind !== undefined || query.late !== undefined;
  const older = new URLSearchParams({ ...query, before: next ?? '' } as Record<string, string>).toString();
  return (
    <Section
      title={query.late === 'yes' ? 'First replied after day 60' : 'The last'}
      note={narrowed ? <Link href="/programs/inquiries">all of them</Link> : undefined}
    >
      <ListTable
        label="The last inquiries"
        rows={rows}
        rowKey={(row) => row.id}
        empty="None."
        columns={[
          { title: 'When', kind: 'when', cell: (row) => shortTime(row.at, now, zone) },
          {
            title: 'Who',
            cell: (row) => <PersonLink id={row.person_id} person={{ ...row, address: row.address }} />,
          },
          {
            title: 'What',
            cell: (row) => (
              <span className="[overflow-wrap:anywhere]">
                {row.kind}
                {row.words && <span className="block text-sm text-soft">{row.words.slice(0, 120)}</span>}
              </span>
            ),
          },
          { title: 'By', cell: (row) => row.source },
          {
            title: 'Whose',
            cell: (row) => (
              <span title={ASSIGNMENT_WORDS[row.because as AssignmentReason]}>
                {row.account ?? <Mark tone="wait">nobody’s</Mark>}
              </span>
            ),
          },
          {
            title: 'Answered',
            cell: (row) =>
              row.held ? (
                <Mark tone="bad">{HELD_WORDS[row.held as InquiryHeld].mark}: read it</Mark>
              ) : row.twin ? (
                <span className="text-soft">with another of theirs</span>
              ) : row.took === null ? (
                <Mark tone="wait">not yet</Mark>
              ) : (
                tookWords(row.took)
              ),
          },
          {
            title: 'Replied',
            cell: (row) => (row.replied_at ? shortTime(row.replied_at, now, zone) : '–'),
          },
        ]}
      />
      {next && (
        <p className="mt-2">
          <Link className="link" href={`/programs/inquiries?${older}`}>
            older
          </Link>
        </p>
      )}
    </Section>
  );
}

function Sources({
  data: { sources, programs, silent },
  mayEdit,
}: {
  data: Awaited<ReturnType<typeof readSources>> & { silent: Map<string, number> };
  mayEdit: boolean;
}) {
  return (
    <>
      <Section title="Sources" note="doors through which they come">
        {sources.length === 0 && (
          <p className="text-soft">
            None yet. A source has an address and a mailbox of its own: give them to a portal, or to the form
            of your website.
          </p>
        )}
        <ul>
          {sources.map((one) => (
            <li key={one.id} className="border-b border-rule py-1.5">
              <Link className="link" href={`/programs/inquiries/${one.id}`}>
                {one.name}
              </Link>{' '}
              <span className="text-sm text-soft">{one.program}</span>
              <span className="block text-sm">
                {one.unread > 0 ? (
                  <Mark tone="bad">{count(one.unread)} could not be read</Mark>
                ) : one.closed ? (
                  <Mark tone="plain">closed</Mark>
                ) : silent.has(one.id) ? (
                  <Mark tone="wait">
                    silent for {tookWords(silent.get(one.id)! / 1000)}, longer than ever
                  </Mark>
                ) : one.mapped ? (
                  <Mark tone="good">open</Mark>
                ) : (
                  <Mark tone="wait">nothing mapped yet</Mark>
                )}
              </span>
            </li>
          ))}
        </ul>
      </Section>
      {mayEdit && programs.length > 0 && (
        <Section title="A new source">
          <PlainForm
            action={createSourceAction}
            submit="Make the source"
            main={sources.length === 0}
            fields={[
              { name: 'name', label: 'Name', maxLength: 80, hint: 'The portal, or “Our website”.' },
              {
                name: 'program',
                label: 'Program an inquiry belongs to',
                options: programs.map(({ id, name }) => ({ value: id, label: name })),
              },
            ]}
          />
        </Section>
      )}
    </>
  );
}
