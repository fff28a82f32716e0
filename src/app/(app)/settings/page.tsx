import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { MAIL_RULES, type MailRule } from '@/core/clearance/mail-rules';
import { SHIPPED_RULES, type HoursRule, type RuleSet } from '@/core/clearance/rules';
import { readSettings } from '@/services/access/screen';
import { readToldOfPrograms } from '@/services/registration/screen';
import { plural } from '@/ui/kit/numbers';
import { plainDate } from '@/ui/kit/time';
import { ListTable, type ListColumn } from '@/ui/kit/list-table';
import { PlainForm } from '@/ui/kit/plain-form';
import { Page, Section } from '@/ui/kit/page';
import { readScreen } from '../../session';
import { SHIPPED_LIMITS } from '@/core/broadcast/limits';
import { WORDS_DATE } from '@/core/wording/words';
import { WordingForm } from '@/ui/settings/wording-form';
import {
  dropRuleAction,
  mailFromAction,
  ruleAction,
  limitsAction,
  wordingAction,
  workspaceAction,
} from './actions';
import { countryOfRule, countryPlace, EVERYWHERE } from '@/core/clearance/own-rules';
import { countryName, knownCountries } from '@/core/phone/number';
import { REGION_NAMES } from '@/core/phone/regions';
import { RuleForm } from '@/ui/settings/rule-form';
import { WorkspaceForm } from '@/ui/settings/workspace-form';

const LIMIT_FIELDS = [
  ['opt_outs', 'Opted out', 'opt-outs'],
  ['spam', 'Refused as spam', 'spam'],
  ['failures', 'Failed', 'failures'],
] as const;

const percentOf = (share: number | null): string =>
  share === null ? '' : String(Number((share * 100).toFixed(2)));

export const metadata: Metadata = { title: 'Settings' };

