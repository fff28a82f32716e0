import { isByHand } from '@/core/broadcast/timing';
import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { notFound } from 'next/navigation';
import { CHANNEL_WORDS, type Channel } from '@/core/message/channel';
import { CATEGORY_WORDS } from '@/core/chat/network';
import { readDropCalls } from '@/services/calls/screen';
import { readRecordingChoices, readWaves } from '@/services/voicemail/screen';
import { DropResults } from '@/ui/voicemail/drop-results';
import { KeptPlayer } from '@/ui/voicemail/player';
import { readChatChoices } from '@/services/chat/screen';
import type { BroadcastState } from '@/core/broadcast/lifecycle';
import { readOwnNumber } from '@/services/sequences/own-number';
import { audienceWords, readDraftChoices, readSend } from '@/services/sends/screen';
import { BroadcastActs, type BroadcastAct } from '@/ui/sends/broadcast-acts';
import { BroadcastMark } from '@/ui/sends/broadcast-state';
import { count, plural } from '@/ui/kit/numbers';
import { Facts, Page, Section } from '@/ui/kit/page';
import { Progress } from '@/ui/kit/progress';
import { ResultLines } from '@/ui/results/result-lines';
import { dayAndTime } from '@/ui/kit/time';
import { readScreen } from '../../../session';
import { askNumberAction, giveCodeAction } from '../../programs/sequences/trial-actions';
import { comparisonValues, paceValues, timingValues, whenBefore } from '../../../draft-question';
import {
  actAction,
  changePaceAction,
  changeTargetAction,
  chooseWordingAction,
  copyAction,
  endRepeatAction,
  endSharesAction,
  shareAction,
  leaveOutAction,
  keepSegmentAction,
  saveDraftAction,
  tryDraftAction,
} from '../actions';
import { SendWords } from '@/ui/sends/send-words';
import { Draft } from '../draft';
import type { DraftValues } from '@/ui/sends/draft-values';
import { Scheduled } from '@/ui/sends/scheduled';
import { LeaveOutForm, PaceForm } from '@/ui/sends/send-going';
import { readable } from '@/ui/sends/readable';
import { SendAgain } from '@/ui/sends/send-again';
import { SendReplies } from '@/ui/sends/send-replies';
import { sharesOf } from '@/services/sends/share-result';
import { PlainForm } from '@/ui/kit/plain-form';
import { SendWordings } from '@/ui/sends/send-wordings';
import { Mark } from '@/ui/kit/mark';
import { SendLinks } from '@/ui/sends/send-links';
import { Stuck } from '../../stuck';

export const metadata: Metadata = { title: 'Broadcast' };

