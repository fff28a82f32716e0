import type { Metadata } from 'next';
import { MAIL_RULES, type MailRule } from '@/core/clearance/mail-rules';
import { SHIPPED_RULES, type HoursRule } from '@/core/clearance/rules';
import { readWorkspace } from '@/services/access/screen';
import { count } from '@/ui/kit/numbers';
import { ListTable, type ListColumn } from '@/ui/kit/list-table';
import { PlainForm } from '@/ui/kit/plain-form';
import { Facts, Page, Section } from '@/ui/kit/page';
import { readScreen } from '../../session';
import { mailFromAction } from './actions';

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
      <Section title="E-mail">
        <p className="mb-3 max-w-prose text-soft">
          Answers come back here, whatever address stands before them. The postal address stands under every
          letter to many: the law of most countries wants one.
        </p>
        <div className="max-w-md">
          <PlainForm
            action={mailFromAction}
            submit="Keep it"
            fields={[
              {
                name: 'from',
                label: 'From address',
                hint: 'Such as hello@example.org. Empty: no e-mail leaves.',
                initial: workspace.mailFrom ?? '',
              },
              {
                name: 'name',
                label: 'From name',
                hint: `Empty: ${workspace.business}.`,
                initial: workspace.mailName ?? '',
              },
              {
                name: 'postal_address',
                label: 'Postal address',
                initial: workspace.postalAddress ?? '',
                maxLength: 300,
              },
            ]}
          />
        </div>
      </Section>
      <Section title="E-mail by law" note={`${MAIL_RULES.name}, checked ${MAIL_RULES.date}`}>
        <ListTable
          label="E-mail by law"
          rows={[...Object.entries(MAIL_RULES.countries), ['elsewhere', MAIL_RULES.elsewhere] as const]}
          columns={MAIL_COLUMNS}
          rowKey={([where]) => where}
          empty="No rule is known."
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

const MAIL_COLUMNS: ListColumn<readonly [where: string, rule: MailRule]>[] = [
  { title: 'Where', cell: ([where]) => where },
  {
    title: 'Goes to',
    cell: ([, { basis, inquiryMonths }]) =>
      basis === 'opt-out'
        ? 'members of the program, until they object'
        : `who agreed${inquiryMonths ? `, and for ${inquiryMonths} months who inquired` : ''}`,
  },
  { title: 'Postal address', cell: ([, { postalAddress }]) => (postalAddress ? 'required' : 'not required') },
  { title: 'Source', cell: ([, { source }]) => <span className="text-soft">{source}</span> },
];

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
