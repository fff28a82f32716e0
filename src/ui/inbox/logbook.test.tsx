import { render, screen, within } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { Logbook, type Entry } from './logbook';

const ZONE = 'America/Denver';
const NOW = Date.parse('2026-11-23T18:00:00Z');

let ids = 0;
const entry = (at: string, more: Partial<Entry> = {}): Entry => ({
  id: `txt_${ids++}`,
  channel: 'sms',
  subject: null,
  direction: 'out',
  at: new Date(at),
  body: 'Clear tonight.',
  kind: 'broadcast',
  state: 'delivered',
  failure: null,
  parts: 1,
  program_id: 'prg_sky',
  program: 'Clear Sky Alerts',
  broadcast_id: null,
  broadcast: null,
  sequence_id: null,
  sequence: null,
  sent_by: null,
  not_before: null,
  clearance: null,
  meaning: null,
  rule: null,
  near_keyword: null,
  sender: null,
  files: [],
  ...more,
});

const reply = (at: string, more: Partial<Entry> = {}) =>
  entry(at, { direction: 'in', state: null, kind: 'inbound', body: 'Stop.', ...more });

/** What they agreed to, and whom broadcasts were for. */
const grounds: Parameters<typeof Logbook>[0]['grounds'] = {
  audiences: { brc_saturn: 'People in Colorado' },
  consents: [
    {
      ...{ program_id: 'prg_sky', channel: 'sms', kind: 'opted-out', at: new Date('2026-11-23T17:30:00Z') },
      how: 'by reply',
    },
    {
      ...{ program_id: 'prg_sky', channel: 'sms', kind: 'opted-in', at: new Date('2026-11-01T17:30:00Z') },
      how: 'by keyword: “sky”',
    },
  ],
};

type Planned = Parameters<typeof Logbook>[0]['planned'];

/** The thread as it is read: entries come newest first, as they are kept. */
function thread(newestFirst: Entry[], coming: Entry[] = [], planned: Planned = []) {
  render(
    <Logbook
      entries={newestFirst}
      coming={coming}
      planned={planned}
      grounds={grounds}
      now={NOW}
      zone={ZONE}
    />,
  );
  return screen.getByRole('list', { name: 'Thread' });
}

it('says of a reply that asks for quiet for a while that it does, and of another in doubt that it may be an opt-out', () => {
  render(
    <Logbook
      {...{ entries: [], calls: [], marks: [], coming: [], planned: [], grounds, now: NOW, zone: ZONE }}
      entries={[
        reply('2026-11-23T17:00:00Z', { meaning: 'unclear', rule: 'pausing' }),
        reply('2026-11-23T17:10:00Z', { meaning: 'unclear', rule: 'score' }),
      ]}
    />,
  );
  expect(screen.getByText('unclear: seems to want a pause')).toBeTruthy();
  expect(screen.getByText('unclear: may be an opt-out')).toBeTruthy();
});

describe('a thread', () => {
  it('is read from old to new, each day named once, and ends with now', () => {
    const list = thread([
      entry('2026-11-23T17:00:00Z', { body: 'three' }),
      reply('2026-11-22T17:05:00Z', { body: 'two' }),
      entry('2026-11-22T17:00:00Z', { body: 'one' }),
    ]);
    const words = list.textContent;
    expect(['one', 'two', 'three', 'now'].map((word) => words.indexOf(word))).toEqual(
      ['one', 'two', 'three', 'now'].map((word) => words.indexOf(word)).sort((a, b) => a - b),
    );
    expect(words.match(/22/g)).toHaveLength(1);
    expect(words).toContain('nothing is scheduled for them');
  });

  it('folds the words of what nobody answered, and leaves open what they answered and what came last', () => {
    const list = thread([
      entry('2026-11-23T17:00:00Z', { body: 'last' }),
      reply('2026-11-22T18:00:00Z', { body: 'yes' }),
      entry('2026-11-22T17:00:00Z', { body: 'answered' }),
      entry('2026-11-21T17:00:00Z', { body: 'quiet' }),
    ]);
    const folded = [...list.querySelectorAll('summary')].map(({ textContent }) => textContent);
    expect(folded).toEqual(['quiet']);
  });

  it('folds away what is older than the last five', () => {
    const many = Array.from({ length: 8 }, (_, i) =>
      reply(`2026-11-${String(20 - i)}T17:00:00Z`, { body: `text ${i}` }),
    );
    const list = thread(many);
    expect(within(list).getAllByText(/^text \d$/)).toHaveLength(5);
    expect(screen.getByText('3 earlier entries')).toBeDefined();
    expect(
      within(screen.getByRole('list', { name: 'Earlier', hidden: true })).getByText('text 7'),
    ).toBeDefined();
  });

  it('shows what comes after now, with its time', () => {
    const list = thread(
      [entry('2026-11-23T17:00:00Z')],
      [
        entry('2026-11-23T18:00:00Z', {
          ...{ body: 'Tomorrow.', state: 'queued', not_before: new Date('2026-11-24T16:00:00Z') },
        }),
        entry('2026-11-23T18:00:00Z', { body: 'Later.', state: 'queued', not_before: new Date(NaN) }),
      ],
    );
    expect(list.textContent).not.toContain('nothing is scheduled');
    expect(list.textContent).toMatch(/now.*Tomorrow\..*when resumed.*Later\./s);
  });

  it('shows broadcasts that mean them, and lines of their sequences, without promising them', () => {
    const list = thread(
      [],
      [],
      [
        {
          from: 'broadcast',
          id: 'brc_1',
          name: 'Quiet dome',
          at: new Date('2026-11-25T01:00:00Z'),
          words: null,
        },
        {
          from: 'sequence',
          id: 'seq_1',
          name: 'Welcome',
          at: new Date('2026-11-26T17:00:00Z'),
          words: 'Hi [first name]',
        },
      ],
    );
    expect(list.textContent).toMatch(/now.*18:00.*broadcast Quiet dome, if they are still meant then/s);
    expect(list.textContent).toMatch(
      /10:00.*sequence Welcome, unless they answer or leave.*Hi \[first name\]/s,
    );
    expect(list.textContent).not.toContain('nothing is scheduled');
    expect(screen.getByRole('link', { name: 'Quiet dome' }).getAttribute('href')).toBe('/sends/brc_1');
    expect(screen.getByRole('link', { name: 'Welcome' }).getAttribute('href')).toBe(
      '/programs/sequences/seq_1',
    );
  });

  it('shows an empty text as one', () => {
    expect(thread([reply('2026-11-23T17:00:00Z', { body: '' })]).textContent).toContain('an empty text');
  });
});