const DAYS = ['', 'Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];

export default async function SettingsPage() {
  const {
    data: { workspace, reach, programs, regions, told },
  } = await readScreen(async (scope, _, now) => ({
    ...(await readSettings(scope, now)),
    told: await readToldOfPrograms(scope),
  }));
  const livesIn = new Map(regions.map(({ region, people }) => [region, people]));
  const rules = workspace.rules ?? SHIPPED_RULES;
  return (
    <Page title="Settings">
      <Section title="The workspace">
        <WorkspaceForm
          action={workspaceAction}
          workspace={{
            ...{ business: workspace.business, contact: workspace.contact, country: workspace.country },
            ...{
              zone: workspace.zone,
              weeklyCap: workspace.weeklyCap,
              asksNearMisses: workspace.asksNearMisses,
            },
            ...{
              termsUrl: workspace.termsUrl,
              privacyUrl: workspace.privacyUrl,
              linkBase: workspace.linkBase,
            },
            stamp: workspace.stamp,
          }}
          reach={reach}
          programs={programs}
          told={told}
        />
      </Section>
      <Section title="Wording" note={`list of risky words looked through ${plainDate(WORDS_DATE)}`}>
        <p className="mb-3 max-w-prose text-soft">
          Every text is checked while it is written. What must be mended stops a broadcast until it is; what
          is scheduled already was checked as it was.
        </p>
        <div id="wording" className="max-w-3xl">
          <WordingForm action={wordingAction} wording={workspace.wording} stamp={workspace.stamp} />
        </div>
      </Section>
      <Section title="Held by itself">
        <p className="mb-3 max-w-prose text-soft">
          While a broadcast goes out, the rest of it is held when a share is surely over its limit: the low
          end of its 95 % interval, of at least thirty people. Owners and who made it are told.
        </p>
        <div id="limits" className="max-w-md">
          <PlainForm
            stamp={workspace.stamp}
            action={limitsAction}
            submit="Keep it"
            fields={LIMIT_FIELDS.map(([name, label, of]) => ({
              ...{ name, label: `${label}, of a hundred`, hint: 'Empty: never.' },
              initial: percentOf((workspace.sendLimits ?? SHIPPED_LIMITS)[of]),
            }))}
          />
        </div>
      </Section>
      <Section title="E-mail">
        <p className="mb-3 max-w-prose text-soft">
          Answers come back here, whatever address stands before them. The postal address stands under every
          letter to many: the law of most countries wants one.
        </p>
        <div id="mail" className="max-w-md">
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
      <Section title="E-mail by law" note={`${MAIL_RULES.name}, checked ${plainDate(MAIL_RULES.date)}`}>
        <ListTable
          label="E-mail by law"
          rows={[...Object.entries(MAIL_RULES.countries), ['elsewhere', MAIL_RULES.elsewhere] as const]}
          columns={MAIL_COLUMNS}
          rowKey={([where]) => where}
          empty="No rule is known."
        />
      </Section>
      <Section title="Old messages">
        <p className="max-w-prose text-soft">
          {workspace.putAwayMonths === null
            ? 'Every message stays as it is.'
            : `What messages older than ${workspace.putAwayMonths} months said is put away.`}{' '}
          <Link className="link" href="/settings/put-away">
            What is put away
          </Link>
        </p>
      </Section>
      <Section title="Sending hours" note={`${rules.name}, checked ${plainDate(rules.date)}`}>
        <ul>
          {rulesOf(rules).map(([where, rule]) => (
            <Rule key={where} where={where} rule={rule} people={livesIn.get(where) ?? 0} />
          ))}
        </ul>
        <details className="mt-3">
          <summary className="cursor-pointer">A rule for another state or country</summary>
          <div className="max-w-xl pt-3">
            <RuleForm action={ruleAction} where={null} rule={rules.federal} places={placesWithout(rules)} />
          </div>
        </details>
      </Section>
    </Page>
  );
}

const MAIL_COLUMNS: ListColumn<readonly [where: string, rule: MailRule]>[] = [
  { title: 'Where', cell: ([where]) => (where === 'elsewhere' ? where : countryName(where)) },
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

/** Every place with a rule of its own, and everywhere else. */
const rulesOf = ({
  federal,
  states,
  countries = {},
}: RuleSet): (readonly [where: string, rule: HoursRule])[] => [
  [EVERYWHERE, federal],
  ...Object.entries(states),
  ...Object.entries(countries).map(([country, rule]) => [countryPlace(country), rule] as const),
];

function nameOf(where: string): string {
  const country = countryOfRule(where);
  if (country !== null) return countryName(country);
  return where === EVERYWHERE ? 'everywhere else' : (REGION_NAMES[where] ?? where);
}

const OF_THE_STATES: ReadonlySet<string> = new Set(['US', 'PR', 'VI', 'GU', 'AS', 'MP']);

/** States, then other countries, that have no rule of their own yet. */
function placesWithout({ states, countries = {} }: RuleSet): { value: string; label: string }[] {
  const abroad = knownCountries()
    // Puerto Rico, Guam and the like stand among the states.
    .filter((country) => !OF_THE_STATES.has(country) && !countries[country])
    .map((country) => ({ value: countryPlace(country), label: countryName(country) }))
    .sort((a, b) => a.label.localeCompare(b.label));
  return [
    ...Object.entries(REGION_NAMES)
      .filter(([code]) => !states[code])
      .map(([value, label]) => ({ value, label })),
    ...abroad,
  ];
}

/** One place: its hours and where they stand; opened, it is changed or goes back to what ships. */
function Rule({ where, rule, people }: { where: string; rule: HoursRule; people: number }) {
  return (
    <li className="border-b border-rule py-1.5">
      <details>
        <summary className="flex cursor-pointer flex-wrap items-baseline gap-x-4">
          <span className="w-40 shrink-0">{nameOf(where)}</span>
          <span className="flex-1">
            {rule.windows.map(hoursOf).join('; ')}
            {rule.limit && `, at most ${rule.limit.count} in ${rule.limit.hours} h`}
          </span>
          <span className="text-sm text-soft">
            {rule.source}
            {rule.date && ` · yours, ${plainDate(rule.date)}`}
          </span>
          <span className="link text-sm">change</span>
        </summary>
        <div className="max-w-xl py-3">
          {Object.hasOwn(REGION_NAMES, where) && (
            <p className="mb-2 text-sm text-soft">
              {plural(people, 'person is', 'people are')} taken to live there: what waits for them waits by
              the new hours from now on.
            </p>
          )}
          <RuleForm action={ruleAction} where={where} rule={rule} places={[]} />
          {rule.date && <PlainForm action={dropRuleAction} submit="As it ships" hidden={{ where }} />}
        </div>
      </details>
    </li>
  );
}

const hoursOf = ({ days, from, to }: HoursRule['windows'][number]): string => `${daysOf(days)} ${from}–${to}`;

function daysOf(days: readonly number[]): string {
  if (days.length === 7) return 'every day';
  return days.length === 1 ? DAYS[days[0]!]! : `${DAYS[days[0]!]}–${DAYS[days.at(-1)!]}`;
}
