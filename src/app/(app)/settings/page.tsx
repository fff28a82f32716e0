import type { Metadata } from 'next';
import { SHIPPED_RULES, type HoursRule } from '@/core/clearance/rules';
import { readWorkspace } from '@/services/access/screen';
import { count } from '@/ui/kit/numbers';
import { ListTable, type ListColumn } from '@/ui/kit/list-table';
import { Facts, Page, Section } from '@/ui/kit/page';
import { readScreen } from '../../session';

export const metadata: Metadata = { title: 'Settings' };

const DAYS = ['', 'Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];

export default async function SettingsPage() {
  const { data: workspace } = await readScreen((scope) => readWorkspace(scope));
  const rules = workspace.rules ?? SHIPPED_RULES;
  return (
    <Page title="Settings">
      <Section title="The workspace">
        <Facts
          rows={[
            ['business, as people read it', workspace.business],
            ['help contact', workspace.contact],
            ['time zone', workspace.zone.replace('_', ' ')],
            ['credits left', count(workspace.creditBalance)],
            ['credits per part', count(workspace.creditsPerPart)],
            [
              'most texts to one person in seven days',
              workspace.weeklyCap === null ? 'no cap' : count(workspace.weeklyCap),
            ],
          ]}
        />
      </Section>
      <Section title="Sending hours by law" note={`${rules.name}, checked ${rules.date}`}>
        <ListTable
          label="Sending hours by law"
          rows={[['everywhere else', rules.federal] as const, ...Object.entries(rules.states)]}
          columns={RULE_COLUMNS}
          rowKey={([where]) => where}
          empty="No rule is known."
        />
      </Section>
    </Page>
  );
}

const RULE_COLUMNS: ListColumn<readonly [where: string, rule: HoursRule]>[] = [
  { title: 'Where', cell: ([where]) => where },
  { title: 'Local hours', cell: ([, { windows }]) => windows.map(hoursOf).join('; ') },
  { title: 'Limit', cell: ([, { limit }]) => limit && `${limit.count} in ${limit.hours} h` },
  { title: 'Source', cell: ([, { source }]) => <span className="text-soft">{source}</span> },
];

const hoursOf = ({ days, from, to }: HoursRule['windows'][number]): string => `${daysOf(days)} ${from}–${to}`;

function daysOf(days: readonly number[]): string {
  if (days.length === 7) return 'every day';
  return days.length === 1 ? DAYS[days[0]!]! : `${DAYS[days[0]!]}–${DAYS[days.at(-1)!]}`;
}
