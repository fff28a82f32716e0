import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { displayNumber } from '@/core/phone/number';
import { differences, SHIPPED_PROFILES } from '@/core/delivery/carrier-profile';
import {
  readCarrierStates,
  readNumbers,
  readRestRule,
  type CarrierState,
  type Standing,
} from '@/services/numbers/screen';
import { count, percent } from '@/ui/kit/numbers';
import { ListTable, type ListColumn } from '@/ui/kit/list-table';
import { Page, Section } from '@/ui/kit/page';
import { benchOffer, readChatAccounts, type AccountLine } from '@/services/chat/screen';
import { ChatAccounts } from '@/ui/chat/accounts';
import { Carriers } from '@/ui/numbers/carriers';
import { EnterNumber } from '@/ui/numbers/number-forms';
import { Registered, StandingMark } from '@/ui/numbers/standing';
import { PlainForm } from '@/ui/kit/plain-form';
import { may } from '@/core/access/roles';
import { readProgramChoices } from '@/services/programs/screen';
import { numbersOffer, readSwitchboards } from '@/services/calls/screen';
import { readPhones, readVoicemailAccount, voicemailOffer } from '@/services/voicemail/screen';
import { CallLines } from '@/ui/calls/lines';
import {
  bringNumbersAction,
  checkVoicemailAction,
  connectBoardAction,
  connectVoicemailAction,
  mapBoardAction,
  phonesAction,
  removeBoardAction,
  removeVoicemailAction,
} from './call-actions';
import { readScreen } from '../../session';
import {
  changeCarrierAction,
  checkChatAction,
  connectChatAction,
  removeChatAction,
  checkCarrierAction,
  enterCarrierAction,
  enterNumberAction,
  removeCarrierAction,
  restRuleAction,
} from './actions';

export const metadata: Metadata = { title: 'Numbers' };

export default async function NumbersPage({ searchParams }: { searchParams: Promise<{ sort?: string }> }) {
  const { sort } = await searchParams;
  const { data, session } = await readScreen(async (scope, _, now) => ({
    senders: await readNumbers(scope, now),
    programs: await readProgramChoices(scope),
    carriers: await readCarrierStates(scope),
    chats: await readChatAccounts(scope, now),
    voicemail: await readVoicemailAccount(scope),
    boards: await readSwitchboards(scope),
    phones: await readPhones(scope),
    rests: await readRestRule(scope),
  }));
  const { senders } = data;
  const carriers = data.carriers.map(({ id, name }) => ({ id, name }));
  const mayEdit = may(session.role, 'edit-programs');
  return (
    <Page
      title="Numbers"
      actions={
        <>
          <Link href="/numbers/find" className="button">
            Find a number
          </Link>
          <Link href="/numbers/registration" className="button">
            Registration
          </Link>
          <Link href="/credits" className="button">
            Credits
          </Link>
        </>
      }
      margin={
        <>
          {mayEdit && (
            <Section title="A number the carrier gave">
              <EnterNumber action={enterNumberAction} programs={data.programs} carriers={carriers} />
            </Section>
          )}
          {mayEdit && (
            <Section
              title="Unwell numbers"
              note={data.rests ? 'rest by themselves' : 'do not rest by themselves'}
            >
              <p className="mb-2 text-sm text-soft">
                Looked at each hour: one that is unwell begins nothing for a week, where each of its programs
                has another that is well. It comes back by the day; unwell again, it rests twice as long.
              </p>
              <PlainForm
                action={restRuleAction}
                submit={data.rests ? 'Rest none by itself' : 'Rest them by themselves'}
                hidden={{ rests: data.rests ? 'no' : 'yes' }}
              />
            </Section>
          )}
          <p className="text-soft">
            A number’s standing is its last week against its own eleven weeks before: what arrives, what
            carriers refuse as spam, what is answered, what costs people. It is called unwell only where
            chance does not explain it and it matters. Texts from a number that is not registered are held.
          </p>
        </>
      }
    >
      <ListTable
        label="Sender numbers"
        rows={senders}
        columns={[...COLUMNS, usedBy(data.programs)]}
        rowKey={({ id }) => id}
        empty="No sender number yet. The carrier gives you one; enter it beside. At the test bench any number will do."
        sort={sort}
        sortHref={(by) => `/numbers?sort=${by}`}
      />
      <div className="mt-8">
        <Carriers
          carriers={data.carriers.map(shownCarrier)}
          shipped={SHIPPED}
          acts={
            mayEdit
              ? {
                  ...{ enter: enterCarrierAction, change: changeCarrierAction },
                  ...{ remove: removeCarrierAction, check: checkCarrierAction },
                }
              : null
          }
        />
      </div>
      <div className="mt-8">
        <ChatAccounts
          accounts={data.chats.map(shownAccount)}
          offer={benchOffer()}
          zone={session.workspaceZone}
          acts={
            mayEdit ? { connect: connectChatAction, check: checkChatAction, remove: removeChatAction } : null
          }
        />
      </div>
      <div className="mt-8">
        <CallLines
          account={data.voicemail}
          boards={data.boards.map((board) => ({
            ...board,
            sample: board.sample === null ? null : asJson(board.sample),
          }))}
          phones={data.phones}
          offer={{ dropper: voicemailOffer(), numbers: numbersOffer() }}
          zone={session.workspaceZone}
          acts={may(session.role, 'manage-keys') ? CALL_ACTS : null}
        />
      </div>
    </Page>
  );
}

