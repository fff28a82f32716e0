import type { Metadata } from 'next';
import Link from 'next/link';
import { displayNumber } from '@/core/phone/number';
import { readPeople } from '@/services/screens';
import { Mark, type Tone } from '@/ui/mark';
import { Empty, Page } from '@/ui/page';
import { PersonLink } from '@/ui/people-list';
import { dayOf } from '@/ui/time';
import { readScreen } from '../../session';

export const metadata: Metadata = { title: 'People' };

const CONSENT: Record<string, { word: string; tone: Tone }> = {
  in: { word: 'in', tone: 'good' },
  out: { word: 'out', tone: 'bad' },
  asked: { word: 'asked', tone: 'wait' },
  lapsed: { word: 'lapsed', tone: 'plain' },
};

type Search = { q?: string; program?: string; state?: string; before?: string };

export default async function PeoplePage({ searchParams }: { searchParams: Promise<Search> }) {
  const { q = '', program = '', state = '', before = '' } = await searchParams;
  const { data, session } = await readScreen((scope) =>
    readPeople(scope, { search: q, programId: program, state, before }),
  );
  const zone = session.workspaceZone;
  return (
    <Page
      title="People"
      actions={
        <Link href="/people/new" className="button button-main">
          Add a person
        </Link>
      }
    >
      <form className="mb-4 flex flex-wrap items-end gap-3" role="search">
        <label className="min-w-56 flex-1 text-sm text-soft">
          Name, number or e-mail
          <input name="q" defaultValue={q} className="input mt-1 text-ink" />
        </label>
        <label className="text-sm text-soft">
          Program
          <select name="program" defaultValue={program} className="input mt-1 text-ink">
            <option value="">any</option>
            {data.programs.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </select>
        </label>
        <label className="text-sm text-soft">
          Consent
          <select name="state" defaultValue={state} className="input mt-1 text-ink">
            <option value="">any</option>
            {Object.entries(CONSENT).map(([value, { word }]) => (
              <option key={value} value={value}>
                {word}
              </option>
            ))}
          </select>
        </label>
        <button className="button">Show</button>
        {(q || program || state) && (
          <Link href="/people" className="link pb-1.5">
            everybody
          </Link>
        )}
      </form>
      {data.rows.length === 0 ? (
        <Empty>
          {q || program || state ? (
            'Nobody matches. Try fewer letters, or another program.'
          ) : (
            <>
              Nobody is here yet. People arrive when they text a keyword, or{' '}
              <Link href="/people/new">add one by hand</Link>.
            </>
          )}
        </Empty>
      ) : (
        <div className="overflow-x-auto">
          <table className="w-full">
            <thead>
              <tr>
                <th>Person</th>
                <th>Number</th>
                <th>Programs</th>
                <th>Note</th>
                <th>Here since</th>
              </tr>
            </thead>
            <tbody>
              {data.rows.map((row) => (
                <tr key={row.id}>
                  <td className="max-w-72">
                    <PersonLink id={row.id} person={row} />
                  </td>
                  <td className="whitespace-nowrap">{displayNumber(row.number)}</td>
                  <td>
                    <span className="flex flex-wrap gap-x-4">
                      {row.programs.length === 0 && <span className="text-soft">none</span>}
                      {row.programs
                        .filter(
                          ({ state: one }) => one === 'in' || row.programs.length === 1 || !row.stopped_at,
                        )
                        .map(({ name, state: one }) => (
                          <Mark key={name} tone={CONSENT[one]!.tone}>
                            {name}
                            {one === 'in' ? '' : `: ${CONSENT[one]!.word}`}
                          </Mark>
                        ))}
                    </span>
                  </td>
                  <td>
                    {row.stopped_at ? (
                      <Mark tone="bad">opted out of all</Mark>
                    ) : row.unclear_since ? (
                      <Mark tone="wait">unclear reply</Mark>
                    ) : row.number_state === 'gone' ? (
                      <Mark tone="bad">number gone</Mark>
                    ) : row.line_type === 'landline' ? (
                      <Mark tone="bad">landline</Mark>
                    ) : null}
                  </td>
                  <td className="whitespace-nowrap text-soft">{dayOf(row.created_at, zone)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      {data.next && (
        <p className="mt-4">
          <Link
            className="button"
            href={`/people?${new URLSearchParams({ q, program, state, before: data.next })}`}
          >
            Next 50
          </Link>
        </p>
      )}
    </Page>
  );
}
