import type { Channel } from '../message/channel';
import { KINDS, type Kind } from '../message/kinds';
import { DAY, HOUR, toIso, type Millis } from '../shared/instant';
import type { ClearanceInput } from './input';
import { begins, mayBeginAt, openUntil } from '../chat/window';
import type { WordingState } from '../chat/wording-life';
import { inquiryCounts, mailRuleFor } from './mail-rules';
import { block, hold, type Reason } from './reasons';
import { chooseSender, type SenderChoice } from './sender';

/** What clearance asks of one channel alone. Everything else is the same for all and stands in `clear.ts`. */
export interface ChannelPolicy {
  /** Whether the address can be reached. */
  addressReasons(input: ClearanceInput, checks: Kind['checks']): Reason[];
  /** Whether somebody of whom no agreement is recorded may be written to. */
  mayBegin(input: ClearanceInput): boolean;
  /** Whether an inquiry still counts as agreement to more than its answer. */
  inquiryCounts(input: ClearanceInput): boolean;
  /** Whether somebody who only inquired may still be followed up about it. */
  followsUp(input: ClearanceInput): boolean;
  /** What it leaves from: an id where there are several to choose from, and what stands against it. */
  sender(input: ClearanceInput): { id: string | null; reasons: Reason[] };
  /** More parts than this are no message any more. */
  mostParts: number;
  /** Whether the limits that states set for calls and texts count. */
  stateLimits: boolean;
}

/**
 * An inquiry permits an answer about that inquiry, not lasting marketing (47 CFR 64.1200 knows no number of days for texts).
 * A week is ours: long enough to ask once more, too short for months of following up without their yes.
 */
export const INQUIRY_FOLLOWED: Millis = 7 * DAY;

export const POLICIES: Record<Channel, ChannelPolicy> = {
  sms: {
    addressReasons: numberReasons,
    mayBegin: () => false,
    inquiryCounts: () => false,
    followsUp: ({ consent, at }) => at - (consent.since ?? 0) < INQUIRY_FOLLOWED,
    sender: senderNumber,
    mostParts: 10,
    stateLimits: true,
  },
  email: {
    addressReasons: mailboxReasons,
    mayBegin: mayMail,
    inquiryCounts: ({ person, consent, at }) => inquiryCounts(person.country, consent.since ?? 0, at),
    // Where the law lets mail go until somebody objects, an inquiry is followed up by mail until they do.
    followsUp: ({ person }) => mailRuleFor(person.country).basis === 'opt-out',
    sender: mailSender,
    mostParts: 1,
    stateLimits: false,
  },
  // Whether a chat message is a text to the law is not settled, so it is treated as one: hours, limits, no lasting marketing
  // upon an inquiry.
  chat: {
    addressReasons: chatReasons,
    mayBegin: () => false,
    inquiryCounts: () => false,
    followsUp: ({ consent, at }) => at - (consent.since ?? 0) < INQUIRY_FOLLOWED,
    sender: chatSender,
    mostParts: 1,
    stateLimits: true,
  },
  // A voicemail is a call to the law (FCC 22-85, November 2022), however quietly it comes: consent of its own, hours and limits. An
  // inquiry asks for no recorded voice.
  voicemail: {
    addressReasons: boxReasons,
    mayBegin: () => false,
    inquiryCounts: () => false,
    followsUp: () => false,
    sender: voicemailSender,
    mostParts: 1,
    stateLimits: true,
  },
};

function numberReasons({ person, queuedFor }: ClearanceInput, checks: Kind['checks']): Reason[] {
  const { address } = person;
  if (checks.ownAddress && queuedFor !== null && queuedFor !== address?.value)
    return [block('number-changed', { queued_for: queuedFor })];
  if (!address) return [block('number-missing')];
  if (address.state === 'gone' || address.state === 'blocked') return [block('number-gone')];
  return address.lineType === 'landline' ? [block('landline')] : [];
}

const NEXT_LOOK: Millis = 12 * HOUR;

function senderNumber({ senders, assignedSenderId, person, at, text, kind }: ClearanceInput) {
  const choice = chooseSender(senders, assignedSenderId, person.address?.value ?? '', {
    pictures: text?.pictures === true,
    begins: KINDS[kind].counts,
  });
  return { id: choice.ok ? choice.sender.id : null, reasons: senderReasons(choice, at) };
}

