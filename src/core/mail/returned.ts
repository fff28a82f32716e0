import type { FailureReason } from '../delivery/failure';

/** What a delivery status notification says of one recipient. Source: RFC 3464, RFC 3463. */
export interface DeliveryStatus {
  action: string;
  /** Such as `5.1.1`. */
  status: string;
  diagnostic: string;
}

/** Fields of the per-recipient blocks of a `message/delivery-status` part. */
export function readStatuses(text: string): DeliveryStatus[] {
  return text
    .replace(/\r\n/g, '\n')
    .replace(/\n[ \t]+/g, ' ')
    .split(/\n\s*\n/)
    .map((block) => {
      const field = (name: string) =>
        new RegExp(`^${name}:[ \\t]*(.*)$`, 'im').exec(block)?.[1]?.trim() ?? '';
      return {
        action: field('Action').toLowerCase(),
        status: field('Status'),
        diagnostic: field('Diagnostic-Code'),
      };
    })
    .filter(({ action, status }) => action !== '' || status !== '');
}

export type Returned =
  | { outcome: 'delivered' }
  | { outcome: 'failed'; reason: FailureReason }
  | { outcome: 'later' };

/** What is known of a mail after such a notice. A delay says nothing yet: the server goes on trying. */
export function returnedAs({ action, status, diagnostic }: DeliveryStatus): Returned {
  if (action === 'delivered') return { outcome: 'delivered' };
  if (action === 'delayed' || action === 'relayed' || action === 'expanded') return { outcome: 'later' };
  return { outcome: 'failed', reason: refusalOf(status, diagnostic) };
}

/**
 * Why a server took no mail, by its enhanced status (RFC 3463), else by the code it answered with. Only a mailbox that
 * is not there, or is closed for good, makes the address unusable.
 */
export function refusalOf(status: string, said: string): FailureReason {
  const enhanced =
    /\b([245])\.(\d{1,3})\.(\d{1,3})\b/.exec(status) ?? /\b([245])\.(\d{1,3})\.(\d{1,3})\b/.exec(said);
  const [, kind, subject, detail] = enhanced ?? [];
  const code = `${subject}.${detail}`;
  if (kind === '5' && GONE.has(code)) return 'mailbox-gone';
  if (code === '2.2') return 'mailbox-full';
  if (subject === '7') return 'mail-refused';
  if (kind === '4') return 'mailbox-later';
  if (enhanced) return 'mail-refused';
  const answer = /\b([45]\d\d)\b/.exec(said)?.[1] ?? '';
  if (answer === '550' || answer === '551' || answer === '553') return 'mailbox-gone';
  if (answer === '552') return 'mailbox-full';
  return answer.startsWith('4') ? 'mailbox-later' : 'mail-refused';
}

/** No such mailbox, no such host, moved away, disabled. */
const GONE = new Set(['1.0', '1.1', '1.2', '1.3', '1.6', '1.10', '2.1']);
