import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { makeFrame } from '../../../scripts/mail-frame.mjs';
import { htmlPart, linksOf, paragraphs, plainPart, withLinks } from './compose';
import frame from './frame.json';

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
