import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { Ajv2020 } from 'ajv/dist/2020';
import pg from 'pg';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';

import { createApiKey } from '@/services/access/api-keys';
import { addAccount } from '@/services/access/create-workspace';
import { noLookup } from '@/gateways/lookup';
import { runBatchSlice } from '@/services/batches/batches';
import { advanceImports } from '@/services/imports/engine';
import { findOrMakeLabel } from '@/services/people/labels';
import {
  beginDueBroadcasts,
  finishBroadcasts,
  prepareDueBroadcasts,
} from '@/services/sends/prepare-broadcast';
import { readTroubles } from '@/services/stuck';
import { claimDueTexts } from '@/services/delivery/send-due-texts';
import { SimulatedStock } from '@/standins/stock';
import { TOLD_BRAND, TOLD_PROGRAM } from '@/services/testing/registrar';
import { SAID, spokenWave } from '@/services/testing/voicemail';
import { makeWorld, type World } from '@/services/testing/world';
import { serveApi } from './serve';

/*
 * Hostile values in every field of every endpoint, as the OpenAPI document names them: what comes in must be taken
 * whole or refused with a problem document, and nothing it leaves behind may disturb the worker.
 */

let world: World;
let key: string;
let counter: pg.Client;
let previous: string | undefined;
const silent: unknown[][] = [];

beforeAll(async () => {
  // Ten thousand requests in a minute are what this test is.
  process.env.WREN_API_PER_MINUTE = '10000000';
  world = await makeWorld();
  counter = new pg.Client({ connectionString: world.databaseUrl });
  await counter.connect();
  vi.spyOn(console, 'error').mockImplementation((...said) => void silent.push(said));
  key = await world.within((scope) => createApiKey(world.ctx, scope, 'test', 'test'));
  teammate = await addAccount(world.ctx, world.workspaceId, {
    ...{ email: 'o@example.org', name: 'Odile Farrow', password: 'x', role: 'owner' },
  });
  await world.within((scope) =>
    scope.run(
      `insert into own_number (workspace_id, account_id, number) values (:workspace, :teammate, '+13035550188')`,
      { teammate },
    ),
  );
  previous = process.env.WREN_SMPP_HOST;
  process.env.WREN_SMPP_HOST = '127.0.0.1';
  (globalThis as { wrenContext?: unknown }).wrenContext = Promise.resolve(world.ctx);
});
afterAll(async () => {
  vi.restoreAllMocks();
  delete process.env.WREN_API_PER_MINUTE;
  if (previous === undefined) delete process.env.WREN_SMPP_HOST;
  else process.env.WREN_SMPP_HOST = previous;
  (globalThis as { wrenContext?: unknown }).wrenContext = undefined;
  await counter.end();
  await world.close();
});

interface Answer {
  status: number;
  text: string;
}

async function send(method: string, path: string, raw?: string, headers = {}): Promise<Answer> {
  const response = await serveApi(
    new Request(`http://test/api/v1${path}`, {
      method,
      headers: { authorization: `Bearer ${key}`, ...headers },
      ...(raw === undefined ? {} : { body: raw }),
    }),
  );
  return { status: response.status, text: await response.text() };
}

const deep = (levels: number) => `${'{"a":'.repeat(levels)}1${'}'.repeat(levels)}`;

/** As JSON text, since some cannot be told otherwise. What has broken something somewhere before: for every field. */
const WORST: readonly string[] = [
  ...['null', '-1', '1e400', '9007199254740993', '""', '[]', '{}', '"a\\u0000b"', '"\\ud83d"'],
  ...['{"constructor":{"name":"x"}}', '"2026-02-30T10:00:00Z"', '"{$x"'],
  JSON.stringify('x'.repeat(5_000)),
];
const MORE: readonly string[] = [
  ...['true', '0', '0.1', '"   "', '[[]]', '[null]', '{"__proto__":{"polluted":true}}', '{"toString":"x"}'],
  ...['"\\u0000"', '"\\udc1e x"', '"\\u001e\\u001f"', '"\\u202e\\u200b"', '"\\ufeff"', '["x",{"a":1}]'],
  ...['"2026-13-01T10:00:00Z"', '"2026-11-24T10:00:00+99:99"', '"2026-11-24T25:61:00Z"'],
  ...['"0000-00-00T00:00:00Z"', '"9999-12-31T23:59:59Z"'],
  ...['"\'; drop table person; --"', '"%s%n"', '"\\\\"'],
  JSON.stringify('🐞'.repeat(600)),
  JSON.stringify('e\u0301'.repeat(400)),
  JSON.stringify(Array.from({ length: 50_000 }, (_, i) => i)),
  JSON.stringify(Array.from({ length: 3_000 }, () => ({ number: 'x' }))),
  deep(20_000),
  `${'['.repeat(20_000)}${']'.repeat(20_000)}`,
];
const HOSTILE = [...WORST, ...MORE];

/** Of the others each field gets every fourth, or, with `WREN_HOSTILE=all`, which takes minutes more, all of them. */
const hostileFor = (nth: number): readonly string[] =>
  process.env.WREN_HOSTILE === 'all' ? HOSTILE : [...WORST, ...MORE.filter((_, i) => (i + nth) % 4 === 0)];

