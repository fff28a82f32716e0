import { CALL_TARGETS, CALL_TARGET_WORDS, type CallMapping } from '@/core/calls/mapping';
import { connectFields } from '@/ui/kit/connected-account';
import type { FormState } from '@/ui/kit/form-state';
import { Mark } from '@/ui/kit/mark';
import { plural } from '@/ui/kit/numbers';
import { Section } from '@/ui/kit/page';
import { PlainForm } from '@/ui/kit/plain-form';
import { dayAndTime } from '@/ui/kit/time';

type Act = (state: FormState, data: FormData) => Promise<FormState>;

export interface ShownVoicemailAccount {
  id: string;
  name: string;
  state: 'open' | 'closed';
  price: number;
  checkedAt: Date | null;
  trouble: string | null;
}

export interface ShownBoard {
  id: string;
  name: string;
  url: string;
  signs: 'none' | 'standard';
  secret: string;
  mapping: CallMapping;
  proposed: CallMapping;
  /** The last that came, as it came. */
  sample: string | null;
  heardAt: Date | null;
  listsNumbers: boolean;
  /** Events that could not be read, and why the last could not. */
  unread: number;
  trouble: string | null;
}

interface Props {
  account: ShownVoicemailAccount | null;
  boards: readonly ShownBoard[];
  phones: { callSeconds: number; mayBeBusy: number };
  offer: { dropper: { url: string; account: string; token: string } | null; numbers: string | null };
  zone: string;
  /** Null: this teammate may look only. */
  acts: Record<
    'connect' | 'check' | 'remove' | 'connectBoard' | 'mapBoard' | 'removeBoard' | 'bring' | 'phones',
    Act
  > | null;
}

/** Who leaves voicemails, which telephone systems tell of calls, and how long a call takes. */
export function CallLines({ account, boards, phones, offer, zone, acts }: Props) {
  return (
    <>
      <Section title="Voicemails">
        <p className="mb-2 text-soft">
          An account at somebody who leaves voicemails. They come from a number of the program that can be
          called.
        </p>
        {account ? (
          <Account account={account} zone={zone} acts={acts} />
        ) : (
          acts && (
            <div className="max-w-xl">
              <PlainForm action={acts.connect} submit="Connect it" fields={connectFields(offer.dropper)} />
              {offer.dropper && (
                <p className="mt-1 text-sm text-soft">
                  The test bench has juniper, cedar, and closed to try; their token is “{offer.dropper.token}
                  ”.
                </p>
              )}
            </div>
          )
        )}
        <div id="phones" className="mt-4 max-w-xl">
          <h3 className="text-sm text-soft">
            How many call back at once is sized to who takes calls (under Team), and to:
          </h3>
          {acts ? (
            <PlainForm
              action={acts.phones}
              submit="Save"
              fields={[
                {
                  name: 'minutes',
                  label: 'Minutes a call takes, with what is written down after it',
                  initial: String(phones.callSeconds / 60),
                },
                {
                  name: 'busy',
                  label: 'Of a hundred calls so many may find nobody free',
                  initial: String(Math.round(phones.mayBeBusy * 100)),
                },
              ]}
            />
          ) : (
            <p>
              {phones.callSeconds / 60} minutes a call; {Math.round(phones.mayBeBusy * 100)} of a hundred may
              find nobody free.
            </p>
          )}
        </div>
      </Section>
      <div className="mt-8">
        <Section title="Telephone systems">
          <p className="mb-2 text-soft">
            A telephone system tells what happens to calls at an address of ours, in JSON of any shape. Then
            calls stand in the threads, and what they come to can be followed by a text.
          </p>
          <ul>
            {boards.map((board) => (
              <Board key={board.id} board={board} zone={zone} acts={acts} />
            ))}
            {acts && (
              <li className="py-1.5">
                <details open={boards.length === 0}>
                  <summary className="cursor-pointer">
                    Let {boards.length === 0 ? 'a' : 'another'} telephone system in
                  </summary>
                  <div className="max-w-xl py-3">
                    <PlainForm
                      action={acts.connectBoard}
                      submit="Make its address"
                      fields={[
                        { name: 'name', label: 'Name', maxLength: 80 },
                        {
                          ...{ name: 'signs', label: 'How it signs' },
                          options: [
                            { value: 'none', label: 'not at all: its address is the secret' },
                            { value: 'standard', label: 'as Standard Webhooks has it' },
                          ],
                        },
                        {
                          name: 'numbers_url',
                          label: 'Where it lists its numbers',
                          hint: 'Left empty: it does not.',
                          initial: offer.numbers ?? '',
                          maxLength: 500,
                        },
                        { name: 'token', label: 'Its token for that', maxLength: 500 },
                      ]}
                    />
                  </div>
                </details>
              </li>
            )}
          </ul>
        </Section>
      </div>
    </>
  );
}

