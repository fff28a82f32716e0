/** Every reason clearance can give. The code is stored and shown; it never changes its meaning. */
export type ReasonCode =
  | 'number-missing'
  | 'number-gone'
  | 'number-changed'
  | 'landline'
  | 'opted-out'
  | 'reply-unclear'
  | 'text-unread'
  | 'paused'
  | 'no-consent'
  | 'consent-pending'
  | 'consent-lapsed'
  | 'inquiry-only'
  | 'inquiry-over'
  | 'program-archived'
  | 'empty-field'
  | 'too-long'
  | 'same-text'
  | 'frequency-promise'
  | 'weekly-cap'
  | 'state-limit'
  | 'quiet-hours'
  | 'no-sender-number'
  | 'sender-cannot'
  | 'sender-unregistered'
  | 'sender-daily-cap'
  | 'no-credits'
  | 'day-limit'
  | 'waited-too-long'
  | 'email-missing'
  | 'email-bounced'
  | 'email-changed'
  | 'no-mail-address'
  | 'no-postal-address'
  | 'chat-missing'
  | 'chat-gone'
  | 'chat-blocked'
  | 'chat-changed'
  | 'no-chat-account'
  | 'chat-account-closed'
  | 'window-closed'
  | 'template-waits'
  | 'template-gone'
  | 'begin-limit'
  | 'no-voicemail'
  | 'no-voicemail-account'
  | 'no-voice-number';

/** What a reason does: a block is final for this text, a hold lets it wait. */
export type Effect = 'block' | 'hold';

export interface Reason {
  code: ReasonCode;
  effect: Effect;
  /** For a hold: when it ends by itself, in milliseconds; null when somebody has to do something. */
  until: number | null;
  /** What the reason rests on: instants, rule sources, counts, ids. */
  evidence: Record<string, string | number | readonly string[] | null>;
}

export const block = (code: ReasonCode, evidence: Reason['evidence'] = {}): Reason => ({
  code,
  effect: 'block',
  until: null,
  evidence,
});

export const hold = (code: ReasonCode, until: number | null, evidence: Reason['evidence'] = {}): Reason => ({
  code,
  effect: 'hold',
  until,
  evidence,
});

