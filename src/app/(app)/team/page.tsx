import type { Metadata } from 'next';
import { ROLE_WORDS, type Role } from '@/core/access/roles';
import { readTeam } from '@/services/access/screen';
import { ListTable } from '@/ui/kit/list-table';
import { Page, Section } from '@/ui/kit/page';
import { readScreen } from '../../session';

export const metadata: Metadata = { title: 'Team' };

export default async function TeamPage() {
  const { data: team } = await readScreen((scope) => readTeam(scope));
  return (
    <Page
      title="Team"
      margin={
        <Section title="Roles">
          <ul>
            {Object.values(ROLE_WORDS).map(({ word, means }) => (
              <li key={word} className="border-b border-rule py-1.5">
                <strong className="font-semibold">{word}</strong> <span className="text-soft">{means}</span>
              </li>
            ))}
          </ul>
        </Section>
      }
    >
      <ListTable
        label="Team"
        rows={team}
        columns={[
          { title: 'Name', cell: (one) => one.name },
          { title: 'E-mail', cell: (one) => one.email },
          { title: 'Role', cell: (one) => ROLE_WORDS[one.role as Role].word },
        ]}
        rowKey={(one) => one.email}
        empty="Nobody stands here."
      />
      <p className="mt-4 text-soft">Inviting and removing teammates will be done here.</p>
    </Page>
  );
}
