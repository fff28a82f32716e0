import { FORMAT_WORDS, isWorkbook } from '@/core/import/file-format';
import { cutText } from '@/core/shared/clean-text';
import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { notFound } from 'next/navigation';
import { may } from '@/core/access/roles';
import { displayNumber } from '@/core/phone/number';
import { showOwnValue, type OwnValue } from '@/core/people/values';
import { readImport, targetLabel, VERDICTS, type ImportScreen } from '@/services/imports/screen';
import { ImportMapping } from '@/ui/imports/import-mapping';
import { ImportStateMark } from '@/ui/imports/import-state';
import { ListTable } from '@/ui/kit/list-table';
import { count, plural } from '@/ui/kit/numbers';
import { Empty, Facts, Page, Section } from '@/ui/kit/page';
import { PlainForm } from '@/ui/kit/plain-form';
import { Progress } from '@/ui/kit/progress';
import { dayAndTime } from '@/ui/kit/time';
import { readScreen } from '../../../../session';
import { actOnImportAction, checkImportAction, otherNamesAction, readAnewAction } from '../actions';
import { Stuck } from '../../../stuck';

export const metadata: Metadata = { title: 'Import' };

const WORDS: Record<string, string> = {
  add: 'added',
  update: 'updated',
  same: 'already so',
  'left-alone': 'here, left as they are',
  'another-name': 'here under another name',
  left: 'opted out by this file',
  'opted-out': 'opted out, not touched',
  duplicate: 'twice in the file',
  invalid: 'no usable number',
};

export default async function ImportPage({
  params,
  searchParams,
}: {
  params: Promise<{ id: string }>;
  searchParams: Promise<{ what?: string; map?: string }>;
}) {
  const { id } = await params;
  const { what = '', map } = await searchParams;
  const { data, session } = await readScreen((scope) => readImport(scope, id, what));
  if (!data) notFound();
  const { row, twin } = data;
  const mayEdit = may(session.role, 'edit-people');
  const mapping =
    (row.state === 'draft' || (map !== undefined && row.state === 'checked')) && row.shape.guesses;
  return (
    <Page
      title={row.name}
      actions={mayEdit && <Acts data={data} />}
      margin={
        <>
          <Section title="The file">
            <Facts
              rows={[
                ['name', row.file_name],
                ['kind', FORMAT_WORDS[row.format]],
                ['size', `${count(Math.ceil(row.bytes / 1024))} kB`],
                ...(row.shape.encoding && !isWorkbook(row.format)
                  ? ([['letters', row.shape.encoding]] as [string, string][])
                  : []),
                ...(row.rows > 0 ? ([['rows', count(row.rows)]] as [string, string][]) : []),
              ]}
            />
            {twin && (
              <p className="mt-2 border-l-2 border-wait pl-3">
                The very same file was imported on {dayAndTime(twin.at, session.workspaceZone)} as{' '}
                <Link className="link" href={`/people/imports/${twin.id}`}>
                  {twin.name}
                </Link>
                .
              </p>
            )}
          </Section>
          {!mapping && row.state !== 'draft' && row.state !== 'failed' && <Counts data={data} />}
        </>
      }
    >
      <Stuck id={id} />
      <p className="mb-4">
        <ImportStateMark state={row.state} />
        {row.problem && <span className="text-bad">: {row.problem}</span>}
      </p>
      {row.state === 'draft' && !row.shape.guesses && <Empty>The file is being looked at …</Empty>}
      {(row.state === 'checking' || row.state === 'running' || row.state === 'undoing') && (
        <Progress
          value={row.state === 'checking' ? row.rows : row.cursor}
          of={Math.max(row.rows, row.cursor)}
          label="rows"
        />
      )}
      {mapping && mayEdit && row.format !== 'vcard' && <HowRead row={row} />}
      {mapping && mayEdit ? (
        <ImportMapping
          initial={{
            name: row.name,
            columns: row.mapping.map((column, i) => ({
              to: column.fresh ? 'new' : column.to,
              label: column.fresh?.label ?? column.label ?? mapping[i]?.title ?? '',
              ...(column.kind ? { kind: column.kind } : {}),
              order: column.order ?? null,
            })),
            onKnown: row.options.update ? (row.options.onlyEmpty ? 'fill' : 'change') : 'leave',
            tags: row.options.tags.join(', '),
            list: row.options.list ?? '',
            program: row.options.program ?? '',
            standing: row.options.left ? 'left' : row.options.consent ? 'agreed' : 'unknown',
            channels: row.options.consent?.channels ?? ['sms'],
            wording: row.options.consent?.wording ?? '',
            date: row.options.consent?.date ?? '',
          }}
          guesses={mapping}
          own={data.own}
          programs={data.programs}
          tags={data.tags}
          lists={data.lists}
          check={checkImportAction.bind(null, id)}
        />
      ) : (
        <>
          {row.state === 'checked' && (row.counts['another-name'] ?? 0) > 0 && mayEdit && (
            <OtherNames id={id} n={row.counts['another-name'] ?? 0} />
          )}
          {data.rows.length > 0 && <Rows data={data} what={what} />}
        </>
      )}
    </Page>
  );
}

