import type { FormState } from '@/ui/kit/form-state';
import { Mark } from '@/ui/kit/mark';
import { Section } from '@/ui/kit/page';
import { PlainForm } from '@/ui/kit/plain-form';
import { dayAndTime } from '@/ui/kit/time';

type Act = (state: FormState, data: FormData) => Promise<FormState>;

interface Props {
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

/** The registrar applications are handed in to. */
export function Registrar({ account, offer, zone, acts }: Props) {
  return (
    <Section title="Registrar">
      {account === null ? (
        <>
          <p className="mb-2 text-sm text-soft">
            None is connected. Files can be written and checked; to hand them in, connect one.
          </p>
          {acts && (
            <PlainForm
              action={acts.connect}
              submit="Connect it"
              fields={[
                {
                  name: 'url',
                  label: 'Where its interface begins',
                  initial: offer?.url ?? '',
                  maxLength: 500,
                },
                {
                  name: 'account',
                  label: 'What it calls the account',
                  initial: offer?.account ?? '',
                  maxLength: 100,
                },
                { name: 'token', label: 'Its token', initial: offer?.token ?? '', maxLength: 500 },
              ]}
            />
          )}
        </>
      ) : (
        <>
          <p>
            {account.name}{' '}
            <span className="text-sm">
              <Mark tone={account.state === 'open' && !account.trouble ? 'good' : 'bad'}>
                {account.state === 'open'
                  ? account.trouble
                    ? 'in trouble'
                    : 'connected'
                  : 'lets nothing be handed in'}
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
