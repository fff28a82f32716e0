import type { Metadata } from 'next';
import { may, ROLE_WORDS, type Role } from '@/core/access/roles';
import { dutyWords, WEEKDAYS } from '@/core/inquiry/duty-words';
import { lastDayAway } from '@/services/inquiries/duty';
import { getContext } from '@/services/runtime';
import { readTeamScreen, type TeamScreen } from '@/services/team/screen';
import { plural } from '@/ui/kit/numbers';
import { Page, Section } from '@/ui/kit/page';
import { BrowserNoticeChoice } from '@/ui/shell/browser-notice';
import { PlainForm } from '@/ui/kit/plain-form';
import { dayAndTime } from '@/ui/kit/time';
import { readScreen } from '../../session';
import { dutyAction, inviteAction, leaveAction, revokeAction, roleAction } from './actions';

export const metadata: Metadata = { title: 'Team' };

const ROLES = (Object.keys(ROLE_WORDS) as Role[]).map((role) => ({
  value: role,
  label: ROLE_WORDS[role].word,
}));

export default async function TeamPage() {
  const { data, session, now } = await readScreen(async (scope) => readTeamScreen(await getContext(), scope));
  const mayManage = may(session.role, 'manage-team');
  return (
    <Page
      title="Team"
      margin={
        <>
          {mayManage && (
            <Section title="Invite somebody">
              <PlainForm
                action={inviteAction}
                submit="Invite them"
                main
                fields={[
                  { name: 'name', label: 'Name', maxLength: 80 },
                  { name: 'email', label: 'E-mail', hint: 'The link goes there, and works once.' },
                  { name: 'role', label: 'Role', options: ROLES, initial: 'teammate' },
                ]}
              />
            </Section>
          )}
          <Section title="Roles">
            <ul>
              {Object.values(ROLE_WORDS).map(({ word, means }) => (
                <li key={word} className="border-b border-rule py-1.5">
                  <strong className="font-semibold">{word}</strong> <span className="text-soft">{means}</span>
                </li>
              ))}
            </ul>
          </Section>
        </>
      }
    >
      <Section title="Who works here" note={plural(data.team.length, 'teammate')}>
        <ul>
          {data.team.map((one) => (
            <Member
              key={one.account_id}
              one={one}
              others={data.team.filter(
                ({ account_id: id, role }) => id !== one.account_id && role !== 'counter',
              )}
              mayManage={mayManage}
              self={one.account_id === session.accountId}
              zone={session.workspaceZone}
              now={now}
            />
          ))}
        </ul>
        {!mayManage && (
          <p className="mt-3 text-sm text-soft">An owner invites teammates and changes roles.</p>
        )}
      </Section>
      {data.invitations.length > 0 && (
        <Section title="Invited">
          <ul>
            {data.invitations.map(({ id, name, email, role, until }) => (
              <li
                key={id}
                className="flex flex-wrap items-baseline justify-between gap-3 border-b border-rule py-2"
              >
                <span>
                  {name} <span className="text-soft">{email}</span>
                  <span className="block text-sm text-soft">
                    as {ROLE_WORDS[role as Role].word}, until {dayAndTime(until, session.workspaceZone)}
                  </span>
                </span>
                {mayManage && (
                  <PlainForm action={revokeAction} submit="Take it back" hidden={{ invitation: id }} />
                )}
              </li>
            ))}
          </ul>
        </Section>
      )}
    </Page>
  );
}

const yesNo = (name: string, label: string, on: boolean) => ({
  ...{ name, label, initial: on ? 'yes' : 'no' },
  options: [
    { value: 'yes', label: 'yes' },
    { value: 'no', label: 'no' },
  ],
});

/** Which days somebody answers on; no hours at all: at any. */
const hoursInBrief = (duty: TeamScreen['team'][number]['duty']): string =>
  duty.length === 0
    ? 'any'
    : WEEKDAYS.filter((_, i) => duty.some(({ day }) => day === i + 1))
        .map((day) => day.slice(0, 3))
        .join(', ');

function Member({
  one: { account_id: id, name, email, role, owns, duty, awayUntil, mailed, texted, ...member },
  others,
  mayManage,
  self,
  zone,
  now,
}: {
  one: TeamScreen['team'][number];
  others: TeamScreen['team'];
  mayManage: boolean;
  self: boolean;
  zone: string;
  now: number;
}) {
  const away = lastDayAway(awayUntil, zone, now);
  const has = owns.map(({ words, n }) => plural(n, ...words)).join(', ');
  return (
    <li className="border-b border-rule py-2">
      <div className="flex flex-wrap items-baseline justify-between gap-3">
        <span>
          {name}
          {self && <span className="text-soft"> (you)</span>} <span className="text-soft">{email}</span>
        </span>
        <span className="text-sm text-soft">
          {ROLE_WORDS[role as Role].word}
          {has && `; has ${has}`}
        </span>
      </div>
      {(mayManage || self) && role !== 'counter' && (
        <details className="text-sm">
          <summary className="cursor-pointer text-soft">
            hours: {hoursInBrief(duty)}
            {member.takesCalls && ', takes calls'}
            {away !== '' && <span className="text-wait">, away until {away}</span>}
          </summary>
          <div className="max-w-xl py-2">
            <PlainForm
              action={dutyAction}
              submit="Save the hours"
              hidden={{ account: id }}
              fields={[
                ...WEEKDAYS.map((label, i) => ({
                  ...{ name: `day${i + 1}`, label, initial: dutyWords(duty, i + 1) },
                  ...(i === 0 ? { hint: 'Such as 09:00–12:00, 13:00–17:00; all empty: at any hour.' } : {}),
                })),
                { name: 'away', label: 'Away until the end of', type: 'date' as const, initial: away },
                yesNo('mail', 'Inquiries are told by e-mail too', mailed),
                yesNo('text', 'And by text, to their own number once it is proved', texted),
                yesNo(
                  'mailthreads',
                  'Threads given to them, and notes that call them, by e-mail too',
                  member.mailThreads,
                ),
                yesNo(
                  'textthreads',
                  'And by text, to their own number once it is proved',
                  member.textThreads,
                ),
                yesNo('calls', 'Takes calls back while on', member.takesCalls),
              ]}
            />
            {self && <BrowserNoticeChoice />}
          </div>
        </details>
      )}
      {mayManage && (
        <details className="text-sm">
          <summary className="cursor-pointer text-soft">change</summary>
          <div className="grid gap-x-8 gap-y-3 py-2 sm:grid-cols-2">
            <PlainForm
              action={roleAction}
              submit="Give this role"
              hidden={{ account: id }}
              fields={[{ name: 'role', label: 'Role', options: ROLES, initial: role }]}
            />
            <PlainForm
              action={leaveAction}
              submit={self ? 'End my work here' : 'End their work here'}
              hidden={{ account: id }}
              fields={[
                {
                  name: 'to',
                  label: has ? `Who takes ${has}` : 'Nothing is theirs alone',
                  options: [
                    { value: '', label: has ? 'nobody, for now' : 'nobody' },
                    ...others.map(({ account_id: value, name: label }) => ({ value, label })),
                  ],
                },
              ]}
            />
          </div>
        </details>
      )}
    </li>
  );
}