describe('what stands beside an entry', () => {
  it.each<[Partial<Entry>, string]>([
    [{ direction: 'in', state: null, meaning: 'opt-out' }, 'opted out'],
    [{ direction: 'in', state: null, meaning: 'unclear' }, 'unclear: may be an opt-out'],
    [{ direction: 'in', state: null, meaning: 'keyword' }, 'keyword'],
    [{ direction: 'in', state: null, meaning: 'reply', near_keyword: 'sky' }, 'nearly the keyword SKY'],
    [{ direction: 'in', state: null, sender: '+17195550110' }, 'in to (719) 555-0110'],
    [{ kind: 'confirmation' }, 'confirmation, automatic (Clear Sky Alerts)'],
    [{ kind: 'opt-out-confirmation' }, 'opt-out confirmation, automatic'],
    [{ kind: 'answer', sent_by: 'Noor' }, 'out, by Noor'],
    [{ state: 'cancelled' }, 'called back'],
  ])('%j says “%s”', (more, words) => {
    const text = thread([entry('2026-11-23T17:00:00Z', more)]).textContent;
    if (more.state === 'cancelled') expect(text).toMatch(/cancelled|called back/);
    else expect(text).toContain(words);
  });

  it('is the broadcast, as a link', () => {
    thread([entry('2026-11-23T17:00:00Z', { broadcast_id: 'brc_1', broadcast: 'Saturn week' })]);
    expect(screen.getByRole('link', { name: 'Saturn week' }).getAttribute('href')).toBe('/sends/brc_1');
  });

  it('is why it failed', () => {
    const text = thread([
      entry('2026-11-23T17:00:00Z', { state: 'failed', failure: 'landline' }),
    ]).textContent;
    expect(text).toContain('failed: ');
    expect(text).toContain('landline');
  });

  it('is the clearance it left by, with each reason and its evidence', () => {
    const clearance = {
      verdict: 'held',
      at: '2026-11-23T03:00:00Z',
      reasons: [
        { code: 'quiet-hours', effect: 'hold', evidence: { zones: ['America/Denver', 'America/Boise'] } },
      ],
    };
    const text = thread([entry('2026-11-23T17:00:00Z', { clearance })]).textContent;
    expect(text).toContain('Clearance of Sun, Nov 22, 20:00: held');
    expect(text).not.toContain('2026-11-23T03');
    expect(text).toContain('zones: America/Denver, America/Boise');
  });

  it('says who chose them and what they had agreed to when it went', () => {
    const clearance = { verdict: 'cleared', at: '2026-11-23T17:00:00Z', reasons: [] };
    const sent = { clearance, broadcast_id: 'brc_saturn', broadcast: 'Saturn week' };
    const text = thread([entry('2026-11-23T17:00:00Z', sent)]).textContent;
    expect(text).toContain('Why did they get this?');
    expect(text).toContain('the audience of “Saturn week”: People in Colorado.');
    expect(text).toContain('Consent to Clear Sky Alerts: by keyword: “sky”.');
  });

  it('says that they had left before it would have gone', () => {
    const clearance = { verdict: 'blocked', at: '2026-11-23T17:40:00Z', reasons: [] };
    const text = thread([entry('2026-11-23T17:40:00Z', { clearance, state: 'blocked' })]).textContent;
    expect(text).toContain('Why not?');
    expect(text).toContain('Their last word to Clear Sky Alerts was another: by reply.');
  });

  it('says that nothing stood against it', () => {
    const clearance = { verdict: 'cleared', at: '2026-11-23T17:00:00Z', reasons: [] };
    expect(thread([entry('2026-11-23T17:00:00Z', { clearance })]).textContent).toContain(
      'nothing against it',
    );
  });
});
