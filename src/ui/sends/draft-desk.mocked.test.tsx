import { render, screen, within, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useImperativeHandle, useState, type Ref } from 'react';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { USUAL_LINKS } from '@/core/link/shorten';
import { MERGE_FIELDS } from '@/core/text/fields';
import type { DraftReport } from './draft-report';
import { DraftDesk } from './draft-desk';
import {
  USUAL_COMPARISON,
  USUAL_TIMING,
  type DraftOutcome,
  type DraftValues,
  type Sending,
  type When,
} from './draft-values';

/** The editor measures itself as no imitated browser can; a box for text stands in for it. */
vi.mock('@/ui/kit/text-editor', () => ({
  TextEditor: ({
    ref,
    initial,
    labelledBy,
    onChange,
  }: {
    ref: Ref<unknown>;
    initial: string;
    labelledBy: string;
    onChange(body: string): void;
  }) => {
    const [body, setBody] = useState(initial);
    const put = (text: string) => (setBody(text), onChange(text));
    useImperativeHandle(ref, () => ({
      insertField: ({ name, fallback }: { name: string; fallback: string }) =>
        put(`${body}{$${name} :wren:field fallback=|${fallback}|}`),
      replace: put,
    }));
    return (
      <textarea aria-labelledby={labelledBy} value={body} onChange={(event) => put(event.target.value)} />
    );
  },
}));

const NOW = Date.parse('2026-11-23T18:00:00Z');

/** How the server tells the answer line by line; null: at once. */
let inSteps: ((said: unknown) => Response) | null;

/** A server that tells its answer line by line, cut by the network anywhere, when it is told to. */
function lineByLine() {
  const server = { line: (_: object) => {}, end: () => {} };
  inSteps = (said) => {
    const stream = new ReadableStream<Uint8Array>({
      start(controller) {
        server.line = (told) => {
          const bytes = new TextEncoder().encode(`${JSON.stringify(told)}\n`);
          controller.enqueue(bytes.slice(0, 7));
          controller.enqueue(bytes.slice(7));
        };
        server.end = () => (server.line({ answer: said }), controller.close());
      },
    });
    return new Response(stream, { headers: { 'content-type': 'application/jsonl' } });
  };
  return { line: (told: object) => server.line(told), end: () => server.end() };
}

const SO_FAR = {
  people: 100_000,
  report: { people: 12_000, cleared: 11_000, held: 600, blocked: 400, lines: [] },
  sample: null,
};

const report = (more: Partial<DraftReport> = {}): DraftReport => ({
  report: {
    ...{ people: 12, cleared: 9, held: 1, blocked: 2 },
    lines: [
      { code: 'quiet-hours', effect: 'hold', people: 1, earliest: NOW + 3_600_000, latest: NOW + 7_200_000 },
      { code: 'opted-out', effect: 'block', people: 2, earliest: null, latest: null },
    ],
  },
  cost: {
    people: 10,
    parts: 12,
    credits: 12,
    groups: [{ alphabet: 'GSM-7', parts: 1, people: 8, credits: 8, because: [] }],
    pictures: { people: 0, credits: 0 },
  },
  byLink: {},
  toldFirst: 0,
  letters: null,
  companion: null,
  chat: null,
  creditsLeft: 100,
  sample: {
    ...{
      personId: 'per_1',
      name: 'Ada',
      subject: null,
      text: 'Hi Ada',
      parts: 1,
      alphabet: 'GSM-7',
      verdict: 'cleared',
      media: null,
      html: null,
    },
  },
  leaving: { steps: [], step: 60_000, first: null, last: null, never: 0, senders: [] },
  senders: [],
  swaps: null,
  findings: [],
  open: [],
  links: [],
  examples: {
    first: null,
    next: { personId: 'per_2', name: 'Bo' },
    any: null,
    longest: { personId: 'per_3', name: 'Chi' },
    ...{ dearest: null, emptiest: null },
  },
  now: NOW,
  ...more,
});

