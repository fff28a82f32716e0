import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { makeFrame } from '../../../scripts/mail-frame.mjs';
import { isAutomatic, lettersAnswered, ownWords } from './answer';
import { htmlPart, linksOf, paragraphs, plainPart, withLinks } from './compose';
import frame from './frame.json';
import { readStatuses, refusalOf, returnedAs } from './returned';

const footer = {
  business: 'Juniper & Gap',
  postalAddress: '1 Hill Road',
  program: 'Clear Sky Alerts',
  unsubscribeUrl: 'https://x.test/u/1',
};

describe('a letter', () => {
  it('has a plain part with who sends it, where they live and how to leave', () =>
    expect(plainPart({ subject: 's', body: 'Clear tonight.', footer })).toBe(
      [
        ...['Clear tonight.', '', '--', 'You get this because you are in Clear Sky Alerts of Juniper & Gap.'],
        ...['1 Hill Road', 'Leave: https://x.test/u/1'],
      ].join('\n'),
    ));

  it('is answered without any of that', () =>
    expect(plainPart({ subject: 's', body: 'Yes, at eight.', footer: null })).toBe('Yes, at eight.'));

  it('has an HTML part of the same words, in which nothing is markup that was not ours', () => {
    const html = htmlPart({
      subject: 'Tonight <1>',
      body: 'Hi <b>Ana</b> & $& co\n\nSee https://x.test/a?b=1&c=2.',
      footer,
    });
    expect(html).toContain('Hi &lt;b&gt;Ana&lt;/b&gt; &amp; $&amp; co');
    expect(html).toContain('<a href="https://x.test/a?b=1&amp;c=2">https://x.test/a?b=1&amp;c=2</a>.');
    expect(html).toContain('Juniper &amp; Gap');
    expect(html).toContain('Tonight &lt;1&gt;');
    expect(html).not.toContain('@@');
  });

  it('lets no words of anybody become a tag', () =>
    fc.assert(
      fc.property(
        fc.string({ unit: fc.constantFrom('<', '>', '"', "'", '&', 'a', '\n', ':', '/', 'http://') }),
        (body) => {
          const html = paragraphs(body).replace(/<\/?(p|br)>|<a href="[^"<>]*">|<\/a>/g, '');
          expect(html).not.toMatch(/[<>]/);
        },
      ),
    ));

  it('has its frame from the MJML as it stands: “node scripts/mail-frame.mjs” after a change', async () =>
    expect(frame.html).toBe(await makeFrame()));

  it('fetches nothing when somebody opens it', () =>
    expect(frame.html.match(/(?:src|href)=["'][^"']+|@import|url\(/g)).toBeNull());

  it('finds its links, and puts others in their place', () => {
    const body = 'Read https://x.test/a, then (http://y.test/b?c=d). Again https://x.test/a!';
    expect(linksOf(body)).toEqual(['https://x.test/a', 'http://y.test/b?c=d']);
    expect(withLinks(body, new Map([['https://x.test/a', 'https://w.test/1']]))).toBe(
      'Read https://w.test/1, then (http://y.test/b?c=d). Again https://w.test/1!',
    );
  });
});

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

describe('an answer', () => {
  it.each([
    ['Yes please.\n\nOn Tue, 24 Nov 2026, Juniper Gap wrote:\n> Clear tonight?\n', 'Yes please.'],
    ['Ja!\n\nAm 24.11.2026 um 10:00 schrieb Juniper Gap <a@b.test>:\n> x', 'Ja!'],
    ['Sí\n\nEl mar, 24 nov 2026, Juniper Gap escribió:\n> x', 'Sí'],
    ['Stop this\n\n-----Original Message-----\nFrom: x\nClear tonight', 'Stop this'],
    [
      'On my way\nOn Tue, Nov 24, 2026 at 10:00 AM Juniper Gap <\nhello@example.org> wrote:\n> x',
      'On my way',
    ],
    ['> Can you come?\nYes.\n> When?\nAt eight.', 'Yes.\nAt eight.'],
    ['See you\n-- \nAna Ortiz\nstop smoking foundation', 'See you'],
    ['ok\n\nSent from my telephone', 'ok'],
    ['> only quoted', '> only quoted'],
    ['', ''],
  ])('%j says %j', (text, words) => expect(ownWords(text)).toBe(words));

  it.each([
    [{ 'auto-submitted': 'auto-replied' }, true],
    [{ 'auto-submitted': 'no' }, false],
    [{ 'x-autoreply': 'yes' }, true],
    [{ precedence: 'bulk' }, true],
    [{ subject: 'Out of office' }, false],
    [{}, false],
  ])('with %j written by a machine: %s', (headers, automatic) =>
    expect(isAutomatic(new Map(Object.entries(headers)))).toBe(automatic),
  );

  it('names the letters it answers, the closest first', () =>
    expect(lettersAnswered('<b@x>', '<a@x> <b@x> <c@x>')).toEqual(['<b@x>', '<c@x>', '<a@x>']));
});