const CALL_ACTS = {
  ...{ connect: connectVoicemailAction, check: checkVoicemailAction, remove: removeVoicemailAction },
  ...{ connectBoard: connectBoardAction, mapBoard: mapBoardAction, removeBoard: removeBoardAction },
  ...{ bring: bringNumbersAction, phones: phonesAction },
};

function shownAccount({ account, begun }: AccountLine) {
  const { id, name, address, state, missing, quality, beginLimit, prices, checkedAt, trouble } = account;
  return { id, name, address, state, missing, quality, beginLimit, begun, prices, checkedAt, trouble };
}

const asJson = (value: object): string => JSON.stringify(value, null, 2);

const SHIPPED = SHIPPED_PROFILES.map(({ name, about, profile }) => ({
  ...{ name, about },
  differs: asJson(differences(profile)),
}));

function shownCarrier({ id, name, host, port, system_id: systemId, profile, links, senders }: CarrierState) {
  const edited =
    host === null
      ? null
      : { id, name, host, port: port!, systemId: systemId ?? '', profile: asJson(profile) };
  return { id, name, edited, links, senders };
}

const COLUMNS: ListColumn<Standing>[] = [
  {
    title: 'Number',
    cell: ({ id, number, kind }) => (
      <span className="whitespace-nowrap">
        <Link className="link" href={`/numbers/${id}`}>
          {displayNumber(number)}
        </Link>{' '}
        <span className="text-sm text-soft">{kind.replace('-', ' ')}</span>
      </span>
    ),
    by: ({ number }) => number,
  },
  {
    title: 'Registration',
    cell: (sender) => <Registered sender={sender} />,
    by: ({ registration }) => registration,
  },
  {
    title: 'Standing',
    cell: ({ standing, rested_at: rested }) => (
      <StandingMark state={standing.state} rests={rested !== null} />
    ),
  },
  {
    title: 'Sent, 7 days',
    kind: 'number',
    cell: ({ sent_7: sent }) => count(sent),
    by: ({ sent_7: sent }) => sent,
  },
  {
    title: 'Delivered',
    kind: 'number',
    cell: ({ rateNow }) => percent(rateNow),
    by: ({ rateNow }) => rateNow,
  },
  {
    title: 'Blocked as spam',
    kind: 'number',
    cell: ({ blocked_7: blocked }) => count(blocked),
    by: ({ blocked_7: blocked }) => blocked,
  },
  { title: 'Parts/s', kind: 'number', cell: (sender) => count(sender.parts_per_second) },
];

/** Which programs write from it; one that all write from says so, however many there are. */
const usedBy = (all: readonly { name: string }[]): ListColumn<Standing> => ({
  title: 'Used by',
  cell: ({ programs }) =>
    all.length > 2 && all.every(({ name }) => programs.includes(name))
      ? 'every program'
      : programs.join(', '),
});