/** Rows whose number belongs to somebody of a wholly different name: nobody's name changes by a file unasked. */
function OtherNames({ id, n }: { id: string; n: number }) {
  return (
    <div className="mb-6 border-l-2 border-wait pl-4">
      <p className="mb-2">
        {plural(n, 'row has', 'rows have')} a number of somebody here who goes by{' '}
        <Link className="link" href={`/people/imports/${id}?what=another-name`}>
          another name
        </Link>
        . They are left as they are unless you say that they are meant.
      </p>
      <div className="flex flex-wrap gap-2">
        <PlainForm
          action={otherNamesAction}
          submit="All of them are meant"
          hidden={{ id, line: '', choice: 'take' }}
        />
        <PlainForm
          action={otherNamesAction}
          submit="None of them is"
          hidden={{ id, line: '', choice: 'leave' }}
        />
      </div>
    </div>
  );
}

/** The same for one row. */
const OtherName = ({ id, row }: { id: string; row: ImportScreen['rows'][number] }) => (
  <PlainForm
    action={otherNamesAction}
    submit={row.choice === 'take' ? 'No, leave them' : 'It is them'}
    hidden={{ id, line: String(row.line), choice: row.choice === 'take' ? 'leave' : 'take' }}
  />
);

/** A value as it is read, a stage or a teammate by name. */
const shownValue = (value: OwnValue | null, names: Record<string, string>): string =>
  (typeof value === 'string' ? names[value] : undefined) ?? showOwnValue(value ?? undefined);

/** Which sheet is read, and which of its rows is the header; both can be changed. */
function HowRead({ row: { id, shape, options } }: { row: ImportScreen['row'] }) {
  const { sheets = [], top = [], headerLine = null } = shape;
  const above = top.filter(({ line }) => headerLine !== null && line < headerLine);
  const words = (cells: readonly string[]) => cells.filter((cell) => cell.trim() !== '').join(', ');
  return (
    <div className="mb-6">
      <p className="mb-2">
        {sheets.length > 1 && `Read from the sheet “${sheets[options.sheet ?? 0]}”. `}
        {headerLine === null
          ? 'No row was taken for a header: every row is read as a person.'
          : `Row ${headerLine} is taken for the header.`}
        {above.length > 0 &&
          ` Left out above it: ${above.map(({ cells }) => `“${words(cells)}”`).join(', ')}.`}
      </p>
      <details>
        <summary className="cursor-pointer text-soft">
          {sheets.length > 1 ? 'Another sheet, or another row as the header' : 'Another row as the header'}
        </summary>
        <div className="max-w-xl py-2">
          <PlainForm
            key={`${options.sheet} ${headerLine}`}
            action={readAnewAction}
            submit="Read it so"
            hidden={{ id }}
            fields={[
              ...(sheets.length > 1
                ? [
                    {
                      ...{ name: 'sheet', label: 'Sheet', initial: String(options.sheet ?? 0) },
                      options: sheets.map((label, i) => ({ value: String(i), label })),
                    },
                  ]
                : []),
              {
                ...{ name: 'header', label: 'Header' },
                initial: headerLine === null ? 'none' : String(headerLine),
                options: [
                  ...top.map(({ line, cells }) => ({
                    value: String(line),
                    label: `row ${line}: ${cutText(words(cells), 70)}`,
                  })),
                  { value: 'none', label: 'no header: the first row is a person' },
                ],
              },
            ]}
          />
        </div>
      </details>
    </div>
  );
}