interface Asked {
  channel: string;
  subject: string;
  body: string;
  program: string;
  audience: string;
  at: string;
  person: string | null;
  called?: string;
}
const got = { ask: 'sent', has: true, outcome: 'got', of: { broadcast: 'brc_9' } };
const kept = vi.fn().mockResolvedValue({ id: 'seg_1', problem: null });
const LOOKED = {
  text: 'https://example.org/a',
  looked: { kind: 'dead', why: 'there is no such page (404)' },
};
const tried = vi.fn().mockResolvedValue({ problems: [] });
/** What the server keeps of what is being written. */
let onServer: { content: string; at: number } | null;
function unfinished({ act, content }: { act: string; content?: string }) {
  if (act === 'keep') onServer = { content: content!, at: NOW };
  if (act === 'drop') onServer = null;
  return { found: onServer };
}
let asked: Asked[];
let answer: (question: Asked) => { ok: boolean; body: unknown } | Promise<{ ok: boolean; body: unknown }>;

beforeEach(() => {
  asked = [];
  onServer = null;
  inSteps = null;
  answer = () => ({ ok: true, body: report() });
  vi.stubGlobal('fetch', async (path: string, { body, signal }: { body: string; signal?: AbortSignal }) => {
    if (path === '/internal/steps') return { ok: true, json: () => Promise.resolve({ steps: [] }) };
    if (path === '/internal/links') return { ok: true, json: () => Promise.resolve({ found: [LOOKED] }) };
    if (path === '/internal/unfinished') {
      const said = unfinished(JSON.parse(body) as Parameters<typeof unfinished>[0]);
      return { ok: true, json: () => Promise.resolve(said) };
    }
    const question = JSON.parse(body) as Asked;
    asked.push(question);
    const { ok, body: said } = await answer(question);
    if (signal?.aborted) throw new DOMException('gone', 'AbortError');
    return inSteps ? inSteps(said) : Response.json(said, { status: ok ? 200 : 422 });
  });
});

async function desk(
  more: Partial<DraftValues> = {},
  outcome: DraftOutcome = { problems: [], id: 'brc_1' },
  before?: When,
) {
  const save = vi
    .fn<(values: DraftValues, send: Sending) => Promise<DraftOutcome>>()
    .mockResolvedValue(outcome);
  const onDone = vi.fn();
  render(
    <DraftDesk
      initial={{
        ...{ id: null, program: 'prg_1', audience: '', name: 'Saturn week', body: 'Hi' },
        ...{ channel: 'sms', subject: '', links: USUAL_LINKS, timing: USUAL_TIMING },
        ...{ others: [], repeat: '', template: null, comparison: USUAL_COMPARISON },
        ...{ files: [], instead: null, companion: null, chatTemplate: '', recording: '', ...more },
      }}
      {...(before ? { before } : {})}
      programs={[
        { id: 'prg_1', name: 'Clear Sky Alerts' },
        { id: 'prg_2', name: 'Star Parties' },
      ]}
      audience={{
        segments: [{ id: 'seg_1', name: 'Regulars' }],
        askable: { fields: [], things: [{ kind: 'broadcast', id: 'brc_9', name: 'Quiet dome' }] },
        keepSegment: kept,
      }}
      fields={MERGE_FIELDS}
      own={{ number: '+13035550147', asked: null }}
      tryActs={{ ask: vi.fn(), give: vi.fn(), send: tried }}
      kept={[]}
      recordings={[]}
      chats={[
        {
          ...{ id: 'cht_1', name: 'sky_week', category: 'marketing', body: 'Hi, Saturn is up.' },
          languages: [{ language: 'en', state: 'approved' }],
        },
      ]}
      zone="America/Denver"
      place="broadcast:new"
      {...{ save, onDone }}
    />,
  );
  await screen.findByRole('button', { name: 'Keep as a draft' });
  return { save, onDone };
}

const margin = () => screen.getByRole('complementary', { name: 'Margin' });