function Account({
  account,
  zone,
  acts,
}: {
  account: ShownVoicemailAccount;
  zone: string;
  acts: Props['acts'];
}) {
  const { id, name, state, price, checkedAt, trouble } = account;
  return (
    <div className="border-y border-rule py-2">
      <p>
        {name}{' '}
        {checkedAt === null ? (
          <Mark tone="wait">being asked about</Mark>
        ) : trouble ? (
          <Mark tone="bad">not reached</Mark>
        ) : (
          <Mark tone={state === 'open' ? 'good' : 'bad'}>{state}</Mark>
        )}
      </p>
      {trouble && <p className="text-bad">✕ {trouble}</p>}
      <p className="text-sm text-soft">
        {plural(price, 'credit')} for a voicemail.{checkedAt && ` Asked ${dayAndTime(checkedAt, zone)}.`}
      </p>
      {acts && (
        <div className="mt-2 flex flex-wrap gap-4">
          <PlainForm action={acts.check} submit="Ask now" hidden={{ account: id }} />
          <PlainForm action={acts.remove} submit="Take it away" hidden={{ account: id }} />
        </div>
      )}
    </div>
  );
}

function Board({ board, zone, acts }: { board: ShownBoard; zone: string; acts: Props['acts'] }) {
  const mapped = board.mapping.id !== undefined;
  return (
    <li className="border-b border-rule py-1.5">
      <details open={!mapped}>
        <summary className="cursor-pointer">
          {board.name}{' '}
          <span className="text-sm">
            {!mapped ? (
              <Mark tone="wait">{board.sample ? 'say where things stand' : 'waits for its first call'}</Mark>
            ) : board.unread > 0 ? (
              <Mark tone="bad">{plural(board.unread, 'event')} could not be read</Mark>
            ) : (
              <Mark tone="good">understood</Mark>
            )}
            <span className="text-soft">
              {board.heardAt ? ` · heard of it ${dayAndTime(board.heardAt, zone)}` : ' · nothing heard yet'}
            </span>
          </span>
        </summary>
        <div className="space-y-4 py-3">
          <p className="text-sm [overflow-wrap:anywhere]">
            It tells at <code>{board.url}</code>
            {board.signs === 'standard' && (
              <>
                , signed with <code>{board.secret}</code>
              </>
            )}
          </p>
          {board.trouble && <p className="text-bad">✕ {board.trouble}</p>}
          {board.sample && (
            <div className="grid gap-6 sm:grid-cols-2">
              <div>
                <h3 className="text-sm text-soft">The last that came</h3>
                <pre className="max-h-80 overflow-auto whitespace-pre-wrap text-sm [overflow-wrap:anywhere]">
                  {board.sample}
                </pre>
              </div>
              {acts && (
                <div>
                  <h3 className="text-sm text-soft">
                    Where what is said stands{mapped ? '' : ', as it seems by its names'}
                  </h3>
                  <PlainForm
                    action={acts.mapBoard}
                    submit={mapped ? 'Save, and read what could not be read' : 'It stands so'}
                    main={!mapped}
                    hidden={{ board: board.id }}
                    fields={CALL_TARGETS.map((target) => ({
                      ...{ name: target, label: CALL_TARGET_WORDS[target], maxLength: 300 },
                      initial: (mapped ? board.mapping : board.proposed)[target] ?? '',
                    }))}
                  />
                </div>
              )}
            </div>
          )}
          {acts && (
            <div className="flex flex-wrap gap-6">
              {board.listsNumbers && (
                <div className="max-w-md">
                  <PlainForm
                    action={acts.bring}
                    submit="Bring its numbers in"
                    hidden={{ board: board.id }}
                    fields={[
                      {
                        name: 'numbers',
                        label: 'Which',
                        hint: 'With commas between; empty: it says which there are.',
                        maxLength: 2_000,
                      },
                    ]}
                  />
                </div>
              )}
              <PlainForm action={acts.removeBoard} submit="Take it out" hidden={{ board: board.id }} />
            </div>
          )}
        </div>
      </details>
    </li>
  );
}
