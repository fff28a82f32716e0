import { PlainForm } from '@/ui/kit/plain-form';
import { Section } from '@/ui/kit/page';
import { ListTable, type ListColumn } from '@/ui/kit/list-table';
import { count, plural } from '@/ui/kit/numbers';
import type { FormState } from '@/ui/kit/form-state';

export interface SendLink {
  id: string;
  /** As it stood in the text. */
  written: string;
  /** Where it leads now. */
  url: string;
  sent: number;
  people: number;
  visits: number;
  phones: number;
  tablets: number;
  computers: number;
  robots: number;
}

interface Props {
  links: readonly SendLink[];
  action(state: FormState, data: FormData): Promise<FormState>;
}

/** Where the links of a send lead, who came by them, and the way to let one lead elsewhere. */
export function SendLinks({ links, action }: Props) {
  if (links.length === 0) return null;
  return (
    <div className="mt-8">
      <Section title="Links" note="machines that look at links are left out">
        <ListTable
          label="Links"
          rows={links}
          rowKey={({ id }) => id}
          columns={columnsWith(action)}
          empty="It has none."
        />
      </Section>
    </div>
  );
}

const columnsWith = (action: Props['action']): ListColumn<SendLink>[] => [
  {
    title: 'Leads to',
    cell: ({ id, written, url }) => (
      <details>
        <summary className="cursor-pointer [overflow-wrap:anywhere]">
          {url}
          {url !== written && <span className="text-soft"> (was {written})</span>}
        </summary>
        <div className="max-w-md pt-2">
          <PlainForm
            action={action}
            submit="Let it lead there"
            hidden={{ target: id }}
            fields={[
              {
                name: 'url',
                label: 'For everybody who has it, from now on',
                initial: url,
                maxLength: 2_000,
              },
            ]}
          />
        </div>
      </details>
    ),
  },
  { title: 'People who came', cell: ({ people, sent }) => `${count(people)} of ${count(sent)}` },
  {
    title: 'Visits',
    cell: ({ visits, phones, tablets, computers }) =>
      visits === 0
        ? '0'
        : `${count(visits)}: ${[
            phones > 0 && `${count(phones)} by phone`,
            tablets > 0 && `${count(tablets)} by tablet`,
            computers > 0 && `${count(computers)} by computer`,
          ]
            .filter(Boolean)
            .join(', ')}`,
  },
  { title: 'Machines', cell: ({ robots }) => (robots === 0 ? '0' : plural(robots, 'visit')) },
];