describe('what is written', () => {
  it('is kept as one goes, and gone once it was sent', async () => {
    const { save } = await desk();
    await userEvent.type(screen.getByRole('textbox', { name: 'Text' }), ' there');
    await waitFor(() => expect(onServer?.content).toContain('Hi there'), { timeout: 3_000 });
    await userEvent.click(await screen.findByRole('button', { name: /10 people/ }));
    await waitFor(() => expect(save).toHaveBeenCalled());
    await waitFor(() => expect(onServer).toBeNull());
  });

  it('is gone on with where it was left, or begun anew', async () => {
    onServer = {
      content: JSON.stringify({ body: 'Half a sen', when: { kind: 'at', local: '2026-12-05T10:00' } }),
      at: NOW,
    };
    await desk();
    expect(screen.getByRole('textbox', { name: 'Text' })).toHaveProperty('value', 'Half a sen');
    expect(screen.getByLabelText('Day and time')).toHaveProperty('value', '2026-12-05T10:00');
    expect(screen.getByText(/left this unfinished on Mon, Nov 23, 11:00/)).toBeDefined();
    await userEvent.click(screen.getByRole('button', { name: 'Begin anew' }));
    expect(screen.getByRole('textbox', { name: 'Text' })).toHaveProperty('value', 'Hi');
    await waitFor(() => expect(onServer).toBeNull());
  });
});

describe('a broadcast that was called back', () => {
  it('is still meant for the time it had, and does not go at once by the next press', async () => {
    const { save } = await desk({ id: 'brc_1' }, undefined, { kind: 'at', local: '2026-12-05T10:00' });
    expect(screen.getByLabelText('Day and time')).toHaveProperty('value', '2026-12-05T10:00');
    await within(margin()).findByText('Hi Ada');
    await userEvent.click(screen.getByRole('button', { name: /10 people/ }));
    await waitFor(() => expect(save).toHaveBeenCalled());
    expect(save.mock.calls[0]![1]).toMatchObject({ kind: 'at', local: '2026-12-05T10:00' });
  });
});

