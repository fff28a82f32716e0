import type { Metadata } from 'next';
import { SHIPPED_RULES, type HoursRule } from '@/core/clearance/rules';
import { readWorkspace } from '@/services/access/screen';
import { count } from '@/ui/kit/numbers';
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
            ['credits left', count(Number(workspace.creditBalance))],
            ['credits per part', count(workspace.creditsPerPart)],
            [
              'most texts to one person in seven days',
              workspace.weeklyCap === null ? 'no cap' : count(workspace.weeklyCap),
            ],
          ]}
        />
      </Section>
      <Section title="Sending hours by law" note={`${rules.name}, checked ${rules.date}`}>
        <table className="w-full">
          <thead>
            <tr>
              <th>Where</th>
              <th>Local hours</th>
              <th>Limit</th>
              <th>Source</th>
            </tr>
          </thead>
          <tbody>
            <Rule name="everywhere else" rule={rules.federal} />
            {Object.entries(rules.states).map(([state, rule]) => (
              <Rule key={state} name={state} rule={rule} />
            ))}
          </tbody>
        </table>
      </Section>
    </Page>
  );
}

function Rule({ name, rule }: { name: string; rule: HoursRule }) {
  return (
    <tr>
      <td>{name}</td>
      <td>
        {rule.windows
          .map(
            ({ days, from, to }) =>
              `${days.length === 7 ? 'every day' : days.length === 1 ? DAYS[days[0]!] : `${DAYS[days[0]!]}–${DAYS[days[days.length - 1]!]}`} ${from}–${to}`,
          )
          .join('; ')}
      </td>
      <td>{rule.limit ? `${rule.limit.count} in ${rule.limit.hours} h` : ''}</td>
      <td className="text-soft">{rule.source}</td>
    </tr>
  );
}
