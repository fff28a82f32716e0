import { interpret, type Interpretation } from '@/core/reply/interpret';
import { returnedAs, type DeliveryStatus } from '@/core/mail/returned';
import { parseEmail } from '@/core/people/address';
import { cleanText, cutText } from '@/core/shared/clean-text';
import { mailByToken, type SentMailRow } from '@/db/email/mails';
import { recordTaken } from '@/db/delivery/answers';
import { insertInbound } from '@/db/inbox/inbound';
import { announce, cancelQueued } from '@/db/delivery/texts';
import { acrossWorkspaces, type Crossing, type Scope } from '@/db/kit/scope';
import { addressWorks, setAddress } from '@/db/people/addresses';
import { lockPersonByEmail } from '@/db/people/by-email';
import { lockPerson } from '@/db/people/locks';
import type { Person } from '@/db/people/entities';
import { Program } from '@/db/programs/entities';
import type { ConsentEvidence } from '@/core/consent/ledger';
import type { IncomingMail } from '@/gateways/mail/listener';
import { carrierIdOf } from '@/gateways/mail/sender';
import type { Receipt } from '@/gateways/carrier';
import { recordConsents } from '@/services/consent/record-consent';
import { storeAnswers } from '@/services/delivery/store-answers';
import type { Context } from '@/services/kit/context';
import type { Mailbox } from '@/services/kit/room';
import { mailDoor } from '@/services/kit/settings';
import { readOwnAddress, tokenOf } from './addresses';
import { leaveByLetter, leaveByToken } from './leave';
import { Workspace } from '@/db/access/entities';

/** Where notices, wishes to leave and answers to letters come to. */
export const LETTERS: Mailbox = {
  owns: (address) => readOwnAddress(address, mailDoor().domain) !== null,
  knows: knowsMailbox,
  take: receiveMail,
};

/** Whether letters to this address are ours: the notices and answers of letters we sent, and workspaces that are here. */
async function knowsMailbox(ctx: Context, address: string): Promise<boolean> {
  const own = readOwnAddress(address, mailDoor().domain);
  if (!own) return false;
  return acrossWorkspaces(ctx.orm, async (crossing) =>
    own.kind === 'answers'
      ? (await workspaceBySlug(crossing, own.workspace)) !== null
      : (await mailByToken(crossing, own.token)) !== null,
  );
}

const workspaceBySlug = async (crossing: Crossing, slug: string): Promise<string | null> =>
  (await crossing.em.findOne(Workspace, { slug }))?.id ?? null;

/**
 * Takes in a letter: a notice of what became of one of ours, a wish to leave, a complaint, or an answer. Stored once;
 * when anything fails nothing is, and the server it came from keeps it.
 */
async function receiveMail(ctx: Context, mail: IncomingMail): Promise<void> {
  const { domain } = mailDoor();
  const own = readOwnAddress(mail.to, domain);
  if (!own) return;
  if (own.kind === 'leave') return void (await leaveByToken(ctx, own.token, 'mail', false));
  const about = own.kind === 'bounce' ? own.token : mail.about && tokenOf(mail.about, domain);
  if (mail.complaint) return about ? takeComplaint(ctx, about) : undefined;
  if (mail.statuses.length > 0) return about ? takeNotices(ctx, about, mail.statuses) : undefined;
  // What a machine sends to a return path is none of ours to read.
  if (own.kind === 'answers') await takeAnswer(ctx, own.workspace, mail);
}

/** They told their provider that it is spam: the address leaves everything, and is written to no more. */
const takeComplaint = (ctx: Context, token: string): Promise<void> =>
  acrossWorkspaces(ctx.orm, async (crossing) => {
    const letter = await mailByToken(crossing, token);
    if (!letter) return;
    const scope = crossing.within(letter.workspace_id);
    await leaveByLetter(ctx, scope, letter, { how: 'complaint', all: true });
    await setAddress(scope, { kind: 'email', value: letter.address, state: 'blocked' });
  });

/** Notices settle a letter as receipts settle a text, by the same code. */
async function takeNotices(ctx: Context, token: string, statuses: readonly DeliveryStatus[]): Promise<void> {
  const letter = await acrossWorkspaces(ctx.orm, async (crossing) => {
    const found = await mailByToken(crossing, token);
    // Whoever tells of a letter has had it, also where the answer to our handing it over was lost.
    if (found)
      await recordTaken(
        crossing,
        [
          {
            ...{ textId: found.message_id, workspaceId: found.workspace_id, index: 1 },
            ...{ carrierId: carrierIdOf(token), told: null },
          },
        ],
        new Date(ctx.now()),
      );
    return found;
  });
  if (!letter) return;
  const receipts = statuses.flatMap((status): Receipt[] => {
    const returned = returnedAs(status);
    const notice = {
      carrierId: carrierIdOf(token),
      number: letter.address,
      userReference: null,
      err: status.status,
    };
    if (returned.outcome === 'delivered') return [{ ...notice, stat: 'DELIVRD' }];
    return returned.outcome === 'failed' ? [{ ...notice, stat: 'UNDELIV', failure: returned.reason }] : [];
  });
  await storeAnswers(ctx, [], receipts);
}