function Acts({ data }: { data: ImportScreen }) {
  const { row } = data;
  const act = (name: string, words: string, main = false) => (
    <PlainForm
      key={name}
      action={actOnImportAction}
      submit={words}
      main={main}
      hidden={{ id: row.id, act: name }}
    />
  );
  const people = data.meant + (row.counts.add ?? 0) + (row.counts.update ?? 0) + (row.counts.same ?? 0);
  return (
    <>
      {row.state === 'checked' && (
        <Link className="button" href={`/people/imports/${row.id}?map`}>
          Change the columns
        </Link>
      )}
      {['draft', 'checked', 'failed'].includes(row.state) && act('drop', 'Throw it away')}
      {row.state === 'checked' &&
        people > 0 &&
        act('run', `Import ${plural(people, 'person', 'people')}`, true)}
      {(row.state === 'running' || row.state === 'checking' || row.state === 'undoing') &&
        act('stop', 'Stop it')}
      {row.state === 'stopped' && act('run', 'Go on', true)}
      {(row.state === 'finished' || row.state === 'stopped') && act('undo', 'Undo it')}
    </>
  );
}

function Counts({ data: { row } }: { data: ImportScreen }) {
  const findings = Object.entries(row.counts.findings ?? {});
  return (
    <>
      <Section title={row.state === 'checked' ? 'What it would do' : 'What it did'}>
        <Facts
          rows={VERDICTS.filter((verdict) => (row.counts[verdict] ?? 0) > 0).map((verdict) => [
            WORDS[verdict]!,
            <Link key={verdict} className="link" href={`/people/imports/${row.id}?what=${verdict}`}>
              {count(row.counts[verdict] ?? 0)}
            </Link>,
          ])}
        />
        {row.state !== 'checked' && (
          <p className="mt-2">
            <Link
              className="link"
              href={`/people?cut=${encodeURIComponent(JSON.stringify({ all: [{ ask: 'import', id: row.id, has: true }] }))}`}
            >
              show these people
            </Link>
          </p>
        )}
      </Section>
      {findings.length > 0 && (
        <Section title="Validation">
          <Facts rows={findings.map(([finding, n]) => [finding, count(n ?? 0)])} />
          <p className="mt-2">
            <a className="link" href={`/people/imports/${row.id}/validation`}>
              validation file, one line for each row
            </a>
          </p>
        </Section>
      )}
    </>
  );
}

function Rows({ data, what }: { data: ImportScreen; what: string }) {
  return (
    <Section
      title={what ? `Rows: ${WORDS[what] ?? what}` : 'Rows'}
      note={
        what ? (
          <Link className="link" href={`/people/imports/${data.row.id}`}>
            all
          </Link>
        ) : undefined
      }
    >
      <ListTable
        label="Rows"
        rows={data.rows}
        columns={[
          { title: 'Row', kind: 'number', cell: (row) => row.line },
          {
            title: 'Number or e-mail',
            cell: (row) =>
              row.address ? (
                row.person_id && data.row.state !== 'checked' ? (
                  <Link className="link whitespace-nowrap" href={`/people/${row.person_id}`}>
                    {displayNumber(row.address)}
                  </Link>
                ) : (
                  <span className="whitespace-nowrap">{displayNumber(row.address)}</span>
                )
              ) : (
                ''
              ),
          },
          {
            title: 'What',
            cell: (row) => (
              <>
                {WORDS[row.verdict]}
                {row.here && `: ${row.here}`}
                {row.verdict === 'another-name' && row.choice === 'take' && ', and meant'}
                {row.verdict === 'another-name' && data.row.state === 'checked' && (
                  <OtherName id={data.row.id} row={row} />
                )}
                {row.reason === 'landline' && ', landline'}
                {row.undone && `; ${row.undone}`}
              </>
            ),
          },
          {
            title: 'Before and after',
            cell: (row) =>
              row.changes
                ? Object.entries(row.changes).map(([name, [before, after]]) => (
                    <div key={name}>
                      <span className="text-soft">{targetLabel(name, data.own)}:</span>{' '}
                      {shownValue(before, data.names) || 'empty'} →{' '}
                      <strong>{shownValue(after, data.names)}</strong>
                    </div>
                  ))
                : row.verdict === 'add'
                  ? [row.data?.first_name, row.data?.last_name].filter(Boolean).join(' ')
                  : '',
          },
          {
            title: 'Note',
            cell: (row) => <span className="text-soft [overflow-wrap:anywhere]">{row.told}</span>,
          },
        ]}
        rowKey={(row) => String(row.line)}
        empty="Nobody stands here."
      />
      {data.rows.length === 200 && (
        <p className="mt-2 text-soft">The first 200. The validation file holds them all.</p>
      )}
    </Section>
  );
}
