import {
  ACCOUNT_STATE_WORDS,
  CATEGORY_WORDS,
  QUALITY_WORDS,
  type AccountState,
  type ChatPrices,
  type Quality,
} from '@/core/chat/network';
import { displayNumber } from '@/core/phone/number';
import { connectFields } from '@/ui/kit/connected-account';
import type { FormState } from '@/ui/kit/form-state';
import { Mark } from '@/ui/kit/mark';
import { count, plural } from '@/ui/kit/numbers';
import { Section } from '@/ui/kit/page';
import { PlainForm } from '@/ui/kit/plain-form';
import { dayAndTime } from '@/ui/kit/time';

type Act = (state: FormState, data: FormData) => Promise<FormState>;

export interface ShownAccount {
  id: string;
  name: string;
  address: string;
  state: AccountState;
  missing: string[];
  quality: Quality;
  beginLimit: number | null;
  begun: number;
  prices: ChatPrices;
  checkedAt: Date | null;
  trouble: string | null;
}

interface Props {
  accounts: readonly ShownAccount[];
  /** What to try where there is a test bench. */
  offer: { url: string; account: string; token: string } | null;
  zone: string;
  /** Null: this teammate may look only. */
  acts: { connect: Act; check: Act; remove: Act } | null;
}

/** Chat accounts, what the network says of each, and what is missing before it may send. */
export function ChatAccounts({ accounts, offer, zone, acts }: Props) {
  return (
    <Section title="Chat accounts">
      <p id="chat" className="mb-2 text-soft">
        An account at a chat network writes to people who agreed to chat, beside numbers that text. The
        network says what it may do; we ask it every quarter of an hour.
      </p>
      <ul>
        {accounts.map((account) => (
          <li key={account.id} className="border-b border-rule py-1.5">
            <details open={account.state !== 'open'}>
              <summary className="cursor-pointer">
                {account.name}{' '}
                <span className="text-sm">
                  <AccountMark account={account} />
                  <span className="text-soft">
                    {account.address && ` · ${displayNumber(account.address)}`}
                  </span>
                </span>
              </summary>
              <div className="grid gap-x-10 gap-y-3 py-3 sm:grid-cols-2">
                <Said account={account} zone={zone} />
                {acts && (
                  <div className="space-y-3">
                    <PlainForm
                      action={acts.check}
                      submit="Ask the network now"
                      hidden={{ account: account.id }}
                    />
                    <div>
                      <PlainForm
                        action={acts.remove}
                        submit="Take it away"
                        hidden={{ account: account.id }}
                      />
                      <p className="mt-1 text-sm text-soft">
                        Nothing leaves by it any more. What was said by it stays in the threads.
                      </p>
                    </div>
                  </div>
                )}
              </div>
            </details>
          </li>
        ))}
        {acts && (
          <li className="py-1.5">
            <details open={accounts.length === 0}>
              <summary className="cursor-pointer">
                Connect {accounts.length === 0 ? 'an' : 'another'} account
              </summary>
              <div className="max-w-xl py-3">
                <PlainForm action={acts.connect} submit="Connect it" fields={connectFields(offer)} />
                {offer && (
                  <p className="mt-1 text-sm text-soft">
                    The test bench has three to try: juniper; unfinished, which lacks things; and small, which
                    may begin with five people a day. Their token is “{offer.token}”.
                  </p>
                )}
              </div>
            </details>
          </li>
        )}
      </ul>
    </Section>
  );
}

function AccountMark({ account: { state, checkedAt, trouble } }: { account: ShownAccount }) {
  if (checkedAt === null) return <Mark tone="wait">being asked about</Mark>;
  if (trouble !== null) return <Mark tone="bad">not reached</Mark>;
  return <Mark tone={state === 'open' ? 'good' : 'bad'}>{ACCOUNT_STATE_WORDS[state]}</Mark>;
}

function Said({ account, zone }: { account: ShownAccount; zone: string }) {
  const { missing, quality, beginLimit, begun, prices, checkedAt, trouble } = account;
  return (
    <div className="text-sm">
      {trouble && <p className="mb-1 text-bad">✕ {trouble}</p>}
      {missing.length > 0 && (
        <>
          <p>It may send once the network has:</p>
          <ul className="mb-2 list-disc pl-5">
            {missing.map((one) => (
              <li key={one}>{one}</li>
            ))}
          </ul>
        </>
      )}
      <p>
        Begins with{' '}
        {beginLimit === null
          ? 'as many people a day as you like'
          : `${plural(beginLimit, 'person', 'people')} a day, of whom ${count(begun)} in the last 24 hours`}
        .
      </p>
      <p>How people take it: {QUALITY_WORDS[quality]}.</p>
      <p>
        Costs in credits: {CATEGORY_WORDS.marketing.name} {prices.marketing}, {CATEGORY_WORDS.utility.name}{' '}
        {prices.utility}, {CATEGORY_WORDS.authentication.name} {prices.authentication}, an answer within the
        window {prices.conversation}.
      </p>
      {checkedAt && <p className="mt-1 text-soft">Asked {dayAndTime(checkedAt, zone)}.</p>}
    </div>
  );
}
