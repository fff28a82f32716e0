import type { FormState } from './form-state';
import { Mark } from './mark';
import { Section } from './page';
import { PlainForm } from './plain-form';
import { dayAndTime } from './time';

type Act = (state: FormState, data: FormData) => Promise<FormState>;

interface Props {
  /** “Registrar”. */
  title: string;
  /** What none being connected means. */
  none: string;
  /** What is said of one that lets us do nothing. */
  closed: string;
  account: {
    id: string;
    name: string;
    state: 'open' | 'closed';
    trouble: string | null;
    checkedAt: Date | null;
  } | null;
  /** What to try where there is a test bench. */
  offer: { url: string; account: string; token: string } | null;
  zone: string;
  /** Null: this teammate may look only. */
  acts: { connect: Act; check: Act; remove: Act } | null;
}

/** An account of ours at somebody else’s: connected, asked, taken away. */
export function ConnectedAccount({ title, none, closed, account, offer, zone, acts }: Props) {
  return (
    <Section title={title}>
      {account === null ? (
        <>
          <p className="mb-2 text-sm text-soft">{none}</p>
          {acts && <PlainForm action={acts.connect} submit="Connect it" fields={connectFields(offer)} />}
        </>
      ) : (
        <>
          <p>
            {account.name}{' '}
            <span className="text-sm">
              <Mark tone={account.state === 'open' && !account.trouble ? 'good' : 'bad'}>
                {account.state === 'open' ? (account.trouble ? 'in trouble' : 'connected') : closed}
              </Mark>
            </span>
          </p>
          {account.trouble && <p className="text-sm text-bad [overflow-wrap:anywhere]">{account.trouble}</p>}
          <p className="mb-2 text-sm text-soft">
            {account.checkedAt ? `Asked ${dayAndTime(account.checkedAt, zone)}.` : 'Not asked yet.'}
          </p>
          {acts && (
            <div className="flex flex-wrap gap-3">
              <PlainForm action={acts.check} submit="Ask it now" hidden={{ account: account.id }} />
              <PlainForm action={acts.remove} submit="Take it away" hidden={{ account: account.id }} />
            </div>
          )}
        </>
      )}
    </Section>
  );
}

/** What is typed to connect an account; `offer`: what to try where there is a test bench. */
export const connectFields = (offer: { url: string; account: string; token: string } | null) => [
  { name: 'url', label: 'Where its interface begins', initial: offer?.url ?? '', maxLength: 500 },
  { name: 'account', label: 'What it calls the account', initial: offer?.account ?? '', maxLength: 100 },
  { name: 'token', label: 'Its token', initial: offer?.token ?? '', maxLength: 500 },
];