describe('while a broadcast is written', () => {
  it('shows who gets it, who not and why, how it reads and what it costs', async () => {
    await desk();
    expect(await within(margin()).findByText('Hi Ada')).toBeDefined();
    expect(margin().textContent).toContain('12 credits for 12 parts; 88 left after it.');
    expect(within(margin()).getByRole('button', { name: /^2 people: blocked\. Show them/ })).toBeDefined();
    expect(screen.getByRole('button', { name: 'Send to 10 people' })).toBeDefined();
  });

  it('asks once for what was typed in one go, and about the program and the part of it that are chosen', async () => {
    await desk({ body: '' });
    await userEvent.type(screen.getByRole('textbox', { name: 'Text' }), 'Clear');
    await waitFor(() => expect(asked.map(({ body }) => body)).toEqual(['Clear']));
    await userEvent.selectOptions(screen.getByRole('combobox', { name: 'To members of' }), 'Star Parties');
    await userEvent.selectOptions(screen.getByRole('combobox', { name: 'Of them' }), 'segment: Regulars');
    await waitFor(() =>
      expect(asked.at(-1)).toMatchObject({ program: 'prg_2', audience: expect.stringContaining('seg_1') }),
    );
  });

  it('goes by a template in a chat, and asks about nothing before one is chosen', async () => {
    const { save } = await desk({ channel: 'chat', body: '' });
    expect(margin().textContent).toContain('Choose the template');
    expect(screen.queryByRole('textbox', { name: 'Text' })).toBeNull();
    await userEvent.selectOptions(screen.getByRole('combobox', { name: /^Template/ }), 'sky_week, marketing');
    await waitFor(() => expect(asked.at(-1)).toMatchObject({ channel: 'chat', template: 'cht_1' }));
    await userEvent.click(screen.getByRole('checkbox', { name: /cannot be reached by chat/ }));
    await userEvent.click(screen.getByRole('radio', { name: 'by e-mail' }));
    expect(screen.getByLabelText('Subject of the e-mail')).toBeDefined();
    await userEvent.click(screen.getByRole('radio', { name: 'by text' }));
    await userEvent.click(await screen.findByRole('button', { name: /10 people/ }));
    await waitFor(() => expect(save).toHaveBeenCalled());
    expect(save.mock.calls[0]![0]).toMatchObject({ chatTemplate: 'cht_1', instead: { channel: 'sms' } });
  });

  it('leaves out those who got another, and keeps a cut made here as a segment', async () => {
    await desk();
    await userEvent.click(screen.getByRole('combobox', { name: 'But not those who got' }));
    await userEvent.click(await screen.findByRole('option', { name: 'Quiet dome' }));
    await waitFor(() =>
      expect(JSON.parse(asked.at(-1)!.audience)).toEqual({ all: [{ all: [] }, { none: [got] }] }),
    );
    await userEvent.selectOptions(screen.getByRole('combobox', { name: 'Of them' }), 'whom I choose here …');
    expect(screen.getByRole('button', { name: 'Keep' })).toHaveProperty('disabled', true);
    await userEvent.click(screen.getByRole('button', { name: 'Do not leave out those who got Quiet dome' }));
    await waitFor(() => expect(asked.at(-1)!.audience).toBe(''));
  });

  it('never shows an older answer over a newer one', async () => {
    let release = () => {};
    const slow = new Promise<void>((resolve) => (release = resolve));
    answer = async ({ body }) => {
      if (body === 'Hi') await slow;
      return { ok: true, body: report({ sample: { ...report().sample!, text: `copy of ${body}` } }) };
    };
    await desk();
    await waitFor(() => expect(asked).toHaveLength(1));
    await userEvent.type(screen.getByRole('textbox', { name: 'Text' }), '!');
    expect(await within(margin()).findByText('copy of Hi!')).toBeDefined();
    release();
    await new Promise((resolve) => setTimeout(resolve, 20));
    expect(within(margin()).queryByText('copy of Hi')).toBeNull();
  });

  it('tells how far a large audience is gone through, and names no figure of before on the button', async () => {
    const { line, end } = lineByLine();
    await desk();
    await waitFor(() => expect(asked).toHaveLength(1));
    line({ step: { ...SO_FAR, sample: { ...report().sample!, text: 'The first copy' } } });
    expect(await within(margin()).findByText('The first copy')).toBeDefined();
    expect(within(margin()).getByRole('progressbar').getAttribute('aria-label')).toBe(
      '12,000 of 100,000 people looked at',
    );
    expect(margin().textContent).toContain('Of those 11,000 cleared, 600 held until later, 400 blocked.');
    end();
    expect(await screen.findByRole('button', { name: 'Send to 10 people' })).toBeDefined();
    expect(within(margin()).queryByRole('progressbar')).toBeNull();
    await userEvent.type(screen.getByRole('textbox', { name: 'Text' }), '!');
    await waitFor(() => expect(asked).toHaveLength(2));
    line({ step: SO_FAR });
    expect(await within(margin()).findByText(/from before your last change/)).toBeDefined();
    expect(screen.getByRole('button', { name: 'Send' })).toBeDefined();
    line({ message: 'The server could not answer. Try again.' });
    expect((await screen.findByRole('alert')).textContent).toContain('could not answer');
  });

  it('says what is wrong with the text, and takes the report away', async () => {
    answer = () => ({ ok: false, body: { message: 'body: a field is not closed.' } });
    await desk({ body: 'Hi {$person' });
    expect((await screen.findByRole('alert')).textContent).toBe('body: a field is not closed.');
    expect(margin().textContent).toContain('Mend the text');
  });

  it('shows it for others: the next, the longest, somebody by name', async () => {
    await desk();
    await userEvent.click(await within(margin()).findByRole('button', { name: 'the longest' }));
    await waitFor(() => expect(asked.at(-1)!.person).toBe('per_3'));
    expect(within(margin()).queryByRole('button', { name: 'the dearest' })).toBeNull();
    answer = ({ called }) => ({
      ok: true,
      body: called ? { people: [{ personId: 'per_4', name: 'Dov Lark', address: null }] } : report(),
    });
    await userEvent.type(within(margin()).getByRole('combobox', { name: 'Show it for somebody' }), 'lar');
    await userEvent.click(await screen.findByRole('option', { name: /Dov Lark/ }));
    await waitFor(() => expect(asked.at(-1)!.person).toBe('per_4'));
  });

  it('shows what must be mended, mends it, and sends nothing before', async () => {
    answer = ({ body }) => ({
      ok: true,
      body: report({
        findings: body.startsWith('Juniper Gap')
          ? []
          : [
              {
                ...{ code: 'no-sender', severity: 'must', message: 'Say who writes.', place: null },
                mending: { label: 'Begin with it', changes: [{ from: 0, to: 0, insert: 'Juniper Gap: ' }] },
              },
            ],
      }),
    });
    await desk();
    expect(await within(margin()).findByText('Say who writes.')).toBeDefined();
    expect(screen.getByRole('button', { name: /^Send/ })).toHaveProperty('disabled', true);
    await userEvent.click(within(margin()).getByRole('button', { name: 'Begin with it' }));
    expect(await within(margin()).findByText('nothing to mend')).toBeDefined();
    expect(screen.getByRole('textbox', { name: 'Text' })).toHaveProperty('value', 'Juniper Gap: Hi');
    expect(screen.getByRole('button', { name: /^Send/ })).toHaveProperty('disabled', false);
  });

  it('is tried on one’s own phone as the one whose copy is shown', async () => {
    await desk();
    await userEvent.click(await within(margin()).findByRole('button', { name: 'Try it on (303) 555-0147' }));
    expect(await within(margin()).findByText('✓ It is on its way to you.')).toBeDefined();
    expect(tried.mock.lastCall!.slice(0, 2)).toMatchObject([{ body: 'Hi' }, 'per_1']);
    tried.mockResolvedValueOnce({ problems: [{ message: 'number: wait a little.' }] });
    await userEvent.click(within(margin()).getByRole('button', { name: 'Try it on (303) 555-0147' }));
    expect((await screen.findByRole('alert')).textContent).toContain('ait a little.');
  });

  it('looks whether its links answer', async () => {
    answer = () => ({
      ok: true,
      body: report({ links: [{ text: 'https://example.org/a', short: true, problem: null }] }),
    });
    await desk();
    expect(await within(margin()).findByText('looking whether it answers …')).toBeDefined();
    expect(
      await within(margin()).findByText('leads nowhere: there is no such page (404)', {}, { timeout: 4_000 }),
    ).toBeDefined();
  });

  it('says how many credits are missing', async () => {
    answer = () => ({ ok: true, body: report({ creditsLeft: 5 }) });
    await desk();
    expect(await within(margin()).findByText(/7 credits are missing/)).toBeDefined();
  });

  it('offers swaps and makes them only when asked', async () => {
    const swaps = { swaps: [], text: 'Hi plain', partsBefore: 20, partsAfter: 10 };
    answer = () => ({
      ok: true,
      body: report({ swaps: { ...swaps, swaps: [{ name: 'curly quote' } as never] } }),
    });
    await desk();
    await userEvent.click(await within(margin()).findByRole('button', { name: 'Swap them' }));
    expect(screen.getByRole('textbox', { name: 'Text' })).toHaveProperty('value', 'Hi plain');
  });

  it('puts a field in, and lets one say what stands where it is empty', async () => {
    await desk({ body: 'Hi ' });
    await userEvent.click(screen.getByRole('button', { name: 'first name' }));
    const fallback = await screen.findByRole('textbox', { name: /^If first name is empty, say/ });
    await userEvent.clear(fallback);
    expect(await screen.findByText('(it goes to nobody without it)')).toBeDefined();
  });
});