const SEQUENCE = {
  ...{
    format: 'steady-wren/sequence/1',
    name: 'Welcome',
    program: 'Clear Sky Alerts',
    begins: [{ on: 'request' }],
  },
  ...{ again: { rule: 'never' }, grace_minutes: 5, ends: [] },
  lines: [{ id: 'a', when: { at: 'once' }, what: { do: 'text', body: 'Hello' }, late: 'go' }],
};

const FORM = {
  ...{ format: 'steady-wren/form/1', language: 'en', title: 'Sign up', intro: '', button: '', thanks: '' },
  fields: [{ field: 'number', label: '', help: '', required: true }],
  look: { colour: '#8c3a1c' },
};

const POSTER = {
  ...{
    format: 'steady-wren/poster/1',
    sheet: 'a4',
    arrangement: 'column',
    headline: 'Clear skies',
    words: '',
  },
  look: { colour: '#8c3a1c' },
};

/** A body of each input class that is taken: what the hostile values are put into. */
const GOOD: Record<string, () => object | Promise<object>> = {
  OverviewInput: () => ({ days: 28, channel: 'sms', by: 'week' }),
  SpanInput: () => ({ from: '2026-11-01', to: '2026-11-20', program: 'prg_x' }),
  WorksInput: () => ({ compare: 'keyword', outcome: 'stayed', days: 91 }),
  ReportInput: () => ({
    ...{ name: `Figures ${n++}`, place: 'works', query: 'days=28&compare=hour' },
    ...{ every: 'week', at_hour: 8, recipients: ['ana@example.org'] },
  }),
  ShareReportInput: () => ({ days: 7 }),
  ProofInput: () => ({ address: '+17205550178' }),
  CheckProofInput: () => ({ document: JSON.stringify({ format: 'steady-wren/proof/1', hash: 'x' }) }),
  ChangeKeywordInput: async () => ({
    stamp: await stampOf('keyword'),
    welcome: 'Hello {$person.first_name}.',
    questions: [{ field: 'name', words: 'Your name?', again: '' }],
    ...{ thanks: 'Thank you.', link_days: 7, task_after: true },
  }),
  SpellingInput: () => ({ spelling: `skyy${n++}` }),
  RemoveSpellingInput: async () => {
    const spelling = `skyyy${n++}`;
    await world.within((scope) =>
      scope.run(
        `insert into keyword_spelling (workspace_id, word, keyword_id, created_at) select :workspace, :spelling, max(id), now() from keyword where workspace_id = :workspace`,
        { spelling },
      ),
    );
    return { spelling };
  },
  MergeProgramInput: async () => {
    await world.within((scope) =>
      scope.run(
        `update program set promise_count = 1, promise_period = 'month', purpose = 'inquiry' where workspace_id = :workspace and name = 'Clear Sky Alerts'`,
      ),
    );
    return { into: 'Clear Sky Alerts' };
  },
  TryKeywordInput: () => ({ teammate }),
  CallToActionInput: async () => ({ text: 'Text SKY.', keyword: await idFor('/keywords/{id}') }),
  OfferInput: () => ({ name: `Offer ${nextNumber()}`, words: 'One free hour.', days: 14 }),
  ChangeOfferInput: async () => ({ stamp: await stampOf('offer'), name: 'Offer', words: 'Two free hours.' }),
  CodeInput: () => ({ code: '7KQ3-M9T2W' }),
  UseInput: () => ({ code: '7KQ3-M9T2W', press: `p${nextNumber()}` }),
  UndoUseInput: async () => ({ press: await usedJustNow() }),
  EndingInput: () => ({ ending: '0110' }),
  NewSequenceInput: () => ({ name: `Sequence ${nextNumber()}`, program: 'Clear Sky Alerts' }),
  DraftInput: () => ({ document: SEQUENCE, stamp: 1 }),
  PublishInput: () => ({ others: 'stay', stamp: 2 }),
  EnrolInput: () => ({ people: [person] }),
  HoldInput: () => ({ until: '2026-12-24T10:00:00-07:00' }),
  PlaceInput: () => ({ line: 'a' }),
  RehearsalInput: () => ({
    document: SEQUENCE,
    events: [{ at: '2026-12-24T10:00:00-07:00', kind: 'reply' }],
  }),
  TrialInput: () => ({ teammate, seconds_a_day: 86_400 }),
  TaskInput: () => ({ title: 'Call', due: '2026-12-24T10:00:00-07:00' }),
  ChangeTaskInput: () => ({ verb: 'done', note: 'x' }),
  MailFromInput: () => ({ from: 'hello@example.org', name: 'Hello', postal_address: '1 Hill Road' }),
  // Whoever is being opted out is not opted out once more.
  LeaveInput: async () => {
    await world.within((scope) => scope.run(`delete from leaving where workspace_id = :workspace`));
    return { program: 'Clear Sky Alerts', why: 'on the phone', confirm: false };
  },
  PauseInput: () => ({
    until: new Date(world.clock.at + 20 * 86_400_000).toISOString().slice(0, 10),
    why: 'away',
  }),
  // What was agreed to already is not agreed to once more: the program is one that nobody is in.
  ConsentInput: async () => ({ program: await freshProgram(), wording: 'Text me.' }),
  GivenAddressInput: () => ({ address: nextNumber() }),
  OwnAddressInput: () => ({ address: 'ana@example.org' }),
  CreatePersonInput: () => ({
    ...{
      number: nextNumber(),
      first_name: 'Ana',
      last_name: 'Ortiz',
      email: 'ana@example.org',
      region: 'CO',
    },
    ...{ postal_code: '81201', zone: 'America/Denver', fields: { planet: 'Saturn' } },
    consent: {
      program: 'Clear Sky Alerts',
      wording: 'I agree',
      source: 'desk',
      obtained_at: '2026-01-01T00:00:00Z',
    },
  }),
  BulkPeopleInput: () => ({ people: [{ number: nextNumber(), email: 'ana@example.org' }] }),
  CutInput: () => ({ condition: '{"all":[]}', search: 'ana' }),
  SegmentInput: () => ({ name: `S ${n++}`, condition: '{"all":[]}', columns: ['name'], sort: 'name' }),
  BatchInput: () => ({
    ...{ name: 'B', action: 'add-label', id: label, condition: '{"all":[]}', search: '' },
    ...{ at: '2026-11-24T20:00:00Z', grace_seconds: 0, pace_count: 10, pace_seconds: 5, confirm_count: 1 },
  }),
  CreateProgramInput: () => ({
    ...{ name: `P ${n++}`, purpose: 'marketing', promise: { count: 4, period: 'month' }, welcome: 'Hi' },
    ...{
      double_opt_in: false,
      hours: { days: [1, 2], from: '10:00', to: '18:00' },
      sender_numbers: ['+17195550110'],
    },
  }),
  ChangeProgramInput: async () => ({
    ...{
      stamp: await stampOf('program'),
      welcome: 'Hello',
      double_opt_in: false,
      archived: false,
      members: 'keep',
    },
    ...{ promise: { count: 4, period: 'month' }, hours: { days: [1], from: '10:00', to: '18:00' } },
  }),
  SenderNumberInput: () => ({
    ...{ number: `+1719555${String(120 + (n++ % 70)).padStart(4, '0')}`, kind: 'local' },
    ...{ registration: 'registered', parts_per_second: 1, daily_cap: 100, programs: [], carrier: 'house' },
  }),
  ChangeSenderInput: () => ({
    registration: 'registered',
    parts_per_second: 2,
    daily_cap: 10,
    carrier: 'house',
  }),
  CarrierInput: () => ({
    ...{ name: `Carrier ${n++}`, host: 'smpp.example.org', port: 2775, system_id: 'wren', password: 'x' },
    profile: { tls: true },
  }),
  ChangeCarrierInput: () => ({
    ...{ name: `Carrier ${n++}`, host: 'smpp.example.org', port: 2775, system_id: 'wren', password: 'x' },
    profile: {},
  }),
  WorkspaceInput: async () => ({
    stamp: await stampOf('workspace'),
    weekly_cap: 5,
    credits_per_part: 1,
    zone: 'America/Denver',
  }),
  ChangeTargetInput: () => ({ url: 'https://example.org/tickets' }),
  WordingInput: async () => ({
    stamp: await stampOf('workspace'),
    business_kind: 'events',
    hosts: ['example.org'],
    weights: { shouting: 'must' },
  }),
  CheckWordingInput: () => ({
    ...{ body: 'Saturn is up.', program: 'Clear Sky Alerts', channel: 'sms', at: '2026-12-01T10:00:00Z' },
    answers: false,
  }),
  CreditsInput: () => ({ credits: 10, reason: 'bought' }),
  RuleInput: () => ({
    ...{ where: 'CO', source: 'advice', limit: { count: 3, hours: 24 } },
    windows: [{ days: [1, 2], from: '09:00', to: '20:00' }],
  }),
  NewPosterInput: async () => ({ keyword: await idFor('/keywords/{id}'), document: POSTER }),
  ChangePosterInput: async () => ({ stamp: await stampOf('poster'), document: POSTER }),
  PersonalLinkInput: () => ({ fields: ['name'], days: 14 }),
  NewFormInput: () => ({ name: `Form ${n++}`, program: 'Clear Sky Alerts', document: FORM }),
  ChangeFormInput: async () => ({
    ...{ stamp: await stampOf('form'), name: `Form ${n++}`, document: FORM, welcome: 'Hello', offer: null },
    ...{ labels: [], sequences: [], closed: false, source: null },
  }),
  ConnectChatInput: () => ({
    url: 'https://chat.example.org/v1',
    account: `account-${n++}`,
    token: 'secret',
  }),
  ChatTemplateInput: () => ({ name: `template_${n++}`, category: 'utility', language: 'en' }),
  NewLanguageInput: () => ({ language: `en-v${n++}` }),
  ChatWordingInput: async () => ({
    ...{
      stamp: await stampOf('chat_wording'),
      header: 'Saturn',
      body: 'Hi there, Saturn is up.',
      footer: '',
    },
    ...{ buttons: [{ kind: 'reply', words: 'Yes' }], samples: { first_name: 'Ada' } },
  }),
  ConnectProviderInput: () => ({
    ...{ url: letting.url, account: 'juniper', token: 'bench' },
  }),
  SearchNumbersInput: () => ({
    ...{ kind: 'local', area: '719', town: 'Juniper', digits: '55', pictures: true, calls: true },
  }),
  PricesInput: () => ({
    ...{ part: 1, picture: 3 },
    rules: [{ what: 'text', kind: 'local', country: 'CA', carrier: 'house', credits: 2 }],
  }),
  DayLimitInput: () => ({ program: 'Clear Sky Alerts', credits: 1_000 }),
  BuyInput: () => ({ pack: 'small' }),
  RestInput: () => ({ days: 7, why: 'to see' }),
  PortInInput: () => ({
    ...{ number: '+17195550177', programs: ['Clear Sky Alerts'], holder: 'Juniper Gap', account: '77-1' },
    ...{ pin: '1234', postal_code: '81201' },
  }),
  OrderNumberInput: () => ({ number: '+17195550155', programs: ['Clear Sky Alerts'] }),
  ConnectRegistrarInput: () => ({
    ...{ url: 'https://registrar.example.org/v1', account: `account-${n++}`, token: 'secret' },
  }),
  BrandInput: async () => ({
    ...{ ...TOLD_BRAND, stamp: await keptStamp('registration_brand'), our_pages: false, country: 'US' },
    ...{ privacy_url: 'https://x.test/p', privacy_text: 'x', terms_url: 'https://x.test/t', terms_text: 'x' },
  }),
  ProgramFileInput: async () => ({
    ...{ ...TOLD_PROGRAM, stamp: await keptStamp('registration_program'), per_month: 9 },
    ...{ links: true, calls: false, adults: false },
  }),
  AnswerQuestionInput: () => ({ answer: 'It stands on the poster.' }),
  ConnectVoicemailInput: () => ({
    ...{ url: 'https://voicemail.example.org/v1', account: `account-${n++}`, token: 'secret' },
  }),
  NewVoiceMessageInput: () => ({ name: `Voice ${n++}`, words: SAID, wave: spokenWave(3).toString('base64') }),
  NewRecordingInput: () => ({ words: SAID, wave: spokenWave(3).toString('base64') }),
  PhonesInput: () => ({ call_seconds: 240, may_be_busy: 0.05 }),
  ConnectSwitchboardInput: () => ({ name: `Board ${n++}`, numbers_url: listed.url, token: 'secret' }),
  CallMappingInput: () => ({ mapping: { id: '/call/id', from: '/from', to: '/to' } }),
  BringNumbersInput: () => ({ numbers: ['+17195550188'] }),
  CallOutcomeInput: () => ({
    ...{ name: `Outcome ${n++}`, calls: ['no answer'], missed: false, reached: false },
    ...{ program: 'Clear Sky Alerts', body: 'We just tried to call you.' },
  }),
  NewCallInput: async () => ({
    ...{ person: await personWithNumber(), direction: 'out', outcome: await anOutcome() },
    ...{ note: 'wants March', seconds: 60 },
  }),
  ChangeCallInput: async () => ({ outcome: await anOutcome(), note: 'wants April' }),
  NewSourceInput: () => ({ name: `Source ${n++}`, program: 'Clear Sky Alerts' }),
  ChangeSourceInput: async () => ({
    ...{ stamp: await stampOf('source'), name: `Source ${n++}`, program: 'Clear Sky Alerts', closed: false },
    ...{
      signs: 'header',
      sign_header: 'x-signature',
      letters_from: ['portal.example.org'],
      wording: 'I agree',
      cost_cents: 100,
      labels: [],
      begins: [],
    },
    mapping: { rules: [{ to: 'number', from: ['/phone'] }], kinds: [], otherKind: 'inquiry' },
    assignment: { by: 'turn', among: [] },
  }),
  NewKeyInput: () => ({ of: 'secret', hours: 1 }),
  PlayAgainInput: () => ({ arrivals: ['arr_1'] }),
  InquiryInput: () => ({ id: `d${n++}`, content: { phone: '303 555 0101', name: 'Ana' } }),
  PublishFormInput: async () => ({ stamp: await stampOf('form') }),
  CreateKeywordInput: () => ({ program: 'Clear Sky Alerts', word: `WORD${n++}` }),
  CreateBroadcastInput: () => ({
    program: 'Clear Sky Alerts',
    name: 'B',
    body: 'Clear.',
    audience: '{"all":[]}',
    hours: { days: [1, 2, 3], from: '10:00', to: '18:00' },
    pace: { people: 20, per: 'hour' },
    sender_numbers: ['+17195550110'],
    repeat: 'FREQ=WEEKLY',
    comparison: { others: [{ body: 'Come.' }], by: 'replies', first: 20, by_itself: true },
  }),
  AnswerInput: async () => {
    // Whoever was made last has just written.
    await world.within((scope) =>
      scope.run(
        `insert into inbound_text (id, workspace_id, person_id, channel, sender_id, from_number, body, meaning, rule, evidence, at)
         select :id, :workspace, p.id, 'sms', s.id, coalesce(p.number, '+17205550178'), 'Is it open?', 'reply', 'none', '', :at from (select * from person where workspace_id = :workspace order by id desc limit 1) p,
                (select id from sender_number where workspace_id = :workspace order by id limit 1) s`,
        { id: `inb_${n++}`, at: new Date(world.clock.at) },
      ),
    );
    await world.within((scope) =>
      scope.run(
        `update person set number = coalesce(number, '+17205550178'), stopped_at = null, last_wrote_at = :at where id = (select max(id) from person where workspace_id = :workspace)`,
        { at: new Date(world.clock.at) },
      ),
    );
    return { body: 'Yes.', prepared: 'tpl_none' };
  },
  ThreadInput: () => ({ verb: 'take-up' }),
  NoteInput: () => ({ note: 'Call before noon.' }),
  RepliesInput: () => ({ minutes: 60, by: 'turn', among: [] }),
  SplitInput: async () => {
    await world.within((scope) =>
      scope.run(
        `update broadcast set state = 'sending', timing = jsonb_set(timing, '{pace}', '{"hands": true}') where id = (select max(id) from broadcast where workspace_id = :workspace)`,
      ),
    );
    return { how: 'evenly', holders: [{ guest: `Iris ${n++}`, hours: 2, sees_numbers: false, count: 1 }] };
  },
  StackInput: () => ({ verb: 'link' }),
  PressInput: () => ({ messages: ['txt_none'] }),
  SkipInput: async () => ({ message: await pressedByHand(), why: 'calls instead' }),
  ChangePaceInput: () => goingOut({ pace: { people: 20, per: 'minute' } }),
  LeaveOutInput: () => goingOut({ condition: '{"all":[]}' }),
  ChooseWordingInput: () => goingOut({ wording: 0 }),
  LimitsInput: async () => ({ stamp: await stampOf('workspace'), opt_outs: 3, spam: null, failures: 12.5 }),
  TemplateInput: () => ({ name: `T${n++}`, folder: 'News', body: 'Clear.', own: false }),
  ItemInput: () => ({
    number: `E${n++}`,
    kind: 'event',
    name: 'Ring night',
    starts_at: '2026-12-05T02:30:00Z',
    price: '12 USD',
  }),
  ImportItemsInput: () => ({ content: 'name,starts\nRing night,2026-12-04 19:30' }),
  KeepFileInput: () => ({ name: 'dome.vcf', content: btoa('BEGIN:VCARD\nFN:A\nEND:VCARD\n'), alt: 'A dome' }),
  DescribeFileInput: () => ({ alt: 'A dome' }),
  ChangeTemplateInput: async () => ({
    version: await templateVersion(),
    name: 'T',
    folder: 'F',
    body: 'Clear again.',
  }),
  ImportTemplatesInput: () => ({
    document: JSON.stringify({ format: 'steady-wren/templates/1', templates: [{ name: 'N', body: 'Hi.' }] }),
  }),
  CopyBroadcastInput: () => ({ whom: 'not-got' }),
  ShareResultInput: () => goingOut({ days: 14 }),
  RescheduleInput: async () => {
    await goingOut({});
    await world.rows(`update broadcast set state = 'scheduled' where workspace_id = :workspace returning id`);
    return { at: '2026-11-26T19:30:00Z' };
  },
  SendBroadcastInput: () => ({ at: '2026-11-24T19:30:00Z', grace_seconds: 10 }),
  TextBodyInput: () => ({ body: 'Clear.' }),
  WebhookInput: () => ({ url: 'https://example.org/hooks', note: 'mail house', kinds: ['reply.received'] }),
  ClearanceCheckInput: () => ({
    ...{ number: '+13035550123', program: 'Clear Sky Alerts', body: 'Hi', at: '2026-11-24T20:00:00Z' },
    address: { region: 'CO', postal_code: '81201' },
  }),
};
let n = 0;