/** Reason -> words for the person who sends, and what would help. */
export const REASON_WORDS: Record<ReasonCode, { short: string; remedy: string }> = {
  'number-missing': { short: 'no phone number', remedy: 'Add a number on the person’s page.' },
  'number-gone': {
    short: 'number out of service',
    remedy: 'Ask for the new number; past consent no longer counts.',
  },
  'number-changed': {
    short: 'their number changed since',
    remedy: 'It was meant for the old number. Send it anew if it still matters.',
  },
  landline: { short: 'landline, cannot get texts', remedy: 'Call, or ask for a mobile number.' },
  'opted-out': { short: 'opted out', remedy: 'Only they can come back, by texting START or a keyword.' },
  'reply-unclear': {
    short: 'last reply may be an opt-out',
    remedy: 'Read the reply in the Inbox and decide.',
  },
  'text-unread': {
    short: 'a text of theirs could not be worked on yet',
    remedy: 'Read it under Today and decide; until then nothing automatic goes out.',
  },
  paused: {
    short: 'wished for a pause',
    remedy: 'Nothing we begin goes to them until then. It ends by itself, or by their own act.',
  },
  'no-consent': { short: 'never agreed to this program', remedy: 'Invite them to text the keyword.' },
  'consent-pending': { short: 'has not confirmed with YES yet', remedy: 'Wait for their answer.' },
  'consent-lapsed': { short: 'consent lapsed with the number', remedy: 'They have to agree again.' },
  'inquiry-only': {
    short: 'inquired, did not agree to marketing',
    remedy: 'Answer the inquiry; invite them to join.',
  },
  'inquiry-over': {
    short: 'inquired more than a week ago, agreed to nothing else',
    remedy: 'Ask for their YES in the first answer; until then follow up by e-mail or by hand.',
  },
  'program-archived': { short: 'program is archived', remedy: 'Choose another program or bring it back.' },
  'empty-field': {
    short: 'a merge field is empty and has no fallback',
    remedy: 'Give the field a fallback.',
  },
  'too-long': { short: 'more than ten parts', remedy: 'Shorten the text.' },
  'same-text': {
    short: 'got this very text before',
    remedy: 'Nobody is sent the same text twice: change it.',
  },
  'frequency-promise': { short: 'promised number of texts is used up', remedy: 'Wait, or send to fewer.' },
  'weekly-cap': { short: 'got enough texts this week', remedy: 'Wait until some days have passed.' },
  'state-limit': { short: 'state limit for one day reached', remedy: 'It goes when the day is over.' },
  'quiet-hours': { short: 'outside sending hours where they live', remedy: 'It goes when the hours open.' },
  'no-sender-number': { short: 'program has no sender number', remedy: 'Give the program a number.' },
  'sender-cannot': { short: 'sender number cannot send texts', remedy: 'Choose a number with SMS.' },
  'sender-unregistered': {
    short: 'sender number is not registered',
    remedy: 'Finish its registration under Numbers.',
  },
  'sender-daily-cap': {
    short: 'sender number is at its daily cap',
    remedy: 'It goes tomorrow, or add a number.',
  },
  'no-credits': { short: 'not enough credits', remedy: 'Buy credits under Numbers, Credits.' },
  'day-limit': {
    short: 'what may be spent in a day is spent',
    remedy: 'It goes tomorrow, or raise the limit under Numbers, Credits.',
  },
  'waited-too-long': {
    short: 'waited too long to still be sent',
    remedy: 'It was dropped rather than sent late. Send it anew if it still matters.',
  },
  'email-missing': { short: 'no e-mail address', remedy: 'Add an address on the person’s page.' },
  'email-bounced': {
    short: 'their mailbox takes nothing',
    remedy: 'Ask for another address; what was sent there came back for good.',
  },
  'email-changed': {
    short: 'their e-mail address changed since',
    remedy: 'It was meant for the old address. Send it anew if it still matters.',
  },
  'no-mail-address': {
    short: 'no address to send e-mail from',
    remedy: 'Give the address e-mail comes from under Settings.',
  },
  'no-postal-address': {
    short: 'no postal address to stand under it',
    remedy: 'The law wants one in every such e-mail: give it under Settings.',
  },
  'chat-missing': { short: 'no chat id', remedy: 'Add it on the person’s page, or let them write first.' },
  'chat-gone': {
    short: 'nobody has their chat id any more',
    remedy: 'Ask for the new one; past consent no longer counts.',
  },
  'chat-blocked': { short: 'blocked us in the chat', remedy: 'Only they can come back, by writing again.' },
  'chat-changed': {
    short: 'their chat id changed since',
    remedy: 'It was meant for the old one. Send it anew if it still matters.',
  },
  'no-chat-account': {
    short: 'no chat account is connected',
    remedy: 'Connect one under Numbers.',
  },
  'chat-account-closed': {
    short: 'the network lets the chat account begin with nobody',
    remedy: 'Check the account under Numbers: it says what is missing.',
  },
  'window-closed': {
    short: 'the window of 24 hours is closed',
    remedy: 'Only a template may go now; once they write, it is open for a day.',
  },
  'template-waits': {
    short: 'its template waits for the network',
    remedy: 'It goes once the template is approved. Its page says how the review stands.',
  },
  'template-gone': {
    short: 'the network does not take its template',
    remedy: 'Mend the template as a new version, or choose another.',
  },
  'begin-limit': {
    short: 'the network lets us begin with so many people a day',
    remedy: 'It goes on a later day. The network raises the number as people take the messages well.',
  },
  'no-voicemail': {
    short: 'no voicemail behind this number',
    remedy: 'Call them, or choose another way: an earlier voicemail was not taken there.',
  },
  'no-voicemail-account': {
    short: 'nobody leaves voicemails for this business yet',
    remedy: 'Connect an account under Numbers, or look there what is wrong with it.',
  },
  'no-voice-number': {
    short: 'program has no number that can be called back',
    remedy: 'Give the program a number with voice under Numbers.',
  },
};

export const isReasonCode = (code: string): code is ReasonCode => code in REASON_WORDS;