describe('sending', () => {
  it('keeps a draft, or sends now', async () => {
    const { save, onDone } = await desk();
    await userEvent.click(screen.getByRole('button', { name: 'Keep as a draft' }));
    await waitFor(() => expect(onDone).toHaveBeenCalledWith('brc_1', false));
    // On a busy machine it is still at it when the draft is kept.
    const sends = screen.getByRole('button', { name: /^Send/ });
    await waitFor(() => expect(sends).toHaveProperty('disabled', false));
    await userEvent.click(sends);
    await waitFor(() => expect(onDone).toHaveBeenCalledWith('brc_1', true));
    expect(save.mock.calls.map(([, send]) => send)).toEqual([null, { kind: 'now', local: '' }]);
  });

  it('schedules only with a time', async () => {
    const { save } = await desk();
    await userEvent.click(screen.getByRole('radio', { name: 'at' }));
    expect(screen.getByRole('button', { name: /^Schedule/ })).toHaveProperty('disabled', true);
    await userEvent.type(screen.getByLabelText('Day and time'), '2026-11-24T09:30');
    await userEvent.click(screen.getByRole('button', { name: /^Schedule/ }));
    expect(save.mock.lastCall![1]).toEqual({ kind: 'at', local: '2026-11-24T09:30' });
  });

  it('asks with the hour of each, chosen hours, a pace and chosen numbers, and sends so', async () => {
    const number = {
      registered: true,
      registeredBy: null,
      people: 5,
      parts: 5,
      sentToday: 0,
      dailyCap: 4,
      chosen: true,
    };
    answer = () => ({
      ok: true,
      body: report({
        senders: [
          { ...number, id: 'n1', number: '+17195550110' },
          { ...number, id: 'n2', number: '+17205550170', dailyCap: null },
        ],
      }),
    });
    const { save } = await desk();
    await userEvent.type(screen.getByLabelText('Day and time'), '2026-12-05T10:00');
    await userEvent.click(screen.getByRole('radio', { name: 'at that hour where each of them lives' }));
    await userEvent.click(screen.getByRole('checkbox', { name: /^only on chosen days/ }));
    await userEvent.selectOptions(screen.getByRole('combobox', { name: 'How fast' }), 'a few at a time');
    expect(await screen.findByText(/4 of 4 a day, 1 wait for the next/)).toBeDefined();
    await userEvent.click(screen.getByRole('checkbox', { name: '(720) 555-0170' }));
    await waitFor(() => {
      const { timing, ...rest } = asked.at(-1) as unknown as { timing: string; at: string; local: string };
      expect(rest).toMatchObject({ at: '', local: '2026-12-05T10:00' });
      expect(JSON.parse(timing)).toMatchObject({
        hours: { days: [1, 2, 3, 4, 5] },
        pace: { kind: 'rate', people: '20', per: 'hour' },
        senders: ['n1'],
      });
    });
    await userEvent.selectOptions(screen.getByRole('combobox', { name: 'Again' }), 'every Saturday');
    await userEvent.click(screen.getByRole('button', { name: /^Schedule/ }));
    expect(save.mock.lastCall![1]).toEqual({ kind: 'each', local: '2026-12-05T10:00' });
    expect(save.mock.lastCall![0].repeat).toBe('FREQ=WEEKLY;BYDAY=SA');
  });

  it('has several wordings, each with its own words, and takes one out again', async () => {
    const { save } = await desk();
    await userEvent.click(screen.getByRole('button', { name: 'Try a second wording' }));
    await userEvent.type(screen.getByRole('textbox', { name: 'Text' }), ' there');
    await waitFor(() => expect(asked.at(-1)).toMatchObject({ body: 'Hi', shown: '1' }));
    await userEvent.click(screen.getByRole('button', { name: 'Wording A' }));
    expect(screen.getByRole('textbox', { name: 'Text' })).toHaveProperty('value', 'Hi');
    await userEvent.click(screen.getByRole('button', { name: 'Keep as a draft' }));
    expect(save.mock.lastCall![0].others).toEqual([{ subject: '', body: 'Hi there' }]);
    await userEvent.click(screen.getByRole('button', { name: 'Wording B' }));
    await userEvent.click(screen.getByRole('button', { name: 'take B out' }));
    expect(screen.queryByRole('button', { name: 'Wording B' })).toBeNull();
    expect(screen.queryByText('Better is the one with')).toBeNull();
  });

  it('is not possible when nobody would get it', async () => {
    answer = () => ({
      ok: true,
      body: report({ report: { people: 2, cleared: 0, held: 0, blocked: 2, lines: [] } }),
    });
    await desk();
    const button = await screen.findByRole('button', { name: 'Send to 0 people' });
    expect(button).toHaveProperty('disabled', true);
  });

  it('says at its place what was refused, and stays', async () => {
    const { onDone } = await desk(
      {},
      { id: null, problems: [{ field: 'at', message: 'at: choose a time that is not past.' }] },
    );
    await userEvent.click(screen.getByRole('button', { name: /^Send/ }));
    expect((await screen.findByRole('alert')).textContent).toBe('at: choose a time that is not past.');
    expect(onDone).not.toHaveBeenCalled();
  });
});

describe('a large audience', () => {
  it('is no longer gone through once the text is taken away', async () => {
    const { line } = lineByLine();
    await desk();
    await waitFor(() => expect(asked).toHaveLength(1));
    line({ step: SO_FAR });
    expect(await within(margin()).findByRole('progressbar')).toBeDefined();
    await userEvent.clear(screen.getByRole('textbox', { name: 'Text' }));
    expect(await within(margin()).findByText(/Write the text/)).toBeDefined();
    expect(within(margin()).queryByRole('progressbar')).toBeNull();
    expect(margin().getAttribute('aria-busy')).toBe('false');
  });
});