/** A good body for a broadcast that goes out, with a wording still to be chosen. */
async function goingOut(body: object): Promise<object> {
  await world.rows(
    `update broadcast set state = 'sending', chosen = null, begun_at = now() where workspace_id = :workspace returning id`,
  );
  return body;
}
let label = '';
let person = '';
let teammate = '';
const nextNumber = () => `+1${505 + (n % 90)}555${String(100 + (n++ % 99)).padStart(4, '0')}`;

/** A press by which a voucher was used just now. */
let fresh: string | null = null;
/** A program that nobody is in; made once, since what is made anew counts as left behind. */
async function freshProgram(): Promise<string> {
  if (fresh !== null) return fresh;
  const made = await send('POST', '/programs', JSON.stringify(await GOOD.CreateProgramInput!()));
  return (fresh = (JSON.parse(made.text) as { id: string }).id);
}

async function usedJustNow(): Promise<string> {
  const press = `press ${n++}`;
  const at = new Date(world.clock.at);
  await world.within(async (scope) => {
    await scope.run(
      `insert into offer (id, workspace_id, name, words, created_at) values (:press, :workspace, :press, 'x', :at)`,
      { press, at },
    );
    await scope.run(
      `insert into voucher (id, workspace_id, offer_id, person_id, code, made_at, uses_left) select :press, :workspace, :press, id, :press, :at, 0 from person where workspace_id = :workspace limit 1`,
      { press, at },
    );
    await scope.run(
      `insert into redemption (id, workspace_id, voucher_id, at) values (:press, :workspace, :press, :at)`,
      { press, at },
    );
  });
  return press;
}

