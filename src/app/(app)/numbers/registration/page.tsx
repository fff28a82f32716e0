import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { may } from '@/core/access/roles';
import { mustsOf } from '@/core/registration/check';
import { isUnderWay } from '@/core/registration/life';
import { displayNumber } from '@/core/phone/number';
import { readRegistrations, registrarOffer, type RegistrationLine } from '@/services/registration/screen';
import { ConnectedAccount } from '@/ui/kit/connected-account';
import { ListTable, type ListColumn } from '@/ui/kit/list-table';
import { Mark } from '@/ui/kit/mark';
import { plural } from '@/ui/kit/numbers';
import { Page } from '@/ui/kit/page';
import { PlainForm } from '@/ui/kit/plain-form';
import { dayOf } from '@/ui/kit/time';
import { Questions } from '@/ui/registration/questions';
import { likelyWords, nextWords, StandMark } from '@/ui/registration/stand';
import { readScreen } from '../../../session';
import {
  answerQuestionAction,
  checkRegistrarAction,
  connectRegistrarAction,
  handInAction,
  removeRegistrarAction,
  takeBackAction,
} from './actions';

export const metadata: Metadata = { title: 'Registration' };

/** What reviewers of numbers have to know, how each application stands, and what they ask. */
export default async function RegistrationPage() {
  const {
    data: { account, lines },
    session,
  } = await readScreen((scope, _, now) => readRegistrations(scope, now));
  const zone = session.workspaceZone;
  const mayEdit = may(session.role, 'edit-programs');
  return (
    <Page
      title="Registration"
      actions={
        <Link href="/numbers" className="button">
          Numbers
        </Link>
      }
      margin={
        <>
          <ConnectedAccount
            title="Registrar"
            none="None is connected. Files can be written and checked; to hand them in, connect one."
            closed="lets nothing be handed in"
            account={account}
            offer={registrarOffer()}
            zone={zone}
            acts={
              may(session.role, 'manage-keys')
                ? {
                    connect: connectRegistrarAction,
                    check: checkRegistrarAction,
                    remove: removeRegistrarAction,
                  }
                : null
            }
          />
          <p className="text-soft">
            Carriers let texts through only from numbers that are registered: first the business, then each
            program, then the numbers that write for it. Most of what reviewers read is taken from your
            programs; what they would miss is said before you hand anything in.
          </p>
        </>
      }
    >
      <Questions
        questions={lines.flatMap((line) =>
          line.questions.map(({ id, field, words, askedAt, answer, answeredAt, toldAt }) => ({
            ...{
              id,
              field,
              words,
              askedAt,
              answer,
              answeredAt,
              toldAt,
              name: nameOf(line),
              href: hrefOf(line),
            },
          })),
        )}
        zone={zone}
        answer={mayEdit ? answerQuestionAction : null}
      />
      <ListTable
        label="What is registered"
        rows={lines}
        columns={columnsFor(zone, mayEdit)}
        rowKey={({ about, subject }) => `${about}${subject}`}
        empty="Nothing yet."
      />
    </Page>
  );
}

const nameOf = ({ about, name }: RegistrationLine): string =>
  about === 'number' ? displayNumber(name) : name;

const hrefOf = ({ about, subject }: RegistrationLine): string =>
  about === 'brand'
    ? '/numbers/registration/brand'
    : about === 'program'
      ? `/numbers/registration/programs/${subject}`
      : `/numbers/${subject}`;

const columnsFor = (zone: string, mayEdit: boolean): ListColumn<RegistrationLine>[] => [
  {
    title: 'What',
    cell: (line) => (
      <>
        <Link className="link" href={hrefOf(line)}>
          {nameOf(line)}
        </Link>{' '}
        <span className="text-sm text-soft">{line.about === 'brand' ? 'the business' : line.about}</span>
      </>
    ),
  },
  {
    title: 'How it stands',
    cell: ({ row, byHand, broken, archived }) => (
      <>
        {byHand !== null && byHand !== 'none' ? (
          <Mark tone={byHand === 'registered' ? 'good' : 'wait'}>
            {byHand.replace('-', ' ')}, <span className="text-soft">entered by hand</span>
          </Mark>
        ) : (
          <StandMark state={row?.state ?? 'draft'} />
        )}
        {row?.reason && <div className="text-sm text-soft [overflow-wrap:anywhere]">{row.reason}</div>}
        {row?.change && (
          <div className="text-sm text-soft">
            {row.change.state === 'refused'
              ? `a change was refused: ${row.change.reason}`
              : 'a change is looked at'}
          </div>
        )}
        {archived && <div className="text-sm text-wait">its program is archived here</div>}
        {broken.length > 0 && !archived && !row?.change && (
          <div className="text-sm text-wait">{plural(broken.length, 'thing')} not as the reviewer has it</div>
        )}
      </>
    ),
  },
  {
    title: 'Next',
    cell: ({ row, byHand, forecast, broken, archived }) => (
      <>
        {byHand === 'registered'
          ? 'nobody'
          : archived || (broken.length > 0 && row?.state === 'registered' && !row.change)
            ? 'you'
            : nextWords(row?.state ?? 'draft')}
        {row && forecast && isUnderWay(row.state) && (
          <div className="text-sm text-soft">{likelyWords(forecast, zone)}</div>
        )}
      </>
    ),
  },
  {
    title: 'Since',
    kind: 'when',
    cell: ({ row }) => {
      const at = row && (isUnderWay(row.state) ? row.handedInAt : row.decidedAt);
      return at ? dayOf(at, zone) : '';
    },
  },
  {
    title: 'To mend',
    cell: ({ found }) => {
      const musts = mustsOf(found).length;
      return musts > 0 ? (
        <Mark tone="bad">
          <span className="whitespace-nowrap">{plural(musts, 'thing')}</span>
        </Mark>
      ) : (
        ''
      );
    },
  },
  {
    ...{ title: 'Act', kind: 'act', quiet: true },
    cell: ({ about, subject, row, found, byHand, broken, archived }) => {
      if (!mayEdit || byHand === 'registered') return null;
      const state = row?.state ?? 'draft';
      if (row && (isUnderWay(state) || archived))
        return <PlainForm action={takeBackAction} submit="Take it back" hidden={{ id: row.id }} />;
      const again = state === 'registered';
      const looked = row !== null && row.change !== null && row.change.state !== 'refused';
      if (mustsOf(found).length > 0 || (again && (broken.length === 0 || looked))) return null;
      return (
        <PlainForm
          action={handInAction}
          submit={again ? 'Hand in the change' : 'Hand it in'}
          hidden={{ about, subject }}
        />
      );
    },
  },
];