function senderReasons(choice: SenderChoice, at: Millis): Reason[] {
  if (choice.ok) return [];
  switch (choice.reason) {
    case 'no-sender-number':
    case 'sender-cannot':
      return [block(choice.reason)];
    case 'sender-unregistered':
      return [hold('sender-unregistered', null)];
    case 'sender-daily-cap':
      return [hold('sender-daily-cap', at + NEXT_LOOK)];
  }
}

function mailboxReasons({ person, queuedFor }: ClearanceInput, checks: Kind['checks']): Reason[] {
  const { address } = person;
  if (checks.ownAddress && queuedFor !== null && queuedFor !== address?.value)
    return [block('email-changed', { queued_for: queuedFor })];
  if (!address) return [block('email-missing')];
  return address.state === 'bounced' || address.state === 'blocked' ? [block('email-bounced')] : [];
}

/** Where the law lets mail go until somebody objects, a member of the program may be mailed about it. Nobody else is. */
function mayMail({ person, memberElsewhere }: ClearanceInput): boolean {
  return memberElsewhere && mailRuleFor(person.country).basis === 'opt-out';
}

function mailSender({ mail, person, kind }: ClearanceInput) {
  const reasons: Reason[] = [];
  if (!mail?.from) reasons.push(hold('no-mail-address', null));
  const rule = mailRuleFor(person.country);
  // What somebody asked for by writing is no commercial mail.
  if (rule.postalAddress && KINDS[kind].counts && !mail?.postalAddress)
    reasons.push(hold('no-postal-address', null, { source: rule.source }));
  return { id: null, reasons };
}

function chatReasons({ person, queuedFor }: ClearanceInput, checks: Kind['checks']): Reason[] {
  const { address } = person;
  if (checks.ownAddress && queuedFor !== null && queuedFor !== address?.value)
    return [block('chat-changed', { queued_for: queuedFor })];
  if (!address) return [block('chat-missing')];
  if (address.state === 'gone') return [block('chat-gone')];
  return address.state === 'blocked' ? [block('chat-blocked')] : [];
}

/** How a template stands in the way; approved ones do not. */
const TEMPLATE_STANDS: Record<WordingState, 'template-waits' | 'template-gone' | null> = {
  draft: 'template-waits',
  'in-review': 'template-waits',
  approved: null,
  paused: 'template-waits',
  refused: 'template-gone',
  withdrawn: 'template-gone',
};

/** Free text goes while the window is open, a template whenever it is approved; and so many are begun with a day. */
function chatSender({ chat, at }: ClearanceInput) {
  if (!chat?.account) return { id: null, reasons: [hold('no-chat-account', null)] };
  const reasons: Reason[] = [];
  const { account, template, wroteAt } = chat;
  const open = openUntil(wroteAt, at) !== null;
  if (account.state === 'closed' || (account.state === 'restricted' && !open))
    reasons.push(hold('chat-account-closed', null));
  if (template === null && !open)
    reasons.push(block('window-closed', { wrote: wroteAt === null ? null : toIso(wroteAt) }));
  const stands = template && TEMPLATE_STANDS[template];
  if (stands)
    reasons.push(stands === 'template-waits' ? hold(stands, null) : block(stands, { state: template }));
  if (template !== null && begins(chat, at)) {
    const from = mayBeginAt({ limit: chat.beginLimit, left: chat.beginsLeft, ahead: chat.ahead }, at);
    if (from !== null)
      reasons.push(hold('begin-limit', from === Infinity ? null : from, { a_day: chat.beginLimit }));
  }
  return { id: null, reasons };
}

/** A landline may have a box; a number that was found to have none is not tried again. */
function boxReasons({ person, queuedFor }: ClearanceInput, checks: Kind['checks']): Reason[] {
  const { address } = person;
  if (checks.ownAddress && queuedFor !== null && queuedFor !== address?.value)
    return [block('number-changed', { queued_for: queuedFor })];
  if (!address) return [block('number-missing')];
  if (address.state === 'gone' || address.state === 'blocked') return [block('number-gone')];
  return address.noVoicemail ? [block('no-voicemail')] : [];
}

function voicemailSender({ voicemail }: ClearanceInput) {
  const reasons: Reason[] = [];
  if (voicemail?.account !== 'open') reasons.push(hold('no-voicemail-account', null));
  if (!voicemail?.callable) reasons.push(hold('no-voice-number', null));
  return { id: null, reasons };
}