/** The version of the template that would be changed next. */
const templateVersion = async (): Promise<number> =>
  (
    await world.rows<{ version: number }>(
      `select version from template where workspace_id = :workspace order by id desc limit 1`,
    )
  )[0]!.version;

/** Somebody who can be called. */
const personWithNumber = async (): Promise<string> =>
  (
    await world.within((scope) =>
      scope.rows<{ id: string }>(
        `select id from person where workspace_id = :workspace and number is not null and merged_into is null and erased_at is null limit 1`,
      ),
    )
  )[0]!.id;

/** What a call can come to. */
async function anOutcome(): Promise<string> {
  const id = `out_${n++}`;
  await world.within((scope) =>
    scope.run(
      `insert into call_outcome (id, workspace_id, name, rank, created_at) values (:id, :workspace, :id, 1, now())`,
      { id },
    ),
  );
  return id;
}

/** A provider of numbers. */
const letting = { url: '', server: null as Server | null };
beforeAll(async () => {
  const stock = new SimulatedStock(null);
  const server = createServer((request, response) => {
    const { pathname, searchParams } = new URL(request.url!, 'http://bench');
    void stock.take(request, response, pathname, searchParams);
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  letting.url = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  letting.server = server;
  process.env.WREN_PROVIDER_HOSTS = '127.0.0.1';
});
afterAll(() => {
  letting.server?.close();
  delete process.env.WREN_PROVIDER_HOSTS;
});

/** A telephone system that lists a number. */
const listed = { url: '', server: null as Server | null };
beforeAll(async () => {
  const numbers = JSON.stringify({ numbers: [{ number: '+17195550188', sms: true }] });
  const server = createServer(
    (_, response) => void response.writeHead(200, { 'content-type': 'application/json' }).end(numbers),
  );
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  listed.url = `http://127.0.0.1:${(server.address() as AddressInfo).port}/numbers`;
  listed.server = server;
  process.env.WREN_CALL_HOSTS = '127.0.0.1';
});
afterAll(() => {
  listed.server?.close();
  delete process.env.WREN_CALL_HOSTS;
});

/** The stamp of what is kept once; 0 before it is. */
const keptStamp = async (table: 'registration_brand' | 'registration_program'): Promise<number> =>
  (
    await world.within((scope) =>
      scope.rows<{ stamp: number }>(
        `select coalesce(max(stamp), 0)::int as stamp from ${table} where workspace_id = :workspace`,
      ),
    )
  )[0]!.stamp;

/** The stamp of what would be changed next. */
const stampOf = async (
  table: 'program' | 'workspace' | 'keyword' | 'offer' | 'form' | 'source' | 'poster' | 'chat_wording',
): Promise<number> =>
  (
    await world.within((scope) =>
      scope.rows<{ stamp: number }>(
        `select stamp from ${table} where ${table === 'workspace' ? 'id' : 'workspace_id'} = :workspace order by id desc limit 1`,
      ),
    )
  )[0]!.stamp;

interface Schema {
  $ref?: string;
  properties?: Record<string, Schema>;
  items?: Schema;
  anyOf?: Schema[];
}
interface Operation {
  method: string;
  path: string;
  input: string | null;
}
type Document = {
  paths: Record<string, Record<string, { requestBody?: { content: Record<string, { schema: Schema }> } }>>;
  components: { schemas: Record<string, Schema> };
};

const named = (schema: Schema | undefined) => schema?.$ref?.split('/').at(-1) ?? null;

/** Every path to a field below a schema: `consent.program`, `people.0.number`. */
function fieldsOf(name: string, { components }: Document, before: string[] = []): string[][] {
  return Object.entries(components.schemas[name]?.properties ?? {}).flatMap(([field, schema]) => {
    const here = [...before, field];
    // What may be left out is that or null.
    const { items, ...own } = schema.anyOf?.[0] ?? schema;
    const inner = named(own) ?? named(items);
    return [
      here,
      ...(inner ? fieldsOf(inner, { components, paths: {} }, [...here, ...(items ? ['0'] : [])]) : []),
    ];
  });
}

/** The body as JSON text with a hostile value at a path. */
function spoiled(body: object, path: readonly string[], value: string): string {
  const MARK = '@@hostile@@';
  const copy = structuredClone(body) as Record<string, unknown>;
  let at: Record<string, unknown> = copy;
  for (const step of path.slice(0, -1)) at = (at[step] ??= {}) as Record<string, unknown>;
  at[path.at(-1)!] = MARK;
  return JSON.stringify(copy).replace(`"${MARK}"`, () => value);
}

async function document(): Promise<{ doc: Document; operations: Operation[] }> {
  const doc = JSON.parse((await send('GET', '/openapi.json')).text) as Document;
  const operations = Object.entries(doc.paths).flatMap(([path, item]) =>
    Object.entries(item).map(([method, { requestBody }]) => ({
      ...{ method: method.toUpperCase(), path },
      input: named(requestBody?.content['application/json']?.schema),
    })),
  );
  return { doc, operations };
}

/** Reads bodies as a client does that knows nothing but the document: what it finds wrong, or null. */
function describedBy(doc: Document) {
  const ajv = new Ajv2020({ strict: false, validateFormats: false, allErrors: true });
  ajv.addSchema(doc, 'openapi');
  return (name: string, body: object): unknown => {
    // As it goes over the wire.
    const sent: unknown = JSON.parse(JSON.stringify(body));
    const check = ajv.getSchema(`openapi#/components/schemas/${name}`)!;
    return check(sent) ? null : check.errors;
  };
}

const COUNTED = [
  ...['person', 'program', 'broadcast', 'batch', 'segment', 'webhook_endpoint', 'keyword', 'sequence'],
  ...['enrolment', 'task', 'consent_event', 'audit_entry'],
];

/** How much there is of what a request could leave. Asked after each of twenty thousand requests: planned once. */
async function counts(): Promise<string> {
  const columns = COUNTED.map(
    (table) => `(select count(*) from ${table} where workspace_id = $1) as ${table}`,
  );
  const { rows } = await counter.query({
    name: 'counts',
    text: `select ${columns.join(', ')}`,
    values: [world.workspaceId],
  });
  return JSON.stringify(rows);
}

/** A message that waits in the stack that was made last. */
async function pressedByHand(): Promise<string> {
  const [row] = await world.within((scope) =>
    scope.rows<{ id: string }>(
      `update message set state = 'queued', settled_at = null, not_before = 'infinity', turn_at = now() where id = (select max(id) from message where workspace_id = :workspace) returning id`,
    ),
  );
  await world.within((scope) =>
    scope.run(
      `insert into stack_row (message_id, workspace_id, send_id, stack_id, rank) select :id, :workspace, s.send_id, s.id, 1 from stack s where s.id = (select max(id) from stack where workspace_id = :workspace)
       on conflict (message_id) do update set skipped_at = null, pressed_at = null`,
      { id: row!.id },
    ),
  );
  return row!.id;
}

/** An id that is there, for a path that wants one. */
async function idFor(path: string): Promise<string> {
  if (!path.includes('{id}')) return '';
  const table = path.split('/')[1]!.replace('people', 'person').replace('-', '_').replace(/s$/, '');
  const of =
    ({ batche: 'batch', webhook: 'webhook_endpoint', file: 'media_file' } as Record<string, string>)[table] ??
    table;
  const [row] = await world.within((scope) =>
    scope.rows<{ id: string }>(
      `select id from ${of} where workspace_id = :workspace order by id desc limit 1`,
    ),
  );
  return row?.id ?? 'none';
}

describe('every endpoint', () => {
  it('takes its good body, so that the hostile ones reach further than its door', async () => {
    const { doc, operations } = await document();
    const described = describedBy(doc);
    const made = await world.within((scope) => findOrMakeLabel(world.ctx, scope, 'tag', 'Regular', 'test'));
    label = made.ok ? made.value.id : '';
    await world.texts('+17205550178', 'sky');
    person = await idFor('/people/{id}');
    await world.within((scope) =>
      scope.run(
        `insert into link_target (id, workspace_id, written, url, created_at) values ('tgt_1', :workspace, 'https://example.org', 'https://example.org', now())`,
      ),
    );
    await world.within((scope) =>
      scope.run(
        `with made as (insert into registration (id, workspace_id, about, subject, state, created_at) values ('reg_1', :workspace, 'brand', '', 'question', now()) returning id)
         insert into registration_question (id, workspace_id, registration_id, key, field, words, asked_at) select 'rgq_1', :workspace, id, 'q', 'about', 'Why?', now() from made`,
      ),
    );
    for (const { method, path, input } of operations.filter((one) => one.input !== null)) {
      expect(GOOD, `a good ${input}`).toHaveProperty(input!);
      const body = await GOOD[input!]!();
      // What is taken is what the document says is.
      expect({ path, problems: described(input!, body) }).toEqual({ path, problems: null });
      const answer = await send(method, path.replace('{id}', await idFor(path)), JSON.stringify(body));
      expect(`${path} ${answer.status} ${answer.text.slice(0, 200)}`).toMatch(/ 20[01] /);
    }
  });

  it('answers hostile values in every field with no fault, and leaves nothing half done', async () => {
    const { doc, operations } = await document();
    const faults: string[] = [];
    let [asked, fields] = [0, 0];
    let before = await counts();
    for (const { method, path, input } of operations.filter((one) => one.input !== null)) {
      const id = await idFor(path);
      // Good until it is taken: what is refused has used nothing up.
      let good: object | null = null;
      for (const field of fieldsOf(input!, doc))
        for (const value of hostileFor(fields++)) {
          good ??= await GOOD[input!]!();
          const { status, text } = await send(method, path.replace('{id}', id), spoiled(good, field, value));
          const what = `${method} ${path} ${field.join('.')} = ${value.slice(0, 60)}: ${status}`;
          if (status >= 500) faults.push(what);
          if (status >= 400 && !/"detail":"[^"]{10,}/.test(text)) faults.push(`${what}, without a sentence`);
          const now = await counts();
          if (status >= 400 && now !== before) faults.push(`${what}, and left something`);
          if (status < 400) good = null;
          before = now;
          asked++;
        }
    }
    expect(faults).toEqual([]);
    expect(asked).toBeGreaterThan(1_500);
  }, 1_800_000);

  it.each(HOSTILE)('answers %.40s as the whole body', async (value) => {
    const { operations } = await document();
    for (const { method, path } of operations.filter((one) => one.method !== 'GET')) {
      const answer = await send(method, path.replace('{id}', 'none'), value);
      expect(`${path} ${answer.status}`).toMatch(/ [24]\d\d$/);
    }
  });

  it.each(['%00', '%ED%A0%80', '%ud83d', '..%2f..', '%F0%9F%90%9E', "'", 'x'.repeat(5_000), '%'])(
    'answers an id of %.20s',
    async (id) => {
      const { operations } = await document();
      for (const { method, path } of operations.filter((one) => one.path.includes('{id}'))) {
        const answer = await send(method, path.replace('{id}', id), method === 'POST' ? '{}' : undefined);
        expect(`${path} ${answer.status}`).toMatch(/ 4\d\d$/);
      }
    },
  );

  it.each(['limit=1e9', 'limit=-1', 'limit=%00', 'after=%00', 'after=%ED%A0%80', `after=${'x'.repeat(500)}`])(
    'answers a page of %s',
    async (query) => {
      for (const path of ['/people', '/broadcasts'])
        expect((await send('GET', `${path}?${query}`)).status).toBeLessThan(500);
    },
  );
});

describe('the same at once', () => {
  it('is added once and refused the other times', async () => {
    for (const [path, body] of [
      ['/people', { number: '+13035550177' }],
      ['/keywords', { program: 'Clear Sky Alerts', word: 'COMET' }],
      ['/programs', { name: 'Comets', purpose: 'utility' }],
      ['/segments', { name: 'Twins', condition: '{"all":[]}' }],
    ] as const) {
      const answers = await Promise.all(
        Array.from({ length: 20 }, () => send('POST', path, JSON.stringify(body))),
      );
      const statuses = answers.map(({ status }) => status).sort();
      expect({ path, statuses }).toEqual({
        path,
        statuses: [201, ...Array<number>(19).fill(path === '/people' ? statuses[19]! : 409)],
      });
      expect([409, 422]).toContain(statuses[19]);
    }
  });

  it('counts once with an Idempotency-Key, and every time gives the same answer', async () => {
    const body = JSON.stringify({ program: 'Clear Sky Alerts', name: 'Once', body: 'Clear.' });
    const answers = await Promise.all(
      Array.from({ length: 20 }, () => send('POST', '/broadcasts', body, { 'idempotency-key': 'k1' })),
    );
    const read = answers.map(({ status, text }) => ({ status, ...(JSON.parse(text) as { id: string }) }));
    for (const one of read) expect(one).toEqual({ ...read[0], status: 201 });
    const another = await send('POST', '/broadcasts', body, { 'idempotency-key': 'k2' });
    expect((JSON.parse(another.text) as { id: string }).id).not.toBe(read[0]!.id);
  });
});

it('what was taken is answered as it is stored', async () => {
  const body = {
    number: '+13035550178',
    first_name: '  Zoë\u0007 \r\n🐞 ',
    last_name: 'O\u0301 Cle\u0301irigh',
  };
  const made = await send('POST', '/people', JSON.stringify(body));
  const { id, first_name, last_name } = JSON.parse(made.text) as Record<string, string>;
  const read = JSON.parse((await send('GET', `/people/${id}`)).text) as Record<string, string>;
  expect({ first_name: read.first_name, last_name: read.last_name }).toEqual({ first_name, last_name });
});

it('nothing that was taken disturbs a loop of the worker', async () => {
  for (let i = 0; i < 40; i++) {
    world.clock.at += 60_000;
    await beginDueBroadcasts(world.ctx);
    await prepareDueBroadcasts(world.ctx);
    await claimDueTexts(world.ctx, 1, 500);
    await finishBroadcasts(world.ctx);
    await runBatchSlice(world.ctx);
    await advanceImports(world.ctx, noLookup);
  }
  expect(await world.within((scope) => readTroubles(scope))).toEqual([]);
});