function takeAnswer(ctx: Context, slug: string, mail: IncomingMail): Promise<void> {
  return acrossWorkspaces(ctx.orm, async (crossing) => {
    const workspaceId = await workspaceBySlug(crossing, slug);
    if (!workspaceId) return;
    const letter = await letterAnswered(crossing, mail, workspaceId);
    const scope = crossing.within(workspaceId);
    const from = parseEmail(mail.from);
    const person = letter
      ? await lockPerson(scope, letter.person_id)
      : from.ok
        ? await lockPersonByEmail(scope, {
            ...{ id: ctx.id('per'), email: from.value, source: 'e-mail', at: new Date(ctx.now()) },
          })
        : null;
    // A letter of nobody, to no letter of ours: there is no thread it could stand in.
    if (person) await carryOut(ctx, scope, person, letter, mail);
  });
}

/** The letter of ours that it answers, in this workspace: the closest one that it names. */
async function letterAnswered(
  crossing: Crossing,
  { answers }: IncomingMail,
  workspaceId: string,
): Promise<SentMailRow | null> {
  for (const id of answers) {
    const token = tokenOf(id, mailDoor().domain);
    const letter = token === null ? null : await mailByToken(crossing, token);
    if (letter?.workspace_id === workspaceId) return letter;
  }
  return null;
}

/** Longer letters are cut: nobody answers a page of text with more. */
const LONGEST = 20_000;

async function carryOut(
  ctx: Context,
  scope: Scope,
  person: Person,
  letter: SentMailRow | null,
  mail: IncomingMail,
): Promise<void> {
  const at = new Date(ctx.now());
  const inboundId = ctx.id('inb');
  const body = cleanText(cutText(mail.words, LONGEST));
  const interpretation = meaningOf(mail, body);
  const stored = await insertInbound(scope, {
    ...{ id: inboundId, personId: person.id, channel: 'email', senderId: null, from: mail.from },
    ...{
      subject: cutText(cleanText(mail.subject), 300),
      carrierId: mail.messageId || null,
      fingerprint: null,
    },
    ...{ body, interpretation, afterTextId: letter?.message_id ?? null, at },
  });
  if (!stored) return;
  if (interpretation.meaning === 'opt-out')
    await leaveAll(ctx, scope, person, letter?.address ?? mail.from, {
      ...{ said: cutText(body, 500), rule: interpretation.rule, inboundTextId: inboundId },
      ...(letter ? { afterTextId: letter.message_id } : {}),
    });
  if (interpretation.meaning === 'automatic') return void (await announce(scope, false));
  await addressWorks(scope, 'email', mail.from);
  await scope.run(
    `update person set last_wrote_at = greatest(last_wrote_at, :at::timestamptz),
            unclear_since = case when :unclear then coalesce(unclear_since, :at) else unclear_since end,
            waiting_since = case when :waits then coalesce(waiting_since, :at) else waiting_since end
      where workspace_id = :workspace and id = :personId`,
    {
      ...{ at, personId: person.id, unclear: interpretation.meaning === 'unclear' },
      waits: interpretation.meaning !== 'opt-out',
    },
  );
  await announce(scope, false);
}

/** Keywords and START are said by text. A letter that says none of leaving is for a human to read. */
function meaningOf({ automatic, autoReply, quoted }: IncomingMail, body: string): Interpretation {
  const nothing = { evidence: '', keyword: null, nearKeyword: null };
  if (automatic || autoReply) return { meaning: 'automatic', rule: 'auto-submitted', ...nothing };
  const read = interpret(body);
  // They may be the words of our own letter.
  if (read.meaning === 'opt-out' && quoted) return { ...read, meaning: 'unclear' };
  return read.meaning === 'opt-out' || read.meaning === 'unclear'
    ? read
    : { meaning: 'reply', rule: read.rule, ...nothing };
}

/** Whoever writes that they want no more mail leaves every program by e-mail, as a STOP does by text. */
async function leaveAll(
  ctx: Context,
  scope: Scope,
  person: Person,
  address: string,
  evidence: ConsentEvidence,
): Promise<void> {
  await cancelQueued(scope, person.id, new Date(ctx.now()), { channels: ['email'] });
  const programs = await scope.em.find(Program, {}, { orderBy: { id: 'asc' } });
  const said = { channel: 'email', address, kind: 'opted-out', method: 'reply', evidence } as const;
  await recordConsents(
    ctx,
    scope,
    person.id,
    programs.map(({ id: programId }) => ({ ...said, programId })),
  );
}
