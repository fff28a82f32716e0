import { isRecord, parseJson } from '@/core/shared/json';
import { REVIEWED, type WordingEvent } from '@/core/chat/wording-life';
import { cleanText, cutText, type CleanText } from '@/core/shared/clean-text';
import type { FailureReason } from '@/core/delivery/failure';
import { failureCalled, LEAVE_KEY } from './network';

export interface ChatFile {
  id: string;
  name: string;
  type: string;
}

export interface ArrivedChat {
  id: string;
  from: string;
  profile: { name: string; language: string | null };
  text: CleanText;
  /** They pressed a button of ours; `leaves`: the one that opts out. */
  button: { words: CleanText; leaves: boolean } | null;
  files: ChatFile[];
  at: Date;
}

/** One thing a network tells us of. */
export type Told = { eventId: string } & (
  | {
      kind: 'receipt';
      reference: string;
      stat: 'delivered' | 'read' | 'failed';
      failure: FailureReason | null;
      at: Date;
    }
  | { kind: 'arrived'; chat: ArrivedChat }
  | { kind: 'blocked' | 'unblocked'; from: string }
  | { kind: 'review'; template: string; event: WordingEvent; reason: string | null }
  | { kind: 'account' }
);

const text = (value: unknown, most: number): string =>
  typeof value === 'string' ? cutText(cleanText(value), most) : '';

/** What people write may be long; more than this nobody reads. */
const LONGEST = 20_000;
const MOST_FILES = 10;

const RECEIPTS = { delivered: 'delivered', read: 'read', failed: 'failed' } as const;

/**
 * Reads what a network tells, in the order it stands there; what we know nothing of is left out, since a network grows. Null:
 * it is no such body.
 */
export function readTold(body: string, now: Date): Told[] | null {
  const read = parseJson(body);
  if (!read.ok || !isRecord(read.value) || !Array.isArray(read.value.events)) return null;
  return read.value.events.flatMap((event: unknown) => {
    if (!isRecord(event)) return [];
    const told = readOne(event, now);
    return told ? [told] : [];
  });
}

function readOne(event: Record<string, unknown>, now: Date): Told | null {
  const eventId = text(event.id, 200);
  if (eventId === '') return null;
  const when = typeof event.at === 'string' ? Date.parse(event.at) : NaN;
  const at = Number.isFinite(when) ? new Date(Math.min(when, now.getTime())) : now;
  const kind = text(event.kind, 60);
  switch (kind) {
    case 'message.delivered':
    case 'message.read':
    case 'message.failed': {
      const reference = text(event.reference, 200);
      const stat = RECEIPTS[kind.slice(8) as keyof typeof RECEIPTS];
      if (reference === '') return null;
      return {
        eventId,
        kind: 'receipt',
        reference,
        stat,
        failure: stat === 'failed' ? failureCalled(event.reason) : null,
        at,
      };
    }
    case 'message.received':
      return arrived(eventId, event, at);
    case 'person.blocked':
    case 'person.unblocked': {
      const from = text(event.from, 200);
      return from === ''
        ? null
        : { eventId, kind: kind === 'person.blocked' ? 'blocked' : 'unblocked', from };
    }
    case 'template.reviewed': {
      const state = text(event.state, 40);
      const template = text(event.template, 200);
      return template !== '' && Object.hasOwn(REVIEWED, state)
        ? {
            eventId,
            kind: 'review',
            template,
            event: REVIEWED[state]!,
            reason: text(event.reason, 500) || null,
          }
        : null;
    }
    case 'account.changed':
      return { eventId, kind: 'account' };
    default:
      return null;
  }
}

function arrived(eventId: string, event: Record<string, unknown>, at: Date): Told | null {
  const from = text(event.from, 200);
  const id = text(event.message, 200);
  if (from === '' || id === '') return null;
  const profile = isRecord(event.profile) ? event.profile : {};
  const button = isRecord(event.button) ? event.button : null;
  const files = Array.isArray(event.files) ? event.files : [];
  return {
    ...{ eventId, kind: 'arrived' as const },
    chat: {
      ...{ id, from, at, text: text(event.text, LONGEST) as CleanText },
      profile: { name: text(profile.name, 120), language: text(profile.language, 20) || null },
      button: button && { words: text(button.words, 200) as CleanText, leaves: button.key === LEAVE_KEY },
      files: files
        .slice(0, MOST_FILES)
        .flatMap((file: unknown) =>
          isRecord(file) && typeof file.id === 'string'
            ? [{ id: file.id, name: text(file.name, 120) || 'file', type: text(file.type, 100) }]
            : [],
        ),
    },
  };
}
