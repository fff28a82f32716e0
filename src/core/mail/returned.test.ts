import { describe, expect, it } from 'vitest';
import { readStatuses, refusalOf, returnedAs } from './returned';

describe('a notice of failure', () => {
  it('is read, folded lines and several recipients too', () =>
    expect(
      readStatuses(
        'Reporting-MTA: dns; a.test\r\n\r\nFinal-Recipient: rfc822; x@a.test\r\nAction: Failed\r\nStatus: 5.1.1\r\nDiagnostic-Code: smtp; 550\r\n no such user\r\n\r\nAction: delayed\r\nStatus: 4.4.7\r\n',
      ),
    ).toEqual([
      { action: 'failed', status: '5.1.1', diagnostic: 'smtp; 550 no such user' },
      { action: 'delayed', status: '4.4.7', diagnostic: '' },
    ]));

  it.each([
    ['failed', '5.1.1', '', { outcome: 'failed', reason: 'mailbox-gone' }],
    ['failed', '5.2.2', '', { outcome: 'failed', reason: 'mailbox-full' }],
    ['failed', '5.7.1', 'smtp; 550 5.7.1 blocked', { outcome: 'failed', reason: 'mail-refused' }],
    ['failed', '5.0.0', 'smtp; 550 5.1.1 user unknown', { outcome: 'failed', reason: 'mail-refused' }],
    ['failed', '4.4.7', 'expired', { outcome: 'failed', reason: 'mailbox-later' }],
    ['delayed', '4.4.1', '', { outcome: 'later' }],
    ['delivered', '2.0.0', '', { outcome: 'delivered' }],
    ['relayed', '2.0.0', '', { outcome: 'later' }],
  ])('of %s %s %s', (action, status, diagnostic, as) =>
    expect(returnedAs({ action, status, diagnostic })).toEqual(as),
  );

  it.each([
    ['550 5.1.1 no such mailbox', 'mailbox-gone'],
    ['550 unknown user', 'mailbox-gone'],
    ['550 5.7.26 unauthenticated sender', 'mail-refused'],
    ['552 mailbox full', 'mailbox-full'],
    ['452 4.2.2 over quota', 'mailbox-full'],
    ['451 4.7.1 greylisted', 'mail-refused'],
    ['421 too many connections', 'mailbox-later'],
    ['554 spam', 'mail-refused'],
  ])('%s means %s', (said, reason) => expect(refusalOf('', said)).toBe(reason));
});