export default async function SendPage({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  const { data, session, now } = await readScreen(async (scope, signedIn, at) => {
    const send = await readSend(scope, id, at);
    return {
      send,
      shares: await sharesOf({ now: () => at }, scope, id),
      who: send && (await audienceWords(scope, send.broadcast.audience, signedIn.accountId, at)),
      choices: await readDraftChoices(scope, signedIn.accountId, at),
      chats: await readChatChoices(scope),
      recordings: send?.broadcast.state === 'draft' ? await readRecordingChoices(scope) : [],
      drop:
        send?.broadcast.channel === 'voicemail'
          ? { calls: await readDropCalls(scope, id), waves: await readWaves(scope, id) }
          : null,
      own: await readOwnNumber({ now: () => at }, scope, signedIn.accountId),
    };
  });
  if (!data.send) notFound();
  const { broadcast, program, result, links } = data.send;
  const zone = session.workspaceZone;
  if (broadcast.state === 'draft') return <DraftPage {...{ data: { ...data, send: data.send }, zone }} />;
  const byHand = isByHand(broadcast.timing.pace);
  const acts = actsFor(broadcast.state, result.open, byHand);
  return (
    <Page
      title={broadcast.name}
      actions={<Acts id={id} acts={acts} byHand={byHand} />}
      margin={
        <>
          <Section title="The send">
            <Facts
              rows={[
                ['state', <BroadcastMark key="state" state={broadcast.state} />],
                [
                  'program',
                  <Link key="program" href={`/programs/${program.id}`} className="link">
                    {program.name}
                  </Link>,
                ],
                ...(data.who ? ([['of them', data.who]] as [string, string][]) : []),
                ...(data.send.companions.of
                  ? ([
                      [
                        'told beside',
                        <Link key="of" href={`/sends/${data.send.companions.of.id}`} className="link">
                          {data.send.companions.of.name}
                        </Link>,
                      ],
                    ] as [string, React.ReactNode][])
                  : []),
                ...timesOf(broadcast, zone),
                [
                  'by',
                  `${CHANNEL_WORDS[broadcast.channel].message}${broadcast.instead ? `, else ${CHANNEL_WORDS[broadcast.instead.channel ?? 'email'].message}` : ''}`,
                ],
                ...(broadcast.channel === 'sms' && broadcast.begunAt
                  ? ([
                      ['parts sent', count(result.parts)],
                      ['credits spent', count(result.credits)],
                    ] as [string, string][])
                  : []),
                ...data.send.chats.map(({ category, sent, credits }): [string, string] => [
                  `by chat, ${CATEGORY_WORDS[category].name}`,
                  `${plural(sent, 'message')}, ${plural(credits, 'credit')}`,
                ]),
              ]}
            />
          </Section>
          <Said send={data.send} />
          {broadcast.begunAt && (
            <SendAgain
              {...{ id, zone }}
              shares={data.shares.map(({ id: shared, endsAt }) => ({ id: shared, endsAt }))}
              copy={copyAction}
              share={shareAction}
              endShares={endSharesAction}
            />
          )}
        </>
      }
    >
      <Stuck id={id} />
      {broadcast.state === 'scheduled' ? (
        <div className="border-l-2 border-wait pl-4">
          <p>
            {broadcast.timing.local
              ? `It goes out where the clocks show ${broadcast.timing.local.replace('T', ', ')}, first on ${dayAndTime(broadcast.sendAt!, zone)}.`
              : `It goes out on ${dayAndTime(broadcast.sendAt!, zone)}.`}{' '}
            Until then it can be called back and changed; each person is cleared at the moment of sending.
          </p>
          {broadcast.repeat && (
            <div className="mt-3">
              <p>
                It is sent again by the rule <code>{broadcast.repeat.rule}</code>: the next one is scheduled
                when this one begins, checked as new, and whoever got these very words gets them no second
                time.
              </p>
              <PlainForm
                action={endRepeatAction}
                submit="Let this be the last one"
                hidden={{ broadcast: id }}
              />
            </div>
          )}
          <Scheduled
            values={draftValuesOf(data.send, zone)}
            when={whenBefore(broadcast.sendAt!, broadcast.timing.local, zone)}
            sendAt={broadcast.sendAt!.getTime()}
            {...{ now, zone }}
          />
        </div>
      ) : (
        <>
          {data.send.held && (
            <p role="status" className="mb-5 border-l-2 border-bad pl-4">
              <Mark tone="bad">held by itself</Mark>: {data.send.held} Look at who left and what they wrote;
              then let it go on or stop it.
            </p>
          )}
          <SoFar people={result.people} open={result.open} state={broadcast.state} byHand={byHand} />
          {GOING.includes(broadcast.state) && (
            <div className="mb-6 border-b border-rule pb-4">
              {!byHand && (
                <PaceForm id={id} pace={paceValues(data.send.pace, zone)} action={changePaceAction} />
              )}
              <LeaveOutForm id={id} askable={data.choices.askable} action={leaveOutAction} />
            </div>
          )}
          <ResultLines
            id={id}
            result={result}
            channel={broadcast.channel}
            links={links.length > 0}
            usual={data.send.usual}
            read={broadcast.channel === 'chat' ? sumOf(data.send.chats, 'read') : null}
          />
          <p className="mt-2 flex flex-wrap gap-x-4 text-sm">
            <span className="text-soft">
              {data.send.usual &&
                `Usual here: the last ${count(data.send.usual.broadcasts)} of this program.`}
            </span>
            <Link className="link" href={`/sends/${id}/by?by=hour`}>
              By hour, number, place or segment
            </Link>
          </p>
          {data.drop && (
            <DropResults {...{ now, zone, ...data.drop }} left={result.delivered} credits={result.credits} />
          )}
          <SendReplies id={id} replies={data.send.replies} zone={zone} />
          {broadcast.comparison && data.send.standing && (
            <SendWordings
              id={id}
              by={broadcast.comparison.by}
              byItself={broadcast.comparison.byItself}
              wordings={[broadcast, ...broadcast.comparison.others].map(({ body }, i) => ({
                ...{ ...data.send!.standing!.tallies[i]!, body: readable(body) },
              }))}
              verdict={data.send.standing.verdict}
              waits={
                broadcast.comparison.first !== null &&
                broadcast.chosen === null &&
                broadcast.state === 'sending'
              }
              chosen={broadcast.chosen}
              choose={chooseWordingAction}
            />
          )}
          <SendLinks links={links} action={changeTargetAction} />
        </>
      )}
    </Page>
  );
}

/** What it says, what goes to who cannot be reached, and what is told beside it. */
function Said({ send }: { send: NonNullable<Awaited<ReturnType<typeof readSend>>> }) {
  const { broadcast } = send;
  return (
    <Section title={SAYS[broadcast.channel]}>
      {broadcast.recordingId && <KeptPlayer id={broadcast.recordingId} label="What is heard" />}
      <SendWords
        words={broadcast}
        files={send.files}
        instead={broadcast.instead}
        companion={
          broadcast.companion && {
            ...broadcast.companion,
            id: send.companions.told?.id ?? null,
            went: leftOf(send.companions.told?.result),
          }
        }
      />
    </Section>
  );
}

/** Messages that left. */
const leftOf = (result: { people: number; queued: number; blocked: number; cancelled: number } | undefined) =>
  result ? result.people - result.queued - result.blocked - result.cancelled : 0;

const sumOf = (tallies: readonly { read: number }[], of: 'read'): number =>
  tallies.reduce((sum, tally) => sum + tally[of], 0);

const SAYS: Record<Channel, string> = {
  sms: 'The text',
  email: 'The letter',
  chat: 'The chat message',
  voicemail: 'The voicemail',
};

/** A broadcast as the fields of its draft hold it. */
const draftValuesOf = (
  { broadcast, files }: NonNullable<Awaited<ReturnType<typeof readSend>>>,
  zone: string,
): DraftValues => ({
  id: broadcast.id,
  program: broadcast.programId,
  audience: broadcast.audience ? JSON.stringify(broadcast.audience) : '',
  name: broadcast.name,
  body: broadcast.body,
  channel: broadcast.channel,
  subject: broadcast.subject ?? '',
  links: broadcast.links,
  timing: timingValues(broadcast.timing, zone),
  ...comparisonValues(broadcast.comparison),
  ...{ repeat: broadcast.repeat?.rule ?? '', template: broadcast.templateId },
  ...{ files, instead: broadcast.instead, chatTemplate: broadcast.chatTemplateId ?? '' },
  companion: broadcast.companion && { ...broadcast.companion, minutes: String(broadcast.companion.minutes) },
  recording: broadcast.recordingId ?? '',
});

const GOING: readonly BroadcastState[] = ['preparing', 'sending', 'paused'];

/** What can be done with it. Where hands send it, their stacks are what is done next, and a pause stands beside. */
function actsFor(state: BroadcastState, open: number, byHand: boolean): BroadcastAct[] {
  const stop: BroadcastAct = {
    ...{ act: 'stop', main: false, label: `Stop: call back ${plural(open, 'message')} …` },
    sure: {
      says: `${plural(open, 'message')} that have not left are called back for good. To wait instead, pause it.`,
      yes: `Call back ${plural(open, 'message')}`,
    },
  };
  switch (state) {
    case 'scheduled':
      return [{ act: 'call-back', label: 'Call it back', main: true }];
    case 'sending':
      return [{ act: 'pause', label: 'Pause', main: !byHand }, stop];
    case 'paused':
      return [{ act: 'resume', label: 'Let it go on', main: true }, stop];
    case 'preparing':
      return [
        {
          ...{ act: 'stop', label: 'Stop …', main: false },
          sure: { says: 'Nothing of it leaves any more.', yes: 'Stop it for good' },
        },
      ];
    case 'draft':
    case 'stopped':
    case 'finished':
      return [];
  }
}

function SoFar({
  people,
  open,
  state,
  byHand,
}: {
  people: number;
  open: number;
  state: BroadcastState;
  byHand: boolean;
}) {
  if (state === 'finished' || people === 0) return null;
  if (state === 'stopped')
    return (
      <p className="mb-5 border-l-2 border-rule pl-4">
        Stopped: what had not left was called back, and nothing more of it goes.
      </p>
    );
  return (
    <Progress value={people - open} of={people} label={`${people === 1 ? 'person' : 'people'} settled`}>
      {plural(open, 'message')} to go
      {byHand ? ', each when somebody sends it' : '; held ones leave when their hours open'}
    </Progress>
  );
}

/** One that is still written. */
function DraftPage({
  data,
  zone,
}: {
  data: {
    send: NonNullable<Awaited<ReturnType<typeof readSend>>>;
    choices: Awaited<ReturnType<typeof readDraftChoices>>;
    own: Awaited<ReturnType<typeof readOwnNumber>>;
    chats: Awaited<ReturnType<typeof readChatChoices>>;
    recordings: Awaited<ReturnType<typeof readRecordingChoices>>;
  };
  zone: string;
}) {
  const { broadcast } = data.send;
  return (
    <Page title={broadcast.name}>
      <Draft
        initial={draftValuesOf(data.send, zone)}
        {...(broadcast.sendAt ? { before: whenBefore(broadcast.sendAt, broadcast.timing.local, zone) } : {})}
        audience={{
          ...{ segments: data.choices.segments, askable: data.choices.askable },
          keepSegment: keepSegmentAction,
        }}
        programs={data.choices.programs}
        fields={data.choices.fields}
        own={data.own}
        tryActs={{ ask: askNumberAction, give: giveCodeAction, send: tryDraftAction }}
        kept={data.choices.files}
        chats={data.chats}
        recordings={data.recordings}
        zone={zone}
        place={`broadcast:${broadcast.id}`}
        save={saveDraftAction}
      />
    </Page>
  );
}

/** What can be done about it as a whole. */
function Acts({ id, acts, byHand }: { id: string; acts: ReturnType<typeof actsFor>; byHand: boolean }) {
  return (
    <>
      {byHand && (
        <Link href={`/sends/${id}/stacks`} className="button button-main">
          Stacks
        </Link>
      )}
      {acts.length > 0 && <BroadcastActs id={id} acts={acts} action={actAction} />}
    </>
  );
}

/** When it was to begin, and when it did and ended, as far as it came. */
const timesOf = (
  { sendAt, begunAt, finishedAt }: { sendAt: Date | null; begunAt: Date | null; finishedAt: Date | null },
  zone: string,
): [string, string][] => [
  ['scheduled for', sendAt ? dayAndTime(sendAt, zone) : '–'],
  ['began', begunAt ? dayAndTime(begunAt, zone) : 'not yet'],
  ...(begunAt
    ? ([['ended', finishedAt ? dayAndTime(finishedAt, zone) : 'not yet']] as [string, string][])
    : []),
];
